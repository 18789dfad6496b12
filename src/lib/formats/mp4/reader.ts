import { readAscii, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES } from '../format';
import { checkBoxCount, findBox, parseBoxes, readTopBoxes, type Box } from './boxes';

export interface Mp4Structure {
  readonly top: readonly Box[];
  readonly moov: Box;
  /** The bytes of `moov`, header included; boxes inside count from its first byte. */
  readonly moovBytes: Uint8Array;
  readonly fragmented: boolean;
}

/**
 * The outermost boxes of an MP4 file and its `moov`.
 * @param evenCut takes what is there of a file that is cut short
 * @throws {FormatError} when there is none, or the file is cut short
 */
export async function readMp4(source: ByteSource, evenCut = false): Promise<Mp4Structure> {
  const top = await readTopBoxes(source, evenCut);
  const moov = findBox(top, 'moov');
  if (!moov) throw new FormatError(top.length > 0 ? 'damaged' : 'notThisFormat', 'no moov box');
  if (moov.end - moov.start > MOST_TAG_BYTES) throw new FormatError('tooMuch', 'a moov box of over 32 MiB');
  const moovBytes = await source.read(moov.start, moov.end);
  checkBoxCount(moovBytes, moov.content - moov.start, moovBytes.length);
  return { top, moov, moovBytes, fragmented: findBox(top, 'moof') !== null };
}

/** The box of `moov` in its own bytes. */
export function wholeBox({ moov }: Mp4Structure): Box {
  return { type: 'moov', start: 0, content: moov.content - moov.start, end: moov.end - moov.start };
}

/**
 * First child box of a `meta` box: 4 bytes later where it is a full box (ISO/IEC 14496-12, section
 * 8.11.1), at once in older movie files.
 */
export function metaContent(bytes: Uint8Array, meta: Box): number {
  return readAscii(bytes, meta.content + 4, 4) === 'hdlr' ? meta.content : meta.content + 4;
}

/** Boxes inside `meta`. */
export function metaBoxes(bytes: Uint8Array, meta: Box): Box[] {
  return parseBoxes(bytes, metaContent(bytes, meta), meta.end);
}
