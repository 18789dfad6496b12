import { UTF8, concat, readAscii, readU32, u32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { findPath, makeBox, parseBoxes, type Box } from './boxes';
import { MP4_MAP } from './tag-map';

/** Chapters that a list has room for: it counts them in one byte. */
export const MOST_LISTED = 255;

/** Units of a start in a list of chapters: 100 ns. */
const UNITS_PER_SECOND = 10_000_000;

/** Chapters without what has no place; that is told before. */
export function heldChapters(chapters: readonly Chapter[]): readonly Chapter[] {
  const { most = 0, titleBytes = 0 } = MP4_MAP.chapters ?? {};
  return chapters.slice(0, most).map((chapter) => ({ ...chapter, title: cut(chapter.title, titleBytes) }));
}

/** The letters of a text that have room in so many bytes of UTF-8. */
function cut(text: string, most: number): string {
  const bytes = new TextEncoder().encode(text);
  let end = Math.min(most, bytes.length);
  while (end < bytes.length && ((bytes[end] ?? 0) & 0xc0) === 0x80) end--;
  return UTF8.decode(bytes.subarray(0, end));
}

/**
 * A list of chapters (`moov/udta/chpl`, version 1): a count of one byte, then for each its start and its title behind a
 * byte of length. Those that it cannot count are left to the track of titles.
 */
export function chapterListBox(chapters: readonly Chapter[]): Uint8Array {
  const listed = chapters.slice(0, MOST_LISTED).map(({ startSeconds, title }) => {
    const text = new TextEncoder().encode(title);
    const units = BigInt(Math.round(startSeconds * UNITS_PER_SECOND));
    const start = new Uint8Array(8);
    new DataView(start.buffer).setBigUint64(0, units);
    return concat([start, Uint8Array.of(text.length), text]);
  });
  return makeBox('chpl', Uint8Array.of(1, 0, 0, 0), u32(0), Uint8Array.of(listed.length), ...listed);
}

/** Tracks that others refer to for their chapters (`tref/chap`), by their ids. */
export function chapterTrackIds(bytes: Uint8Array, trak: Box): readonly number[] {
  const refers = findPath(bytes, trak, 'tref', 'chap');
  const ids: number[] = [];
  if (refers) for (let at = refers.content; at + 4 <= refers.end; at += 4) ids.push(readU32(bytes, at));
  return ids;
}

/** Id of a track; 0 where it has no header. */
export function trackId(bytes: Uint8Array, trak: Box): number {
  const header = findPath(bytes, trak, 'tkhd');
  return header ? readU32(bytes, header.content + (bytes[header.content] === 1 ? 20 : 12)) : 0;
}

/** What a track holds, such as `soun` or `vide` (`hdlr`, ISO/IEC 14496-12, section 8.4.3); empty where it does not say. */
export function handlerOf(bytes: Uint8Array, trak: Box): string {
  const handler = findPath(bytes, trak, 'mdia', 'hdlr');
  return handler ? readAscii(bytes, handler.content + 8, 4) : '';
}

/**
 * `moov` without the tracks that hold the titles of its old chapters, and without what refers to them. Their samples stay
 * unused; tracks of pictures that go with chapters stay.
 */
export function withoutChapterTracks(moov: Uint8Array): Uint8Array {
  const boxes = parseBoxes(moov, 8);
  const tracks = boxes.filter(({ type }) => type === 'trak');
  const referred = new Set(tracks.flatMap((trak) => chapterTrackIds(moov, trak)));
  const isGone = (trak: Box) => referred.has(trackId(moov, trak)) && handlerOf(moov, trak) !== 'vide';
  const gone = new Set(tracks.filter(isGone).map((trak) => trackId(moov, trak)));
  if (gone.size === 0) return moov;
  const kept = boxes
    .filter((box) => box.type !== 'trak' || !gone.has(trackId(moov, box)))
    .map((box) =>
      box.type === 'trak' ? withoutReferences(moov, box, gone) : moov.subarray(box.start, box.end),
    );
  return makeBox('moov', ...kept);
}

function withoutReferences(moov: Uint8Array, trak: Box, gone: ReadonlySet<number>): Uint8Array {
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  const ids = chapterTrackIds(moov, trak);
  const left = ids.filter((id) => !gone.has(id));
  if (left.length === ids.length) return raw(trak);
  const children = parseBoxes(moov, trak.content, trak.end).flatMap((child) => {
    if (child.type !== 'tref') return [raw(child)];
    const others = parseBoxes(moov, child.content, child.end).filter(({ type }) => type !== 'chap');
    const chap = left.length > 0 ? [makeBox('chap', ...left.map((id) => u32(id)))] : [];
    const all = [...others.map(raw), ...chap];
    return all.length > 0 ? [makeBox('tref', ...all)] : [];
  });
  return makeBox('trak', ...children);
}
