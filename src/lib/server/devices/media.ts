import { open } from 'node:fs/promises';
import { parseBuffer, parseFile, type IAudioMetadata } from 'music-metadata';
import { flacHeadOf } from './ogg-flac';

/** What the tags of a file say, each value as its container writes it. @throws Error for a file that cannot be read */
export async function readTags(full: string): Promise<IAudioMetadata> {
  const options = { duration: false, skipCovers: true };
  // The parser knows FLAC in Ogg, but none of its tags.
  const flac = await flacHeadOf(full);
  return flac ? parseBuffer(flac, { mimeType: 'audio/flac' }, options) : parseFile(full, options);
}

/**
 * What tags hold under one of these native names; null where they hold nothing. Up to ID3v2.3 a slash may part values
 * or belong to a name: the text is taken as it stands.
 */
export function nativeValue({ native }: IAudioMetadata, ...names: readonly string[]): string | null {
  for (const [sort, tags] of Object.entries(native)) {
    const found = tags.filter(({ id }) => names.includes(id)).map(({ value }) => String(value));
    const value = /^ID3v2\.[23]$/.test(sort) ? found.join('/') : (found[0] ?? '');
    if (value.trim() !== '') return value;
  }
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
