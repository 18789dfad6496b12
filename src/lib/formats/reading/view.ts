import { ascii, concat, joinedSource, u24, type ByteRange, type ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { BLOCK, LAST_FLAG, MARK, type FlacStructure } from '../flac';
import { hasOddities, normalId3, type Id3Tag } from '../id3';
import { findBox, makeBox, parseBoxes, wholeBox, type Mp4Structure } from '../mp4';
import type { OggCodec } from '../ogg';

/*
 * What the parsing package gets to see of a file: the parts that hold tags, in their plainest form. It walks through
 * all else without end or use, and some of what standards allow it does not know.
 */

/** Streaminfo, comments and pictures, nothing else. */
export function flacView(source: ByteSource, { start, blocks }: FlacStructure): ByteSource {
  const shown = blocks.filter(({ type }) =>
    [BLOCK.streamInfo, BLOCK.vorbisComment, BLOCK.picture].includes(type as 0 | 4 | 6),
  );
  const parts: (Uint8Array | ByteRange)[] = [ascii(MARK)];
  shown.forEach((block, index) => {
    const last = index === shown.length - 1 ? LAST_FLAG : 0;
    parts.push(concat([Uint8Array.of(block.type | last), u24(block.end - block.start)]), block);
  });
  const hasComments = shown.some(({ type }) => type === BLOCK.vorbisComment);
  // A foreign tag in front counts only where the file has none of its own.
  return joinedSource(source, hasComments ? parts : [{ start: 0, end: start }, ...parts]);
}

/** The file's type and those parts of `moov` that describe it; sample tables and samples are left out. */
export function mp4View(source: ByteSource, structure: Mp4Structure): ByteSource {
  const { top, moovBytes: bytes } = structure;
  const type = findBox(top, 'ftyp');
  const moov = wholeBox(structure);
  const children = parseBoxes(bytes, moov.content, moov.end);
  const shown = children.flatMap((box) => {
    if (box.type === 'mvhd' || box.type === 'meta') return [bytes.subarray(box.start, box.end)];
    if (box.type !== 'udta') return [];
    // Closing zeros are no box.
    const inside = parseBoxes(bytes, box.content, box.end).map((inner) =>
      bytes.subarray(inner.start, inner.end),
    );
    return [makeBox('udta', ...inside)];
  });
  return joinedSource(source, [...(type ? [type] : []), makeBox('moov', ...shown)]);
}

/** The sound behind its leading tag in its plainest form; further tags and remains before the sound are passed over. */
export function mp3View(source: ByteSource, tag: Id3Tag | null, soundStart: number): ByteSource {
  if (tag === null)
    return soundStart === 0 ? source : joinedSource(source, [{ start: soundStart, end: source.size }]);
  if (!hasOddities(tag) && soundStart === tag.size) return source;
  return joinedSource(source, [normalId3(tag), { start: soundStart, end: source.size }]);
}

export const isOgg = (format: FormatId): format is OggCodec =>
  format === 'opus' || format === 'vorbis' || format === 'oggFlac';
