import type { ByteSource } from '$lib/core/bytes';
import { FORMAT_NAMES, toTexts } from '$lib/core/items';
import { genreByNumber } from '../id3';
import { coverPictures, itemFields, itemTexts, numberedGenre, readMp4, readMp4Facts } from '../mp4';
import { pictureFact } from '../picture-fact';
import { NOTHING_SAID, several, type FormatRead, type PictureBytes } from './media-read';
import { MOST_LETTERS, MOST_TAGS } from './native-tags';
import { checkMp4 } from './whole';

/** @throws {FormatError} when its boxes cannot be read, or its end is missing */
export async function readMp4Media(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
  const mp4 = await readMp4(source, evenCut);
  if (!evenCut) checkMp4(source, mp4);
  const { streams, tracks, chapters, durationSeconds, locked } = await readMp4Facts(source, mp4);
  const fields = itemFields(mp4) ?? NOTHING_SAID.fields;
  const number = numberedGenre(mp4);
  const items = itemTexts(mp4);
  return {
    format: 'mp4',
    native: items.slice(0, MOST_TAGS).map(([id, value]) => ({
      format: FORMAT_NAMES.mp4,
      id,
      value: value.slice(0, MOST_LETTERS).toWellFormed(),
    })),
    file: {
      fields: { ...fields, genre: fields.genre ?? (number === null ? null : toTexts(genreAt(number))) },
      pictures: coverPictures(mp4).map(({ mime, bytes }, index) =>
        pictureFact(index === 0 ? 'front' : 'other', mime, bytes),
      ),
      chapters,
      ...several(tracks),
    },
    facts: {
      tagFormats: items.length > 0 ? [FORMAT_NAMES.mp4] : [],
      streams,
      durationSeconds,
      ...(locked && { locked }),
    },
  };
}

/** The list of MP4 begins with 1 where that of ID3 begins with 0. */
const genreAt = (number: number): readonly string[] => {
  const name = genreByNumber(number - 1);
  return name === null ? [] : [name];
};

/** The bytes of its pictures, in the order in which its facts list them. */
export const mp4Pictures = async (source: ByteSource): Promise<readonly PictureBytes[]> =>
  coverPictures(await readMp4(source, true));
