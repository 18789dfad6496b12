import type { ByteSource } from '$lib/core/bytes';
import { pictureKey, type Chapter } from '$lib/core/items';
import { goingOn } from '../chapters-before';
import { FormatError, MOST_CHAPTER_PICTURE_BYTES, type TagChanges } from '../format';
import { stillOf, stillsIn, type Still, type Stills, type StoredPicture } from './chapter-pictures';
import { heldChapters } from './chapters';
import { readMp4Facts } from './facts';
import { coverPictures } from './item-fields';
import type { Mp4Structure } from './reader';

/** Chapters as they are to be written. */
export interface NewChapters {
  readonly chapters: readonly Chapter[];
  /** The picture of each chapter, and those that are shown within them; none where no chapter has one. */
  readonly stills: readonly Still[];
  /** The file's picture. */
  readonly cover: StoredPicture | null;
}

/**
 * The chapters that a file gets; null where they stay as they are. They are laid anew, too, where the file gets another
 * picture that stands in for those of some of them.
 * @throws {FormatError} `tooMuch` where their pictures are larger than would be read again
 */
export async function chaptersToWrite(
  source: ByteSource,
  structure: Mp4Structure,
  changes: TagChanges,
): Promise<NewChapters | null> {
  const front = changes.pictures?.get('front');
  const isStale =
    front !== undefined && !structure.fragmented && stillsIn(source, structure)?.hasStandIns === true;
  if (!changes.chapters && !isStale) return null;
  const { chapters: known, stills: own } = await readMp4Facts(source, structure);
  const before: { readonly chapter: Chapter; readonly picture: StoredPicture | null }[] = [];
  for (const chapter of known)
    before.push({ chapter, picture: (await own?.at(own.indexAt(chapter.startSeconds))) ?? null });
  const chapters = heldChapters(changes.chapters ?? known);
  const old = goingOn(chapters, before, ({ picture }) => picture !== null);
  const pictureOf = ({ picture }: Chapter, index: number): StoredPicture | null => {
    const kept = old[index]?.picture ?? null;
    if (picture === undefined) return kept;
    if (picture === null) return null;
    if ('id' in picture) return changes.chapterPictures?.get(picture.id) ?? kept;
    // One of the file's own: it may have come from another chapter.
    const owner = before.find(({ chapter: { picture: one } }) => one && pictureKey(one) === picture.hash);
    return owner?.picture ?? kept;
  };
  const stills = [
    ...chapters.map((chapter, index) => ({
      startSeconds: chapter.startSeconds,
      picture: pictureOf(chapter, index),
    })),
    ...(own && chapters.length > 0 ? await stillsWithin(own, known) : []),
  ];
  const distinct = new Set(stills.map(({ picture }) => picture?.bytes));
  if ([...distinct].reduce((sum, bytes) => sum + (bytes?.length ?? 0), 0) > MOST_CHAPTER_PICTURE_BYTES)
    throw new FormatError('tooMuch', 'pictures of chapters of over 24 MiB');
  const covers = coverPictures(structure).slice(front === null ? 1 : 0);
  const [shown] = front ? [front] : covers;
  return {
    chapters,
    stills: stills.some(({ picture }) => picture !== null) ? stills : [],
    cover: shown ? stillOf(shown.bytes) : null,
  };
}

/** Pictures that a file shows within its chapters: they stay at their times, whatever becomes of the chapters. */
async function stillsWithin(stills: Stills, chapters: readonly Chapter[]): Promise<readonly Still[]> {
  const ofChapters = new Set(chapters.map(({ startSeconds }) => stills.indexAt(startSeconds)));
  const within: Still[] = [];
  for (const [index, startSeconds] of stills.starts.entries()) {
    const picture = ofChapters.has(index) ? null : await stills.at(index);
    if (picture) within.push({ startSeconds, picture });
  }
  if (stills.isFull) throw new FormatError('tooMuch', 'pictures of chapters of over 24 MiB');
  return within;
}
