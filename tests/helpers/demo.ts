import { open, readdir, readFile, stat } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { memorySource, type ByteSource } from '../../src/lib/core/bytes';

export const DEMO = join(import.meta.dirname, '../../demo');

/** Paths of all demo files, relative to the demo's root. */
export async function demoPaths(): Promise<string[]> {
  const entries = await readdir(DEMO, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile())
    .map((entry) => relative(DEMO, join(entry.parentPath, entry.name)))
    .sort();
}

/** A demo file as a source that reads from disk by ranges. */
export async function demoSource(path: string): Promise<ByteSource & { close(): Promise<void> }> {
  const handle = await open(join(DEMO, path));
  const { size } = await stat(join(DEMO, path));
  return {
    size,
    read: async (start, end) => {
      const length = Math.max(0, Math.min(end, size) - start);
      const { buffer, bytesRead } = await handle.read(new Uint8Array(length), 0, length, start);
      return buffer.subarray(0, bytesRead);
    },
    close: () => handle.close(),
  };
}

/** A whole demo file in memory. */
export async function demoMemory(path: string): Promise<ByteSource> {
  return memorySource(new Uint8Array(await readFile(join(DEMO, path))));
}
