import { cleanChapter, pictureKey, sameChapters, type Chapter } from '../chapters';
import type { Saying } from '../saying';
import { wholePart } from './part';

/** Seconds by which a tag may round a time. */
const ROUNDED_SECONDS = 0.002;

/** Chapters as they are shown and written. */
export function chaptersOf({ file, edits }: Saying): readonly Chapter[] {
  return edits.chapters ?? file.chapters;
}

/**
 * Whether chapters read from a tag are those that were written. Ends and pictures count as far as the format keeps
 * them.
 */
export const saysChapters = (wanted: readonly Chapter[], found: readonly Chapter[]): boolean =>
  wanted.length === found.length &&
  wanted.every(
    ({ startSeconds, title, link, picture }, index) =>
      found[index]?.title === title &&
      found[index].link === link &&
      (picture === undefined || found[index].picture?.bytes === picture?.bytes) &&
      Math.abs(found[index].startSeconds - startSeconds) < ROUNDED_SECONDS,
  );

/** Compares ends if both sides have them. The end of the last chapter is that of the file. */
const sameEnds = (wanted: readonly Chapter[], found: readonly Chapter[]): boolean =>
  wanted.every(({ endSeconds }, index) => {
    const end = found[index]?.endSeconds ?? null;
    return endSeconds === null || (end !== null && Math.abs(end - endSeconds) < ROUNDED_SECONDS);
  });

/** A chosen picture is only compared by its length once it is in a file. */
function showsPicture(wanted: Chapter['picture'], found: Chapter['picture']): boolean {
  if (!wanted || !found) return !wanted && !found;
  return 'id' in wanted ? wanted.bytes === found.bytes : pictureKey(wanted) === pictureKey(found);
}

export const CHAPTERS_PART = wholePart('chapters', {
  label: 'chapters',
  of: chaptersOf,
  own: ({ chapters }) => chapters,
  clean: (chapters) => chapters.map(cleanChapter),
  same: sameChapters,
  key: (chapters) =>
    chapters.map(({ picture, ...chapter }) => ({
      ...chapter,
      ...(picture !== undefined && { picture: picture && pictureKey(picture) }),
    })),
  unsaid: ({ chapters: own }, wanted) => {
    const isSaid =
      saysChapters(wanted, own) &&
      sameEnds(wanted, own) &&
      wanted.every(({ picture }, index) => showsPicture(picture, own[index]?.picture));
    return isSaid ? undefined : wanted;
  },
  isSaid: (wanted, found) => saysChapters(wanted, found.chapters),
  chosen: (chapters) => chapters.flatMap(({ picture }) => (picture && 'id' in picture ? [picture] : [])),
});
