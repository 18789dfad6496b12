import type { ByteSource } from '$lib/core/bytes';
import { EMPTY_FIELDS } from '$lib/core/items';
import { readDsd, readTag } from '../dsd';
import { saidById3 } from '../id3';
import { NOTHING_SAID, inTime, soundStream, type FormatRead, type PictureBytes } from './media-read';
import { id3Pictures, readId3Said } from './read-id3';

/** A DSF or DFF: its ID3v2 tag, and its sound of one bit. @throws {FormatError} */
export async function readDsdMedia(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
  const structure = await readDsd(source, evenCut);
  const { format, sound } = structure;
  const tag = await readTag(source, structure);
  const said = (tag && saidById3(tag)) ?? NOTHING_SAID;
  const read = tag && readId3Said(tag, said);
  return {
    format,
    native: read?.native ?? [],
    file: { fields: read?.fields ?? EMPTY_FIELDS, pictures: read?.pictures ?? [], ...inTime(said) },
    facts: {
      tagFormats: read ? [read.sort] : [],
      streams: [soundStream('DSD', sound.channels, sound.sampleRate)],
      durationSeconds: sound.samples / sound.sampleRate,
      soundBytes: sound.end - sound.start,
    },
  };
}

export async function dsdPictures(source: ByteSource): Promise<readonly PictureBytes[]> {
  const tag = await readTag(source, await readDsd(source, true));
  return tag ? id3Pictures(tag) : [];
}
