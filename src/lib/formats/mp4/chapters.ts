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
  return refers ? idsIn(bytes, refers) : [];
}

function idsIn(bytes: Uint8Array, { content, end }: Box): readonly number[] {
  const ids: number[] = [];
  for (let at = content; at + 4 <= end; at += 4) ids.push(readU32(bytes, at));
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

/** Tracks that others refer to for their chapters. */
export function referredTracks(bytes: Uint8Array, moov: Box): readonly Box[] {
  const tracks = parseBoxes(bytes, moov.content, moov.end).filter(({ type }) => type === 'trak');
  const referred = new Set(tracks.flatMap((trak) => chapterTrackIds(bytes, trak)));
  return referred.size === 0 ? [] : tracks.filter((trak) => referred.has(trackId(bytes, trak)));
}

/** Sample entries whose samples are whole pictures. */
const STILLS: readonly string[] = ['jpeg', 'png '];

/** Whether a track shows still pictures, one behind the other. */
export function isStillTrack(bytes: Uint8Array, trak: Box): boolean {
  if (handlerOf(bytes, trak) !== 'vide') return false;
  const description = findPath(bytes, trak, 'mdia', 'minf', 'stbl', 'stsd');
  const entries = description ? parseBoxes(bytes, description.content + 8, description.end) : [];
  return entries.length > 0 && entries.every(({ type }) => STILLS.includes(type));
}

/**
 * Tracks that tell chapters: their titles, and still pictures that go with them. A film in such a track is more than that,
 * and stays.
 */
export const chapterTracks = (bytes: Uint8Array, moov: Box): readonly Box[] =>
  referredTracks(bytes, moov).filter(
    (trak) => handlerOf(bytes, trak) !== 'vide' || isStillTrack(bytes, trak),
  );

/** `moov` without the tracks that tell its old chapters, and without what refers to them. */
export function withoutChapterTracks(moov: Uint8Array): Uint8Array {
  const boxes = parseBoxes(moov, 8);
  const whole: Box = { type: 'moov', start: 0, content: 8, end: moov.length };
  const gone = new Set(chapterTracks(moov, whole).map((trak) => trackId(moov, trak)));
  if (gone.size === 0) return moov;
  const kept = boxes
    .filter((box) => box.type !== 'trak' || !gone.has(trackId(moov, box)))
    .map((box) =>
      box.type === 'trak' ? withoutReferences(moov, box, gone) : moov.subarray(box.start, box.end),
    );
  return makeBox('moov', ...kept);
}

/** A track without references to others that are gone (section 8.3.3); as it is where it has none. */
export function withoutReferences(moov: Uint8Array, trak: Box, gone: ReadonlySet<number>): Uint8Array {
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  const tref = findPath(moov, trak, 'tref');
  let isOther = false;
  const refers = (tref ? parseBoxes(moov, tref.content, tref.end) : []).flatMap((box) => {
    const ids = idsIn(moov, box);
    const left = ids.filter((id) => !gone.has(id));
    if (left.length === ids.length) return [raw(box)];
    isOther = true;
    return left.length > 0 ? [makeBox(box.type, ...left.map((id) => u32(id)))] : [];
  });
  if (!isOther) return raw(trak);
  const children = parseBoxes(moov, trak.content, trak.end).flatMap((child) => {
    if (child.type !== 'tref') return [raw(child)];
    return refers.length > 0 ? [makeBox('tref', ...refers)] : [];
  });
  return makeBox('trak', ...children);
}
