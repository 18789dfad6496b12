import type { ByteRange } from '$lib/core/bytes';
import { titlesBox } from './facts';
import type { Mp4Structure } from './reader';

/** Where the samples lie. Titles of chapters are none of them, where they have a box to themselves. */
export function mediaRanges(structure: Mp4Structure): readonly ByteRange[] {
  const titles = titlesBox(structure);
  return structure.top
    .filter((box) => box.type === 'mdat' && box !== titles)
    .map(({ content, end }) => ({ start: content, end }));
}
