import type { ByteRange } from '$lib/core/bytes';
import { MOST_PARTS } from '../format';
import { findPath, type Box } from './boxes';
import { chapterTracks } from './chapters';
import { wholeBox, type Mp4Structure } from './reader';
import { readPlaces, type ChunkRange } from './sample-tables';

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
  let next = 0;
  // Boxes lie in their order, too; several samples may be one.
  return structure.top.filter(({ type, content, end }) => {
    let at = content;
    for (; (places[next]?.start ?? Infinity) < end; next++) {
      const { start, size } = places[next] as ChunkRange;
      if (start >= content && start <= at) at = Math.max(at, start + size);
    }
    return type === 'mdat' && at === end && at > content;
  });
}
