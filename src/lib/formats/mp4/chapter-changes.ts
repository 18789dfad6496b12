import type { ByteSource } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { goingOn } from '../chapters-before';
import { FormatError, MOST_CHAPTER_PICTURE_BYTES, type TagChanges } from '../format';
import {
  StillReader,
  stillAt,
  stillOf,
  stillTrackOf,
  type Still,
  type StoredPicture,
} from './chapter-pictures';
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
  const front = changes.pictures?.get('front') ?? null;
  const hasStandIns = (stillTrackOf(structure)?.standIns.size ?? 0) > 0;
  const isStale = front !== null && !structure.fragmented && hasStandIns;
  if (!changes.chapters && !isStale) return null;
  const { chapters: known, chapterPictures } = await readMp4Facts(source, structure);
  const before = known.map((chapter, index) => ({ chapter, picture: chapterPictures[index] ?? null }));
  const chapters = heldChapters(changes.chapters ?? known);
  const old = goingOn(chapters, before, ({ picture }) => picture !== null);
  const pictureOf = ({ picture }: Chapter, index: number): StoredPicture | null => {
    const own = old[index]?.picture ?? null;
    if (picture === undefined) return own;
    if (picture === null) return null;
    if ('id' in picture) return changes.chapterPictures?.get(picture.id) ?? own;
    // One of the file's own: it may have come from another chapter.
    const owner = before.find(
      ({ chapter: { picture: one } }) => one && 'hash' in one && one.hash === picture.hash,
    );
    return owner?.picture ?? own;
  };
  const stills = [
    ...chapters.map((chapter, index) => ({
      startSeconds: chapter.startSeconds,
      picture: pictureOf(chapter, index),
    })),
    ...(chapters.length > 0 ? await stillsWithin(source, structure, known) : []),
  ];
  const distinct = new Set(stills.map(({ picture }) => picture?.bytes));
  if ([...distinct].reduce((sum, bytes) => sum + (bytes?.length ?? 0), 0) > MOST_CHAPTER_PICTURE_BYTES)
    throw new FormatError('tooMuch', 'pictures of chapters of over 24 MiB');
  const [shown] = front ? [front] : coverPictures(structure);
  return {
    chapters,
    stills: stills.some(({ picture }) => picture !== null) ? stills : [],
    cover: shown ? stillOf(shown.bytes) : null,
  };
}

/** Pictures that a file shows within its chapters: they stay at their times, whatever becomes of the chapters. */
async function stillsWithin(
  source: ByteSource,
  structure: Mp4Structure,
  chapters: readonly Chapter[],
): Promise<readonly Still[]> {
  const track = stillTrackOf(structure);
  if (!track) return [];
  const reader = new StillReader(source, track);
  const ofChapters = new Set(chapters.map(({ startSeconds }) => stillAt(track, startSeconds)));
  const within: Still[] = [];
  for (const [index, startSeconds] of track.starts.entries()) {
    const picture = await reader.at(index);
    if (picture && !ofChapters.has(index)) within.push({ startSeconds, picture });
  }
  if (reader.isFull) throw new FormatError('tooMuch', 'pictures of chapters of over 24 MiB');
  return within;
}
