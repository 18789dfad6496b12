import { concat, readU32le, u32le, UTF8 } from '$lib/core/bytes';
import type { PictureRole } from '$lib/core/items';
import { FormatError, limitParts, type NativeRead, type NewPicture, type TagChanges } from '../format';
import { addText, readRows, tagChangesFor } from '../tag-map';
import { chapterTexts, chaptersIn, isChapterName } from './chapters';
import { readLrc, writeLrc } from '../lrc';
import { PICTURE_COMMENT, isPictureName, pictureGoes, pictureText } from './pictures';
import { TIMED_COMMENT, VORBIS_MAP } from './tag-map';

/** A comment header (Vorbis I, section 5): raw entries, so that what is not changed stays byte for byte. */
export interface VorbisComment {
  readonly vendor: Uint8Array;
  readonly entries: readonly Uint8Array[];
}

/** For a file that has none: what wrote it is us. */
export const emptyComment = (): VorbisComment => ({
  vendor: new TextEncoder().encode('Lectorum'),
  entries: [],
});

/** @throws {FormatError} `damaged` when a length passes the end, `tooMuch` with more entries than real files have */
export function parseVorbisComment(bytes: Uint8Array): VorbisComment {
  let at = 0;
  const take = (): Uint8Array => {
    const length = readU32le(bytes, at);
    const end = at + 4 + length;
    if (at + 4 > bytes.length || end > bytes.length)
      throw new FormatError('damaged', 'a comment passes the end of its block');
    const piece = bytes.subarray(at + 4, end);
    at = end;
    return piece;
  };
  const vendor = take();
  const count = readU32le(bytes, at);
  at += 4;
  limitParts(count, 'comments');
  const entries: Uint8Array[] = [];
  for (let i = 0; i < count; i++) entries.push(take());
  return { vendor, entries };
}

export function vorbisCommentBytes({ vendor, entries }: VorbisComment): Uint8Array {
  const sized = (piece: Uint8Array) => [u32le(piece.length), piece];
  return concat([...sized(vendor), u32le(entries.length), ...entries.flatMap(sized)]);
}

/** Name of an entry in capitals; names are ASCII whatever the value holds. */
const nameOfEntry = (entry: Uint8Array) => {
  const end = entry.indexOf(0x3d);
  return UTF8.decode(entry.subarray(0, Math.max(0, end))).toUpperCase();
};
const valueOfEntry = (entry: Uint8Array) => UTF8.decode(entry.subarray(entry.indexOf(0x3d) + 1));

function textsOf({ entries }: VorbisComment): Map<string, string[]> {
  const texts = new Map<string, string[]>();
  for (const entry of entries) addText(texts, nameOfEntry(entry), valueOfEntry(entry));
  return texts;
}

/** What the comments hold, as it stands. @param map of the format that they are in */
export function readComment(comment: VorbisComment, map = VORBIS_MAP): NativeRead {
  const texts = textsOf(comment);
  return {
    fields: readRows(map.rows, texts),
    chapters: chaptersIn(texts),
    timed: readLrc(texts.get(TIMED_COMMENT)?.[0] ?? '') ?? [],
  };
}

/** The comments with these changes; a field's new entries stand where its first old one stood. */
export function changeVorbisComment(
  comment: VorbisComment,
  { fields, chapters, timed }: Pick<TagChanges, 'fields' | 'chapters' | 'timed'>,
  map = VORBIS_MAP,
): VorbisComment {
  let { entries } = comment;
  for (const { name, goes, texts } of tagChangesFor(map, { fields }, textsOf(comment)))
    entries = replace(
      entries,
      (old) => goes.includes(old),
      texts.map((text) => [name, text]),
    );
  if (chapters) entries = replace(entries, isChapterName, chapterTexts(chapters));
  if (timed) {
    const fresh = timed.length > 0 ? [[TIMED_COMMENT, writeLrc(timed)] as const] : [];
    entries = replace(entries, (old) => old === TIMED_COMMENT, fresh);
  }
  return { ...comment, entries };
}

/** The comments with these pictures, each in place of those of its role, which null removes; others stay. */
export function changeCommentPictures(
  comment: VorbisComment,
  pictures: ReadonlyMap<PictureRole, NewPicture | null>,
): VorbisComment {
  if (pictures.size === 0) return comment;
  const goes = pictureGoes(pictures, namedEntries(comment));
  const fresh = [...pictures].flatMap(([role, picture]) =>
    picture ? [[PICTURE_COMMENT, pictureText(role, picture)] as const] : [],
  );
  const first = comment.entries.findIndex((entry) => isPictureName(nameOfEntry(entry)));
  const isOut = comment.entries.map((entry) => {
    const name = nameOfEntry(entry);
    return isPictureName(name) && goes(name, valueOfEntry(entry));
  });
  const before = first < 0 ? comment.entries : comment.entries.slice(0, first);
  const rest = first < 0 ? [] : comment.entries.slice(first).filter((_, index) => !isOut[first + index]);
  return { ...comment, entries: [...before, ...fresh.map(entryOf), ...rest] };
}

/** Names and values of its entries, in their order. */
export const namedEntries = ({ entries }: VorbisComment): (readonly [name: string, value: string])[] =>
  entries.map((entry) => [nameOfEntry(entry), valueOfEntry(entry)] as const);

const entryOf = ([name, text]: readonly [string, string]): Uint8Array =>
  new TextEncoder().encode(`${name}=${text}`);

function replace(
  entries: readonly Uint8Array[],
  goes: (name: string) => boolean,
  fresh: readonly (readonly [string, string])[],
): readonly Uint8Array[] {
  const isOld = (entry: Uint8Array) => goes(nameOfEntry(entry));
  const at = entries.findIndex(isOld);
  const rest = entries.filter((entry) => !isOld(entry));
  const written = fresh.map(entryOf);
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), ...written, ...rest.slice(place)];
}
