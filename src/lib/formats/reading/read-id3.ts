import { PICTURE_ROLES, toTexts, type Content, type NativeTag } from '$lib/core/items';
import { frameText, genresOf, isPictureFrame, nameOfFrame, pictureIn, type Id3Tag } from '../id3';
import type { NativeRead } from '../format';
import { pictureFact } from '../picture-fact';
import { inTime, type PictureBytes } from './media-read';
import { MOST_LETTERS, MOST_TAGS } from './native-tags';

/** What an ID3v2 tag says of its file. */
export interface Id3Said extends Content {
  readonly native: readonly NativeTag[];
  /** The sort of tag that it is, as facts name it. */
  readonly sort: string;
}

/** @param read what its fields, chapters and timed words say */
export function readId3Said(tag: Id3Tag, read: NativeRead): Id3Said {
  const sort = `ID3v2.${tag.version}`;
  return {
    sort,
    fields: { ...read.fields, genre: toTexts(genresOf(tag)) },
    pictures: pictureFrames(tag).map(({ code, mime, bytes }) =>
      pictureFact(PICTURE_ROLES[code ?? 0] ?? 'other', mime, bytes),
    ),
    ...inTime(read),
    native: tag.frames.slice(0, MOST_TAGS).map((frame) => ({
      format: sort,
      id: nameOfFrame(frame, tag.version),
      value: frame.id.startsWith('T')
        ? (frameText(frame, tag.version) ?? '').split('\0').join('; ').slice(0, MOST_LETTERS).toWellFormed()
        : `${frame.data.length} bytes`,
    })),
  };
}

/** The bytes of a tag's pictures, in the order in which its facts list them. */
export const id3Pictures = (tag: Id3Tag): readonly PictureBytes[] => pictureFrames(tag);

const pictureFrames = (tag: Id3Tag) =>
  tag.frames
    .filter((frame) => isPictureFrame(frame, tag.version))
    .flatMap((frame) => pictureIn(frame, tag.version) ?? [])
    .filter(({ bytes }) => bytes.length > 0);
