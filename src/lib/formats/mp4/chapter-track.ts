import { ascii, concat, u16, u32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { chapterTrackIds, handlerOf, trackId } from './chapters';
import { findBox, findPath, makeBox, parseBoxes, type Box } from './boxes';
import { TIMESCALE, UNITY, stillsOf, titlesOf, toUnits, zeros, type Media } from './chapter-media';
import type { Still, StoredPicture } from './chapter-pictures';
import { readTimes } from './times';
import { packedLanguage } from './tracks';

/* Titles of chapters as samples of a text track that sound and picture refer to (`tref/chap`), the one form that some
   players look for, and their pictures as samples of another. Every sample lasts until the next one. */

/** Set in a track's header: it belongs to the film, and is not shown by itself (ISO/IEC 14496-12, section 8.3.2). */
const IN_MOVIE = 2;
/** A length of all ones is none (section 8.2.2.3). */
const UNKNOWN = 0xffffffff;

export interface WithChapterTracks {
  /** `moov` with the tracks in it. Where their samples will lie is left at 0. */
  readonly moov: Uint8Array;
  /** The samples, one behind the other. */
  readonly samples: Uint8Array;
  /** Where in `moov` the place of each chunk is told, and which byte of the samples it begins with. */
  readonly chunks: readonly { readonly at: number; readonly offset: number }[];
}

/** Titles and pictures of so many chapters have room before 4 GiB are full. */
const LARGE = 0xf0000000;
/** Bytes in which places are told in a file of so many: more in a large one. */
const placeBytes = (size: number): 4 | 8 => (size > LARGE ? 8 : 4);

/**
 * Adds a track of titles, and one of pictures where a chapter has one, to which every track of sound or picture refers
 * that is heard or seen by itself. The first chapter counts from the beginning, since nothing may be missing there.
 * @param chapters as they can be held
 * @param stills pictures that are shown, those of the chapters first
 * @param cover stands in where a chapter has none, if it is of the same sort; else the picture before does
 * @param size bytes of the file
 * @returns null where they cannot be told so: there are none, two begin within a millisecond, or one begins before the
 * other
 */
export function withChapterTracks(
  moov: Uint8Array,
  chapters: readonly Chapter[],
  stills: readonly Still[],
  cover: StoredPicture | null,
  size: number,
): WithChapterTracks | null {
  const boxes = parseBoxes(moov, 8);
  const header = findBox(boxes, 'mvhd');
  const tracks = boxes.filter(({ type }) => type === 'trak');
  const last = tracks.at(-1);
  const starts = chapters.map(({ startSeconds }) => toUnits(startSeconds));
  if (!header || !last || starts.length === 0) return null;
  if (starts.some((start, index) => index > 0 && start <= (starts[index - 1] ?? 0))) return null;
  const { timescale, duration: length } = readTimes(moov, header);
  const duration = length >= UNKNOWN ? 0 : length;
  const end = Math.max(Math.ceil((duration / Math.max(1, timescale)) * TIMESCALE), (starts.at(-1) ?? 0) + 1);
  if (end > UNKNOWN) return null;
  const firstId = Math.max(...tracks.map((trak) => trackId(moov, trak))) + 1;
  // A picture that would follow the end is never shown.
  const seen = stills.filter(({ startSeconds }) => toUnits(startSeconds) < end);
  const told = [
    titlesOf(chapters, starts),
    ...(seen.some(({ picture }) => picture !== null) ? [stillsOf(seen, cover)] : []),
  ];
  const own = told.map((media, index) => ({ id: firstId + index, media }));
  const referred = new Set(tracks.flatMap((trak) => chapterTrackIds(moov, trak)));
  const parts = boxes.flatMap((box) => {
    const raw = moov.subarray(box.start, box.end);
    if (box === header) return [withNextId(raw, firstId + own.length)];
    if (box.type !== 'trak') return [raw];
    const ids = own.map(({ id }) => id);
    const refers = referred.has(trackId(moov, box)) ? raw : withReferences(moov, box, ids);
    if (box !== last) return [refers];
    return [refers, ...own.map(({ id, media }) => trakOf({ id, duration, end, media }, placeBytes(size)))];
  });
  const whole = makeBox('moov', ...parts);
  let before = 0;
  const chunks = own.flatMap(({ id, media }) => {
    const offsets = media.chunks.map(({ offset }) => before + offset);
    before += media.samples.length;
    return placesIn(whole, id).map((at, index) => ({ at, offset: offsets[index] ?? 0 }));
  });
  return { moov: whole, samples: concat(told.map(({ samples }) => samples)), chunks };
}

/** Tells where the samples lie, once that is known. @param start first byte of them in the file, of so many bytes */
export function placeSamples(
  moov: Uint8Array,
  { chunks }: WithChapterTracks,
  start: number,
  size: number,
): void {
  const view = new DataView(moov.buffer, moov.byteOffset, moov.byteLength);
  for (const { at, offset } of chunks)
    if (placeBytes(size) === 8) view.setBigUint64(at, BigInt(start + offset));
    else view.setUint32(at, start + offset);
}

/** Where in `moov` a track's table tells the places of its chunks. */
function placesIn(moov: Uint8Array, id: number): readonly number[] {
  const trak = parseBoxes(moov, 8).find((box) => box.type === 'trak' && trackId(moov, box) === id);
  const table = trak && findPath(moov, trak, 'mdia', 'minf', 'stbl');
  const boxes = table ? parseBoxes(moov, table.content, table.end) : [];
  const places = findBox(boxes, 'stco') ?? findBox(boxes, 'co64');
  if (!places) return [];
  const width = places.type === 'stco' ? 4 : 8;
  const at = places.content + 8;
  return Array.from({ length: (places.end - at) / width }, (_, index) => at + index * width);
}

/** The id that the next track gets stands last in `mvhd`. */
export function withNextId(header: Uint8Array, next: number): Uint8Array {
  const copy = header.slice();
  const view = new DataView(copy.buffer);
  const at = copy.length - 4;
  view.setUint32(at, Math.max(view.getUint32(at), next));
  return copy;
}

/** A track that refers to more tracks for its chapters, where it is of sound or picture. */
export function withReferences(moov: Uint8Array, trak: Box, more: readonly number[]): Uint8Array {
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  if (!['soun', 'vide'].includes(handlerOf(moov, trak))) return raw(trak);
  const children = parseBoxes(moov, trak.content, trak.end);
  const ids = [...chapterTrackIds(moov, trak), ...more];
  const chap = makeBox('chap', ...ids.map((one) => u32(one)));
  const tref = findBox(children, 'tref');
  const others = tref ? parseBoxes(moov, tref.content, tref.end).filter(({ type }) => type !== 'chap') : [];
  const refers = makeBox('tref', ...others.map(raw), chap);
  const parts = children.flatMap((child) => {
    if (child === tref) return [refers];
    return child.type === 'mdia' && !tref ? [refers, raw(child)] : [raw(child)];
  });
  return makeBox('trak', ...parts);
}

interface ChapterTrack {
  readonly id: number;
  /** Units of the movie. */
  readonly duration: number;
  /** Milliseconds of all samples. */
  readonly end: number;
  readonly media: Media;
}

export function trakOf({ id, duration, end, media }: ChapterTrack, width: 4 | 8): Uint8Array {
  const { chunks, entries, sizes, starts } = media;
  const lasting = starts.map((start, index) => (starts[index + 1] ?? end) - (index === 0 ? 0 : start));
  const tkhd = makeBox(
    'tkhd',
    u32(IN_MOVIE),
    zeros(8),
    u32(id),
    zeros(4),
    u32(duration),
    zeros(16),
    UNITY,
    // Pixels in fixed point.
    ...[media.width, 0, media.height, 0].map(u16),
  );
  const mdhd = makeBox('mdhd', zeros(12), u32(TIMESCALE), u32(end), packedLanguage('und'), zeros(2));
  const hdlr = makeBox('hdlr', zeros(8), ascii(media.handler), zeros(13));
  // A reference without an address: the samples lie in this file (section 8.7.2).
  const dinf = makeBox('dinf', makeBox('dref', u32(0), u32(1), makeBox('url ', u32(1))));
  const runs = chunks.flatMap(({ count, entry }, index) => {
    const last = chunks[index - 1];
    return last?.count === count && last.entry === entry ? [] : [[index + 1, count, entry].map(u32)];
  });
  const stbl = makeBox(
    'stbl',
    makeBox('stsd', u32(0), u32(entries.length), ...entries),
    makeBox('stts', u32(0), u32(lasting.length), ...lasting.flatMap((one) => [u32(1), u32(one)])),
    makeBox('stsc', u32(0), u32(runs.length), ...runs.flat()),
    makeBox('stsz', u32(0), u32(0), u32(sizes.length), ...sizes.map(u32)),
    makeBox(width === 8 ? 'co64' : 'stco', u32(0), u32(chunks.length), zeros(chunks.length * width)),
  );
  const minf = makeBox('minf', media.header, dinf, stbl);
  return makeBox('trak', tkhd, makeBox('mdia', mdhd, hdlr, minf), ...media.more);
}
