import type { ByteSource } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { goingOn } from '../chapters-before';
import { FormatError, MOST_CHAPTER_PICTURE_BYTES, type TagChanges } from '../format';
import { hasStandIns, stillOf, type StoredPicture } from './chapter-pictures';
import { heldChapters } from './chapters';
import { readMp4Facts } from './facts';
import { coverPictures } from './item-fields';
import type { Mp4Structure } from './reader';

/** Chapters as they are to be written, with the picture of each. */
export interface NewChapters {
  readonly chapters: readonly Chapter[];
  readonly pictures: readonly (StoredPicture | null)[];
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
  const isStale = front !== null && !structure.fragmented && hasStandIns(structure);
  if (!changes.chapters && !isStale) return null;
  const { chapters: known, chapterPictures } = await readMp4Facts(source, structure);
  const before = known.map((chapter, index) => ({ chapter, picture: chapterPictures[index] ?? null }));
  const chapters = heldChapters(changes.chapters ?? known);
  const old = goingOn(chapters, before, ({ picture }) => picture !== null);
  const pictures = chapters.map(({ picture }, index): StoredPicture | null => {
    const own = old[index]?.picture ?? null;
    if (picture === undefined) return own;
    if (picture === null) return null;
    if ('id' in picture) return changes.chapterPictures?.get(picture.id) ?? own;
    // One of the file's own: it may have come from another chapter.
    const owner = before.find(
      ({ chapter: { picture: one } }) => one && 'hash' in one && one.hash === picture.hash,
    );
    return owner?.picture ?? own;
  });
  const distinct = new Set(pictures.filter((one) => one !== null));
  if ([...distinct].reduce((sum, { bytes }) => sum + bytes.length, 0) > MOST_CHAPTER_PICTURE_BYTES)
    throw new FormatError('tooMuch', 'pictures of chapters of over 24 MiB');
  const [shown] = front ? [front] : coverPictures(structure);
  return { chapters, pictures, cover: shown ? stillOf(shown.bytes) : null };
}
