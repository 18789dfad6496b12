import { cleanText } from './fields';
import type { ChosenPicture, PictureFact, PictureId } from './pictures';

/** A picture of a chapter: one that the file holds, told by its hash, or one kept in the library under its id. */
export type ChapterPicture = Omit<PictureFact, 'role'> | ChosenPicture;

/** Chapters follow each other by their start. Seconds. */
export interface Chapter {
  readonly startSeconds: number;
  /** Null where it lasts until the next one, or until the end. */
  readonly endSeconds: number | null;
  readonly title: string;
  readonly link: string | null;
  /** Null for none at all; absent where it has what the file's own chapter has. */
  readonly picture?: ChapterPicture | null;
}

/** Titles can be written anywhere; a link is an address, which is ASCII (RFC 3986, section 2). */
export const cleanChapter = (chapter: Chapter): Chapter => ({
  ...chapter,
  title: cleanText(chapter.title),
  link: chapter.link?.toWellFormed().replace(/[^\u0021-\u007e]/gu, encodeURIComponent) || null,
});

/** Whether two lists of chapters say the same. */
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

/** What tells one picture of a chapter from another. */
export const pictureKey = (picture: ChapterPicture): PictureId | number =>
  'id' in picture ? picture.id : picture.hash;

/** Whether two chapters have one picture. */
function samePicture(a: Chapter['picture'], b: Chapter['picture']): boolean {
  if (!a || !b) return a === b;
  return 'id' in a ? 'id' in b && a.id === b.id : 'hash' in b && a.hash === b.hash && a.bytes === b.bytes;
}
