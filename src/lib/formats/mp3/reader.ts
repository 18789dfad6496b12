import { readAscii, type ByteSource } from '$lib/core/bytes';
import { FormatError } from '../format';
import { readApe, type ApeTag } from './ape';
import { SYNC_SEARCH_BYTES, isFrameHeader } from './frames';
import { ID3V1_BYTES, isId3v1, readId3, type Id3Tag } from '../id3';

export interface Mp3Structure {
  readonly tag: Id3Tag | null;
  /** First byte after the leading tag. */
  readonly audioStart: number;
  /** End of the sound, with any Lyrics3 tag behind it, which is kept as it is. */
  readonly audioEnd: number;
  /** The APE tag behind the sound, or null. */
  readonly ape: ApeTag | null;
  /** The 128 bytes of ID3v1, or null. */
  readonly id3v1: Uint8Array | null;
}

/** Older tags behind the sound, whatever lies before them, and where they begin. */
export async function readTail(
  source: ByteSource,
): Promise<Pick<Mp3Structure, 'ape' | 'id3v1'> & { readonly start: number }> {
  const last = await source.read(Math.max(0, source.size - ID3V1_BYTES), source.size);
  const id3v1 = isId3v1(last) ? last : null;
  const end = source.size - (id3v1 ? ID3V1_BYTES : 0);
  const ape = await readApe(source, end);
  return { ape, id3v1, start: ape?.start ?? end };
}

/**
 * Where tags and sound lie in an MP3 file (ISO/IEC 11172-3 for the frame header).
 * @throws {FormatError} when no frame of sound follows the tag
 */
export async function readMp3(source: ByteSource): Promise<Mp3Structure> {
  // Both ends are asked for together: each answer takes its time, whatever its size.
  const [tag, tail] = await Promise.all([readId3(source), readTail(source)]);
  const audioStart = tag?.size ?? 0;
  const { id3v1 } = tail;
  const end = source.size - (id3v1 ? ID3V1_BYTES : 0);
  const audioEnd = tail.start > audioStart ? tail.start : end;
  if (!(await findsFrame(source, audioStart, audioEnd)))
    throw new FormatError('notThisFormat', 'no frame of sound behind the tag');
  return { tag, audioStart, audioEnd, ape: audioEnd < end ? tail.ape : null, id3v1 };
}

async function findsFrame(source: ByteSource, start: number, end: number): Promise<boolean> {
  for (const bytes of SYNC_SEARCH_BYTES) {
    const head = await source.read(start, Math.min(end, start + bytes));
    if (readAscii(head, 0, 4) === 'fLaC') throw new FormatError('notThisFormat', 'FLAC behind an ID3 tag');
    for (let at = 0; at + 3 < head.length; at++) if (isFrameHeader(head, at)) return true;
  }
  return false;
}
