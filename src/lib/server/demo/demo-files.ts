import { createReadStream } from 'node:fs';
import { readdir, stat } from 'node:fs/promises';
import { join, relative, resolve, sep } from 'node:path';
import { Readable } from 'node:stream';

/** The files of the demo household, as they lie in the project's `demo/` folder. */

export interface DemoFile {
  readonly path: string;
  readonly size: number;
}

const root = () => resolve(process.env.LECTORUM_DEMO ?? 'demo');
/** The demo's files were last changed then, so that a second take-in finds nothing new. */
export const DEMO_MODIFIED = Date.UTC(2026, 9, 1);

export async function listDemo(): Promise<DemoFile[]> {
  const found: DemoFile[] = [];
  const walk = async (folder: string): Promise<void> => {
    for (const entry of await readdir(folder, { withFileTypes: true })) {
      const full = join(folder, entry.name);
      if (entry.isDirectory()) await walk(full);
      else found.push({ path: relative(root(), full).split(sep).join('/'), size: (await stat(full)).size });
    }
  };
  await walk(root());
  return found.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** One file as a stream, or null when the demo has none of that path. */
export async function openDemo(path: string): Promise<{ size: number; body: ReadableStream<Uint8Array> } | null> {
  const full = resolve(root(), ...path.split('/'));
  if (!full.startsWith(root() + sep)) return null;
  const facts = await stat(full).catch(() => null);
  if (!facts?.isFile()) return null;
  return { size: facts.size, body: Readable.toWeb(createReadStream(full)) as ReadableStream<Uint8Array> };
}
