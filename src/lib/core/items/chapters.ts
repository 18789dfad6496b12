import { cleanText } from './fields';
import type { ChosenPicture, PictureFact, PictureId } from './pictures';

/** A chapter's picture: one in the file, identified by its hash, or one kept in the library under its id. */
export type ChapterPicture = Omit<PictureFact, 'role'> | ChosenPicture;

/** A chapter. Chapters are ordered by their start. Seconds. */
export interface Chapter {
  readonly startSeconds: number;
  /** Null if it lasts until the next chapter or the end. */
  readonly endSeconds: number | null;
  readonly title: string;
  readonly link: string | null;
  /** Null for no picture; absent for the picture of the file's own chapter. */
  readonly picture?: ChapterPicture | null;
}

/** Titles can hold any text; a link is an address, which is ASCII (RFC 3986, section 2). */
export const cleanChapter = (chapter: Chapter): Chapter => ({
  ...chapter,
  title: cleanText(chapter.title),
  link: chapter.link?.toWellFormed().replace(/[^\u0021-\u007e]/gu, encodeURIComponent) || null,
});

/** Whether two lists of chapters are equal. */
export const sameChapters = (a: readonly Chapter[], b: readonly Chapter[]) =>
  a.length === b.length &&
  a.every((one, index) => {
    const other = b[index] as Chapter;
    return (
      one.startSeconds === other.startSeconds &&
      one.endSeconds === other.endSeconds &&
      one.title === other.title &&
      one.link === other.link &&
      samePicture(one.picture, other.picture)
    );
  });

/** The key by which pictures of chapters are compared. */
export const pictureKey = (picture: ChapterPicture): PictureId | number =>
  'id' in picture ? picture.id : picture.hash;

/** Whether two chapters have the same picture. */
function samePicture(a: Chapter['picture'], b: Chapter['picture']): boolean {
  if (!a || !b) return a === b;
  return 'id' in a ? 'id' in b && a.id === b.id : 'hash' in b && a.hash === b.hash && a.bytes === b.bytes;
}
