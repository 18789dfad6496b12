import { open } from 'node:fs/promises';
import { parseFile, type IAudioMetadata } from 'music-metadata';

/** What the tags of a file say, each value as its container writes it. @throws Error for a file that cannot be read */
export async function readTags(full: string): Promise<IAudioMetadata> {
  return parseFile(full, { duration: false, skipCovers: true });
}

/** The first value that tags hold under one of these native names; null where they hold none. */
export function nativeValue({ native }: IAudioMetadata, ...names: readonly string[]): string | null {
  for (const tags of Object.values(native))
    for (const { id, value } of tags)
      if (names.includes(id) && String(value).trim() !== '') return String(value);
  return null;
}

export const numberIn = (text: string | null): number | null => (text === null ? null : Number(text) || null);

/** The first bytes of a file, fewer where it is shorter. */
export async function firstBytes(full: string, count: number): Promise<Buffer> {
  const file = await open(full);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

export async function isJpeg(full: string): Promise<boolean> {
  const [a, b, c] = await firstBytes(full, 3);
  return a === 0xff && b === 0xd8 && c === 0xff;
}
