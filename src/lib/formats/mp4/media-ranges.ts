import type { ByteRange } from '$lib/core/bytes';
import { MOST_PARTS } from '../format';
import { findPath, type Box } from './boxes';
import { chapterTracks } from './chapters';
import { wholeBox, type Mp4Structure } from './reader';
import { readPlaces, type Place } from './sample-tables';

/** Where the samples lie. Titles and pictures of chapters are none of them, where they have a box to themselves. */
export function mediaRanges(structure: Mp4Structure): readonly ByteRange[] {
  const ofChapters = new Set(chapterBoxes(structure));
  return structure.top
    .filter((box) => box.type === 'mdat' && !ofChapters.has(box))
    .map(({ content, end }) => ({ start: content, end }));
}

/** The outermost boxes that hold titles and pictures of chapters, and nothing else. */
export function chapterBoxes(structure: Mp4Structure): readonly Box[] {
  const bytes = structure.moovBytes;
  const places = chapterTracks(bytes, wholeBox(structure)).flatMap((trak) => {
    const table = findPath(bytes, trak, 'mdia', 'minf', 'stbl');
    return table ? readPlaces(bytes, table, MOST_PARTS) : [];
  });
  if (places.length === 0) return [];
  places.sort((a, b) => a.start - b.start);
  return structure.top.filter((box) => box.type === 'mdat' && isFilled(box, places));
}

/** Whether samples fill a box to its last byte. They lie in the order of their starts; several may be one. */
function isFilled({ content, end }: Box, places: readonly Place[]): boolean {
  let at = content;
  for (const { start, size } of places) {
    if (start < content) continue;
    if (start > at || at >= end) break;
    at = Math.max(at, start + size);
  }
  return at === end && at > content;
}
