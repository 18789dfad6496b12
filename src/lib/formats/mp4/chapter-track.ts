import { ascii, concat, readU32, readU64, u16, u32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { chapterTrackIds, handlerOf, trackId } from './chapters';
import { findBox, makeBox, parseBoxes, type Box } from './boxes';
import { packedLanguage } from './tracks';

/* Titles of chapters as samples of a text track that sound and picture refer to (`tref/chap`): the one form that some
   players look for. Every sample lasts until the next chapter begins. */

/** Units of the track's time in a second. */
const TIMESCALE = 1000;
/** Behind the text of a sample: it is in UTF-8. */
const ENCODING = makeBox('encd', u32(0x100));
/** Set in a track's header: it belongs to the film, and is not shown by itself (ISO/IEC 14496-12, section 8.3.2). */
const IN_MOVIE = 2;
/** No turning and no scaling, in fixed point (section 6.2.2). */
const UNITY = concat([0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000].map((value) => u32(value)));
/** A length of all ones is none (section 8.2.2.3). */
const UNKNOWN = 0xffffffff;

export interface WithChapterTrack {
  /** `moov` with the track in it. Where its samples will lie is left at 0. */
  readonly moov: Uint8Array;
  /** The samples, one behind the other. */
  readonly samples: Uint8Array;
  /** Where in `moov` their place in the file is told, in 4 bytes, or in 8 in a large file. */
  readonly placeAt: number;
}

/** Titles of so many chapters have room before 4 GiB are full. */
const LARGE = 0xf0000000;
/** Whether places in a file of so many bytes may need 8 bytes. */
export const isLarge = (size: number): boolean => size > LARGE;

/**
 * Adds a track of titles, to which every track of sound or picture refers that is heard or seen by itself. The first
 * title counts from the beginning, since nothing may be missing there.
 * @param chapters as they can be held
 * @param size bytes of the file
 * @returns null where they cannot be told so: there are none, two begin within a millisecond, or one begins before the
 * other
 */
export function withChapterTrack(
  moov: Uint8Array,
  chapters: readonly Chapter[],
  size: number,
): WithChapterTrack | null {
  const boxes = parseBoxes(moov, 8);
  const header = findBox(boxes, 'mvhd');
  const tracks = boxes.filter(({ type }) => type === 'trak');
  const last = tracks.at(-1);
  const starts = chapters.map(({ startSeconds }) => Math.round(startSeconds * TIMESCALE));
  if (!header || !last || starts.length === 0) return null;
  if (starts.some((start, index) => index > 0 && start <= (starts[index - 1] ?? 0))) return null;
  const { scale, duration } = movieTime(moov, header);
  const end = Math.max(Math.ceil((duration / Math.max(1, scale)) * TIMESCALE), (starts.at(-1) ?? 0) + 1);
  if (end > UNKNOWN) return null;
  const samples = chapters.map(({ title }) => {
    const text = new TextEncoder().encode(title);
    return concat([u16(text.length), text, ENCODING]);
  });
  const lasting = starts.map((start, index) => (starts[index + 1] ?? end) - (index === 0 ? 0 : start));
  const id = Math.max(...tracks.map((trak) => trackId(moov, trak))) + 1;
  const referred = new Set(tracks.flatMap((trak) => chapterTrackIds(moov, trak)));
  const places = isLarge(size)
    ? makeBox('co64', u32(0), u32(1), new Uint8Array(8))
    : makeBox('stco', u32(0), u32(1), u32(0));
  const trak = trakOf({ id, duration, end, lasting, samples, places });
  const parts = boxes.flatMap((box) => {
    const raw = moov.subarray(box.start, box.end);
    if (box === header) return [withNextId(raw, id + 1)];
    if (box.type !== 'trak') return [raw];
    const own = referred.has(trackId(moov, box)) ? raw : withReference(moov, box, id);
    return box === last ? [own, trak] : [own];
  });
  const whole = makeBox('moov', ...parts);
  // The place is the last thing that the track tells.
  const behind = parts.slice(parts.indexOf(trak) + 1).reduce((sum, part) => sum + part.length, 0);
  return { moov: whole, samples: concat(samples), placeAt: whole.length - behind - (isLarge(size) ? 8 : 4) };
}

/** Units in a second, and length in them, 0 where it is not known (`mvhd`, section 8.2.2). */
function movieTime(moov: Uint8Array, header: Box): { scale: number; duration: number } {
  const isLong = moov[header.content] === 1;
  const at = header.content + (isLong ? 20 : 12);
  const duration = isLong ? readU64(moov, at + 4) : readU32(moov, at + 4);
  return { scale: readU32(moov, at), duration: duration >= UNKNOWN ? 0 : duration };
}

/** The id that the next track gets stands last in `mvhd`. */
function withNextId(header: Uint8Array, next: number): Uint8Array {
  const copy = header.slice();
  const view = new DataView(copy.buffer);
  const at = copy.length - 4;
  view.setUint32(at, Math.max(view.getUint32(at), next));
  return copy;
}

/** A track that refers to one more track for its chapters, where it is of sound or picture. */
function withReference(moov: Uint8Array, trak: Box, id: number): Uint8Array {
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  if (!['soun', 'vide'].includes(handlerOf(moov, trak))) return raw(trak);
  const children = parseBoxes(moov, trak.content, trak.end);
  const ids = [...chapterTrackIds(moov, trak), id];
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

interface TextTrack {
  readonly id: number;
  /** Units of the movie. */
  readonly duration: number;
  /** Milliseconds of all samples, and of each. */
  readonly end: number;
  readonly lasting: readonly number[];
  readonly samples: readonly Uint8Array[];
  /** The table of where they lie. */
  readonly places: Uint8Array;
}

function trakOf({ id, duration, end, lasting, samples, places }: TextTrack): Uint8Array {
  const zeros = (count: number) => new Uint8Array(count);
  const tkhd = makeBox(
    'tkhd',
    u32(IN_MOVIE),
    zeros(8),
    u32(id),
    zeros(4),
    u32(duration),
    zeros(16),
    UNITY,
    zeros(8),
  );
  const mdhd = makeBox('mdhd', zeros(12), u32(TIMESCALE), u32(end), packedLanguage('und'), zeros(2));
  const hdlr = makeBox('hdlr', zeros(8), ascii('text'), zeros(13));
  const gmin = makeBox('gmin', zeros(4), u16(0x40), u16(0x8000), u16(0x8000), u16(0x8000), zeros(4));
  const gmhd = makeBox('gmhd', gmin, makeBox('text', UNITY));
  // A reference without an address: the samples lie in this file (section 8.7.2).
  const dinf = makeBox('dinf', makeBox('dref', u32(0), u32(1), makeBox('url ', u32(1))));
  // Colours, box, font and name of a text say nothing where it is not drawn.
  const entry = makeBox('text', zeros(6), u16(1), zeros(44));
  const stbl = makeBox(
    'stbl',
    makeBox('stsd', u32(0), u32(1), entry),
    makeBox('stts', u32(0), u32(lasting.length), ...lasting.flatMap((one) => [u32(1), u32(one)])),
    makeBox('stsc', u32(0), u32(1), u32(1), u32(samples.length), u32(1)),
    makeBox('stsz', u32(0), u32(0), u32(samples.length), ...samples.map(({ length }) => u32(length))),
    places,
  );
  return makeBox('trak', tkhd, makeBox('mdia', mdhd, hdlr, makeBox('minf', gmhd, dinf, stbl)));
}
