import { parseFromTokenizer, type IAudioMetadata } from 'music-metadata';
import type { ByteSource } from '$lib/core/bytes';
import {
  EMPTY_FIELDS,
  dateIn,
  roleOfWords,
  toTexts,
  type Fields,
  type FormatId,
  type PictureFact,
} from '$lib/core/items';
import { FormatError } from '../format';
import { pictureFact } from '../picture-fact';
import { readRiffFacts } from '../riff';
import { NOTHING_SAID, inTime, soundStream, type FormatRead, type PictureBytes } from './media-read';
import { nativeTags } from './native-tags';
import { readPackageTags } from './package-tags';
import { readId3Said } from './read-id3';
import { SourceTokenizer } from './tokenizer';
import type { ChunkTag } from './whole';

/** Formats that the parsing package reads: MP3 only where it has no ID3v2 tag that says something. */
export type Packaged = Extract<FormatId, 'mp3' | 'wav' | 'aiff'>;

/** @param tag its own tag where there is one: what that says comes before what the package tells, and its pictures alone count */
export async function readPackaged(
  source: ByteSource,
  format: Packaged,
  tag: ChunkTag | null,
): Promise<FormatRead> {
  const own = tag && readId3Said(tag.tag, tag.said);
  const metadata = await parse(source, format);
  const riff = format === 'mp3' ? null : await readRiffFacts(source, format === 'wav' ? 'riff' : 'iff');
  const { codec, numberOfChannels, sampleRate } = metadata.format;
  return {
    format,
    native: nativeTags(metadata),
    file: {
      // Texts of its own chunks say what nothing else does.
      fields: withTexts(toFields(metadata, tag?.said.fields ?? null), riff?.texts ?? {}),
      pictures: own?.pictures ?? toPictures(metadata),
      ...inTime(tag?.said ?? NOTHING_SAID),
    },
    facts: {
      tagFormats: Object.keys(metadata.native),
      streams: [
        soundStream(
          riff?.codec ?? codec ?? null,
          riff?.channels ?? numberOfChannels ?? null,
          riff?.sampleRate ?? sampleRate ?? null,
        ),
      ],
      durationSeconds: riff?.durationSeconds ?? lengthOf(source, metadata),
      ...(riff && riff.soundBytes !== null && { soundBytes: riff.soundBytes }),
    },
  };
}

/** The bytes of its pictures, in the order in which its facts list them. */
export async function packagePictures(
  source: ByteSource,
  format: Packaged,
): Promise<readonly PictureBytes[]> {
  const { common } = await parse(source, format);
  return (common.picture ?? []).map(({ format: mime, data }) => ({ mime, bytes: data }));
}

async function parse(source: ByteSource, format: Packaged): Promise<IAudioMetadata> {
  // The package knows its parsers by endings, whatever the file is called.
  const tokenizer = new SourceTokenizer(source, `file.${format}`);
  try {
    const metadata = await parseFromTokenizer(tokenizer, { duration: false });
    if (tokenizer.isExhausted) throw new FormatError('tooMuch', 'its structure has no end');
    return metadata;
  } catch (error) {
    if (tokenizer.isExhausted) throw new FormatError('tooMuch', 'its structure has no end');
    throw error;
  } finally {
    await tokenizer.close();
  }
}

function lengthOf(source: ByteSource, { format: facts }: IAudioMetadata): number | null {
  if (facts.duration !== undefined && Number.isFinite(facts.duration)) return facts.duration;
  // Constant bit rate: what is left of the bytes tells the length.
  return facts.bitrate ? (source.size * 8) / facts.bitrate : null;
}

const withTexts = (fields: Fields, texts: Partial<Fields>): Fields => ({
  ...fields,
  ...Object.fromEntries(Object.entries(texts).filter(([name]) => fields[name as keyof Fields] === null)),
});

function toPictures(metadata: IAudioMetadata): PictureFact[] {
  return (metadata.common.picture ?? []).map(({ format, data, type }) =>
    pictureFact(roleOfWords(type ?? ''), format, data),
  );
}

const positive = (value: number | null | undefined): number | null => (value && value > 0 ? value : null);

/**
 * The parsing package's common view as our fields, with what our own reading of the tags says over it. A genre stays
 * the package's, which knows the numbers that stand for names.
 */
function toFields(metadata: IAudioMetadata, own: Fields | null): Fields {
  const { common } = metadata;
  const said = Object.entries(own ?? readPackageTags(metadata)).filter(
    ([name, value]) => value !== null && name !== 'genre',
  );
  return {
    ...EMPTY_FIELDS,
    title: common.title || null,
    artist: toTexts(common.artists?.length ? common.artists : [common.artist ?? '']),
    albumArtist: common.albumartist || null,
    album: common.album || null,
    date: dateIn(common.date ?? String(common.year ?? '')),
    track: positive(common.track.no),
    tracks: positive(common.track.of),
    disc: positive(common.disk.no),
    discs: positive(common.disk.of),
    genre: toTexts(common.genre ?? []),
    composer: toTexts(common.composer ?? []),
    compilation: common.compilation ? true : null,
    ...Object.fromEntries(said),
  };
}
