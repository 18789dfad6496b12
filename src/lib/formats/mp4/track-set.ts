import {
  concat,
  fresh,
  kept,
  lastAtOrBefore,
  type ByteRange,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { editedTracks, type EditedTrack, type TrackEdit } from '$lib/core/items';
import { FormatError, type Rewrite } from '../format';
import { findPath, makeBox, parseBoxes, type Box } from './boxes';
import { trakOf, withNextId, withReferences } from './chapter-track';
import { chapterTrackIds, handlerOf, trackId, withoutReferences } from './chapters';
import { readMp4Facts } from './facts';
import { readMp4, wholeBox, type Mp4Structure } from './reader';
import { around, moveOffsets } from './sample-tables';
import { chunksOf, expectFilled } from './same-play';
import { subtitlesOf } from './subtitle-media';
import { readTimes } from './times';

/**
 * An MP4 without some of its tracks, with them in another order, or with tracks of subtitles more. Samples stay byte for
 * byte; those of tracks that go leave no gap, and chunk offsets move along (ISO/IEC 14496-12, section 8.7.5).
 * @throws {FormatError} when the file cannot be read, or is one of fragments
 */
export async function layTrackSet(source: ByteSource, edits: readonly TrackEdit[]): Promise<Rewrite> {
  const structure = await readMp4(source);
  expectFilled(structure);
  if (structure.fragmented)
    throw new FormatError('fragmented', 'tracks of a file in fragments are neither left out nor added');
  const { tracks } = await readMp4Facts(source, structure);
  const all = editedTracks(tracks, edits);
  const left = new Set(all.flatMap(({ id, isLeftOut }) => (isLeftOut ? id : [])));
  if (left.size === all.length) throw new FormatError('damaged', 'no track would be left');
  const { moov, top } = structure;
  const dropped = samplesOnlyOf(structure, left);
  const { bytes, samples, places } = newMoov(structure, all, left);
  const grown = bytes.length - (moov.end - moov.start);
  const ends: number[] = [0];
  for (const { start, end } of dropped) ends.push((ends.at(-1) as number) + end - start);
  const starts = dropped.map(({ start }) => start);
  const droppedBefore = (offset: number): number => {
    const index = lastAtOrBefore(starts, offset - 1);
    const range = dropped[index];
    if (!range || range.start >= offset) return 0;
    return (ends[index] as number) + Math.min(offset, range.end) - range.start;
  };
  const moved = (offset: number) => offset - droppedBefore(offset) + (offset >= moov.end ? grown : 0);
  moveOffsets(bytes, moved);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const spans: Span[] = [];
  const payload: ByteRange[] = [];
  let next = 0;
  for (const box of top)
    if (box === moov) spans.push(fresh(bytes));
    else if (box.type !== 'mdat') spans.push(kept(box.start, box.end));
    else {
      // Both lie in the order of the file.
      const first = next;
      while ((dropped[next]?.start ?? Infinity) < box.end) next++;
      const inside = dropped.slice(first, next);
      const less = inside.reduce((sum, { start, end }) => sum + end - start, 0);
      spans.push(fresh(await newHead(source, box, less)));
      for (const range of around(box.content, box.end, inside)) {
        spans.push(kept(range.start, range.end));
        payload.push(range);
      }
    }
  const last = top.at(-1)?.end ?? source.size;
  if (samples.length > 0) {
    const at = moved(last) + 8;
    for (const place of places) view.setBigUint64(place.at, BigInt(at + place.offset));
    spans.push(fresh(makeBox('mdat', samples)));
  }
  return { spans, payload };
}

/** Bytes in which samples lie of tracks that go, and of no other; in their order, none next to another. */
function samplesOnlyOf(structure: Mp4Structure, left: ReadonlySet<number>): readonly ByteRange[] {
  const goes: ByteRange[] = [];
  const stays: ByteRange[] = [];
  for (const trak of traksOf(structure))
    for (const { start, size } of chunksOf(structure, trak))
      if (size > 0)
        (left.has(trackId(structure.moovBytes, trak)) ? goes : stays).push({ start, end: start + size });
  const boxes = structure.top.filter(({ type }) => type === 'mdat');
  const boxStarts = boxes.map(({ content }) => content);
  const isInside = ({ start, end }: ByteRange): boolean => {
    const box = boxes[lastAtOrBefore(boxStarts, start)];
    return box !== undefined && start >= box.content && end <= box.end;
  };
  const bounds = joined(stays);
  const starts = bounds.map(({ start }) => start);
  return joined(goes).flatMap((range) => {
    // What a track that stays has of it, too, stays; and what lies in no box of samples.
    const parts: ByteRange[] = [];
    let at = range.start;
    for (let index = lastAtOrBefore(starts, range.start); index < bounds.length; index++) {
      const other = bounds[index] as ByteRange;
      if (other.start >= range.end) break;
      if (other.end <= at) continue;
      if (other.start > at) parts.push({ start: at, end: other.start });
      at = other.end;
    }
    if (at < range.end) parts.push({ start: at, end: range.end });
    return parts.filter(isInside);
  });
}

function joined(ranges: ByteRange[]): readonly ByteRange[] {
  const out: { start: number; end: number }[] = [];
  for (const { start, end } of ranges.sort((a, b) => a.start - b.start)) {
    const last = out.at(-1);
    if (last && start <= last.end) last.end = Math.max(last.end, end);
    else out.push({ start, end });
  }
  return out;
}

/** The header of a box that holds fewer bytes now, as long as it was. */
async function newHead(source: ByteSource, { start, content, end }: Box, less: number): Promise<Uint8Array> {
  const head = (await source.read(start, content)).slice();
  const view = new DataView(head.buffer);
  if (head.length === 16) view.setBigUint64(8, BigInt(end - start - less));
  else view.setUint32(0, end - start - less);
  return head;
}

function traksOf(structure: Mp4Structure): readonly Box[] {
  const { content, end } = wholeBox(structure);
  return parseBoxes(structure.moovBytes, content, end).filter(({ type }) => type === 'trak');
}

interface NewMoov {
  readonly bytes: Uint8Array;
  /** Of the tracks that are added. */
  readonly samples: Uint8Array;
  /** Where in `moov` the place of each chunk of those is told, in 64 bits, and which byte of the samples it begins with. */
  readonly places: readonly { readonly at: number; readonly offset: number }[];
}

function newMoov(structure: Mp4Structure, all: readonly EditedTrack[], left: ReadonlySet<number>): NewMoov {
  const { moovBytes: bytes } = structure;
  const whole = wholeBox(structure);
  const boxes = parseBoxes(bytes, whole.content, whole.end);
  const traks = boxes.filter(({ type }) => type === 'trak');
  const header = boxes.find(({ type }) => type === 'mvhd');
  if (!header) throw new FormatError('damaged', 'no header of the movie');
  const { timescale, duration } = readTimes(bytes, header);
  const added = all.filter((track) => track.added && !track.isLeftOut);
  const laid = added.map(({ id, added: cues = [] }) => ({ id, media: subtitlesOf(cues) }));
  const rank = new Map(all.map(({ id }, index) => [id, index]));
  const stays = traks.filter((trak) => !left.has(trackId(bytes, trak)));
  // Chapters that a track refers to which goes are those of the next one.
  const chapters = traks
    .filter((trak) => left.has(trackId(bytes, trak)))
    .flatMap((trak) => chapterTrackIds(bytes, trak));
  const heir = stays.some((trak) => chapterTrackIds(bytes, trak).length > 0)
    ? null
    : stays.find((trak) => ['soun', 'vide'].includes(handlerOf(bytes, trak)));
  const ids = new Set(traks.map((trak) => trackId(bytes, trak)));
  const own = stays.map((trak) => {
    const raw = withoutReferences(bytes, trak, left);
    const inherits = trak === heir && chapters.length > 0;
    return {
      id: trackId(bytes, trak),
      bytes: inherits ? withReferences(raw, wholeTrak(raw), [...new Set(chapters)]) : raw,
    };
  });
  const fresh = laid.map(({ id, media }) => {
    if (ids.has(id)) throw new FormatError('damaged', `two tracks would have the number ${id}`);
    const end = Math.max(Math.round((duration / (timescale || 1)) * 1000), media.end);
    return { id, bytes: trakOf({ id, duration, end, media }, 8) };
  });
  // Tracks of chapters, which nobody orders, stay behind.
  const rankOf = ({ id }: { readonly id: number }) => rank.get(id) ?? all.length;
  const inOrder = [...own, ...fresh].sort((a, b) => rankOf(a) - rankOf(b));
  const nextId = Math.max(0, ...ids, ...laid.map(({ id }) => id)) + 1;
  const lasting = Math.max(0, ...stays.map((trak) => trackDuration(bytes, trak)));
  const newHeader = withDuration(withNextId(bytes.subarray(header.start, header.end), nextId), lasting);
  const first = traks[0];
  const parts = boxes.flatMap((box) => {
    if (box === header) return [newHeader];
    if (box === first) return inOrder.map((one) => one.bytes);
    return box.type === 'trak' ? [] : [bytes.subarray(box.start, box.end)];
  });
  const made = makeBox('moov', ...parts);
  let before = 0;
  const places = laid.map(({ id, media }) => {
    const offset = before;
    before += media.samples.length;
    return { at: placeOf(made, id), offset };
  });
  return { bytes: made, samples: concat(laid.map(({ media }) => media.samples)), places };
}

const wholeTrak = (trak: Uint8Array): Box => ({ type: 'trak', start: 0, content: 8, end: trak.length });

/** Where the only chunk of an added track is told. */
function placeOf(moov: Uint8Array, id: number): number {
  const trak = parseBoxes(moov, 8).find((box) => box.type === 'trak' && trackId(moov, box) === id);
  const table = trak && findPath(moov, trak, 'mdia', 'minf', 'stbl', 'co64');
  if (!table) throw new FormatError('damaged', `track ${id} has no place`);
  return table.content + 8;
}

/** Units of the movie that a track lasts, as its header says (section 8.3.2). */
function trackDuration(moov: Uint8Array, trak: Box): number {
  const header = findPath(moov, trak, 'tkhd');
  if (!header) return 0;
  const isLong = moov[header.content] === 1;
  const view = new DataView(moov.buffer, moov.byteOffset, moov.byteLength);
  const duration = isLong
    ? Number(view.getBigUint64(header.content + 28))
    : view.getUint32(header.content + 20);
  const isKnown = isLong ? duration < 2 ** 63 : duration !== 0xffffffff;
  return isKnown ? duration : 0;
}

/** The header of the movie with another length (section 8.2.2). */
function withDuration(header: Uint8Array, duration: number): Uint8Array {
  if (duration === 0) return header;
  const view = new DataView(header.buffer, header.byteOffset, header.byteLength);
  if (header[8] === 1) view.setBigUint64(8 + 24, BigInt(duration));
  else if (duration <= 0xfffffffe) view.setUint32(8 + 16, duration);
  return header;
}
