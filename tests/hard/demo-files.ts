import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isMediaName } from '../../src/lib/formats/reading';
import { DEMO, demoPaths } from '../helpers/demo';

/** A file of the demo in memory. */
export interface DemoFile {
  readonly path: string;
  readonly bytes: Uint8Array;
}

/** The smallest whole file of each extension in the demo, and a second one where there is any. */
export async function smallFiles(perExtension = 2): Promise<readonly DemoFile[]> {
  const byExtension = new Map<string, DemoFile[]>();
  for (const path of (await demoPaths()).filter(isMediaName)) {
    if (/half|05 The Unlit|empty/.test(path)) continue;
    const bytes = new Uint8Array(await readFile(join(DEMO, path)));
    const extension = path.slice(path.lastIndexOf('.') + 1);
    const known = byExtension.get(extension) ?? [];
    byExtension.set(extension, [...known, { path, bytes }]);
  }
  return [...byExtension.values()].flatMap((files) =>
    files.sort((a, b) => a.bytes.length - b.bytes.length).slice(0, perExtension),
  );
}
