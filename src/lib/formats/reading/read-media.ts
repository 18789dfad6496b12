import { parseFromTokenizer, type IAudioMetadata } from 'music-metadata';
import { cachedSource, fnv1a, type ByteSource } from '$lib/core/bytes';
import {
  EMPTY_FIELDS,
  FORMAT_NAMES,
  type Chapter,
  type Facts,
  type Fields,
  type FormatId,
  type NativeTag,
  type PictureFact,
  type Stream,
  type UnreadFile,
  wellFormed,
} from '$lib/core/items';
import { FormatError } from '../format';
import { id3Chapters, readId3 } from '../id3';
import { readMatroskaFacts, type MatroskaFacts } from '../matroska';
import { readMp4Facts } from '../mp4';
import { readOggDuration, readPreSkip } from '../ogg';
import { nativeTags } from './native-tags';
import { saidFields } from './said-fields';
import { readPictureSize } from './picture-size';
import { checkWhole } from './whole';
import { fitsExtension, sniffFormat } from './sniff';
import { SourceTokenizer } from './tokenizer';

/** What a take-in learns of one file. */
export interface MediaRead {
  readonly format: FormatId;
  readonly facts: Facts;
  readonly fields: Fields;
  readonly native: readonly NativeTag[];
  /** Bytes read from the file for it. */
  readonly bytesRead: number;
}

/** A file that cannot be taken in, with a reason that a person can act on. */
export class UnreadableError extends Error {
  override readonly name = 'UnreadableError';
  constructor(
    readonly code: UnreadFile['code'],
    detail: string,
  ) {
    super(detail);
  }
}

/**
 * Reads tags, pictures' facts, chapters, streams and length of one file, by slices.
 * @throws {UnreadableError} when it is empty, cut short, or no media
 */
export async function readMedia(source: ByteSource, path: string): Promise<MediaRead> {
  if (source.size === 0) throw new UnreadableError('empty', 'it holds no bytes');
  const cached = cachedSource(source);
  const format = await sniffFormat(cached);
  if (format === null) throw new UnreadableError('notMedia', 'its first bytes are of no known media format');
  if (!fitsExtension(format, path)) throw new UnreadableError('otherwise', FORMAT_NAMES[format]);
  try {
    await checkWhole(cached, format);
    const read = await readParsed(cached, format, path);
    return { ...mended(read), bytesRead: cached.bytesFetched };
  } catch (error) {
    throw asUnreadable(error);
  }
}

/** What was read with half letter pairs replaced, so that no name, tag or address fails by them later. */
function mended<R extends Omit<MediaRead, 'bytesRead'>>(read: R): R {
  const { facts, fields } = read;
  const chapters = facts.chapters.map(({ title, ...rest }) => ({ ...rest, title: title.toWellFormed() }));
  return { ...read, fields: wellFormed(fields), facts: { ...facts, chapters } };
}

/** Only the fields and pictures of a file, for reading back what was written. */
export async function readTags(
  source: ByteSource,
  path: string,
): Promise<{ fields: Fields; pictures: readonly PictureFact[] }> {
  const cached = cachedSource(source);
  const metadata = await parse(cached, path);
  return { fields: toFields(metadata), pictures: toPictures(metadata) };
}

/** The bytes of one of a file's pictures, in the order in which its facts list them; null when it has fewer. */
export async function readPicture(
  source: ByteSource,
  path: string,
  index: number,
): Promise<{ mime: string; bytes: Uint8Array } | null> {
  const cached = cachedSource(source);
  if ((await sniffFormat(cached)) === 'matroska')
    return (await readMatroskaFacts(cached)).pictures[index] ?? null;
  const metadata = await parse(cached, path);
  const picture = metadata.common.picture?.[index];
  return picture ? { mime: picture.format, bytes: picture.data } : null;
}

/**
 * @param headOnly leaves tags at the end unread: behind a full tag at the start they only repeat it in
 *   fewer letters, and looking for them costs as much as all the rest
 */
async function parse(source: ByteSource, path: string, headOnly = false): Promise<IAudioMetadata> {
  const tokenizer = new SourceTokenizer(source, path, headOnly);
  try {
    return await parseFromTokenizer(tokenizer, { duration: false, skipPostHeaders: headOnly });
  } finally {
    await tokenizer.close();
  }
}

function asUnreadable(error: unknown): Error {
  if (error instanceof UnreadableError) return error;
  if (error instanceof FormatError)
    return new UnreadableError(error.code === 'damaged' ? 'cutShort' : 'unknownFormat', error.message);
  if (error instanceof DOMException) return new UnreadableError('unreachable', error.message);
  const message = error instanceof Error ? error.message : String(error);
  return new UnreadableError(/end.of.(stream|file)/i.test(message) ? 'cutShort' : 'unknownFormat', message);
}

async function readParsed(
  source: ByteSource,
  format: FormatId,
  path: string,
): Promise<Omit<MediaRead, 'bytesRead'>> {
  if (format === 'matroska') return readMatroska(source);
  const id3 = format === 'mp3' ? await readId3(source) : null;
  const metadata = await parse(source, path, format === 'flac' || id3 !== null);
  const pictures = toPictures(metadata);
  const tagFormats = Object.keys(metadata.native);
  const native = nativeTags(metadata);
  const base = { format, native, fields: toFields(metadata) };
  const common = { pictures, tagFormats };
  if (format === 'mp4') {
    const { streams, chapters, durationSeconds } = await readMp4Facts(source);
    return { ...base, facts: { ...common, streams, chapters, durationSeconds } };
  }
  const durationSeconds = await lengthOf(source, format, metadata);
  const chapters = id3 ? id3Chapters(id3) : commentChapters(native);
  return { ...base, facts: { ...common, streams: [soundStream(metadata)], chapters, durationSeconds } };
}

/** Matroska is read by our own reader alone: the parsing package would read every cluster of it. */
async function readMatroska(source: ByteSource): Promise<Omit<MediaRead, 'bytesRead'>> {
  const facts = await readMatroskaFacts(source);
  const { streams, chapters, durationSeconds, tags } = facts;
  return {
    format: 'matroska',
    fields: matroskaFields(facts),
    native: tags.map(({ target, name, value }) => ({
      format: 'Matroska',
      id: `${target}:${name}`,
      value: value.slice(0, 400),
    })),
    facts: {
      streams,
      chapters,
      durationSeconds,
      tagFormats: tags.length > 0 ? ['Matroska'] : [],
      pictures: facts.pictures.map(({ name, mime, bytes }) =>
        pictureFact(/cover/i.test(name) ? 'Cover (front)' : name, mime, bytes),
      ),
    },
  };
}

async function lengthOf(
  source: ByteSource,
  format: FormatId,
  { format: facts }: IAudioMetadata,
): Promise<number | null> {
  if (format === 'opus') return readOggDuration(source, null, await readPreSkip(source));
  if (format === 'vorbis') return readOggDuration(source, facts.sampleRate ?? 44_100);
  if (facts.duration !== undefined) return facts.duration;
  // Constant bit rate: what is left of the bytes tells the length.
  return facts.bitrate ? (source.size * 8) / facts.bitrate : null;
}

function soundStream({ format }: IAudioMetadata): Stream {
  return {
    type: 'sound',
    codec: format.codec ?? null,
    channels: format.numberOfChannels ?? null,
    sampleRate: format.sampleRate ?? null,
    width: null,
    height: null,
  };
}

function toPictures(metadata: IAudioMetadata): PictureFact[] {
  return (metadata.common.picture ?? []).map(({ format, data, type }) =>
    pictureFact(type ?? '', format, data),
  );
}

function pictureFact(role: string, mime: string, bytes: Uint8Array): PictureFact {
  const size = readPictureSize(bytes);
  return {
    role,
    mime,
    bytes: bytes.length,
    width: size?.width ?? null,
    height: size?.height ?? null,
    hash: fnv1a(bytes),
  };
}

const joined = (values: readonly string[] | undefined): string | null => {
  const text = (values ?? []).filter((value) => value !== '').join('; ');
  return text === '' ? null : text;
};
const positive = (value: number | null | undefined): number | null => (value && value > 0 ? value : null);

/** The parsing package's common view as our fields. */
function toFields(metadata: IAudioMetadata): Fields {
  const { common } = metadata;
  return {
    ...EMPTY_FIELDS,
    title: common.title || null,
    artist:
      slashed(metadata, 'TPE1') ??
      joined(common.artists?.length ? common.artists : common.artist ? [common.artist] : []),
    albumArtist: common.albumartist || null,
    album: common.album || null,
    year: positive(common.year),
    track: positive(common.track.no),
    tracks: positive(common.track.of),
    disc: positive(common.disk.no),
    discs: positive(common.disk.of),
    genre: joined(common.genre),
    composer: slashed(metadata, 'TCOM') ?? joined(common.composer),
    compilation: common.compilation ? true : null,
    ...saidFields(metadata),
  };
}

/**
 * Up to ID3v2.3 the package parts these texts at every slash; a slash may as well belong to a name,
 * so they are read as one text, as they stand.
 */
function slashed({ native }: IAudioMetadata, id: 'TPE1' | 'TCOM'): string | null {
  const values = native['ID3v2.3']?.filter((tag) => tag.id === id).map(({ value }) => String(value));
  return values?.length ? values.join('/') : null;
}

/** Fields from the names of Matroska's tag registry (RFC 9559, section 5.1.8). */
function matroskaFields({ title, tags }: MatroskaFacts): Fields {
  const tag = (target: number, ...names: string[]) =>
    tags.find((candidate) => candidate.target === target && names.includes(candidate.name.toUpperCase()))
      ?.value || null;
  const either = (...names: string[]) => tag(30, ...names) ?? tag(50, ...names);
  const year = /\d{4}/.exec(either('DATE_RELEASED', 'DATE_RECORDED', 'DATE', 'YEAR') ?? '')?.[0];
  const number = Number.parseInt(tag(30, 'PART_NUMBER') ?? either('TRACK', 'TRACKNUMBER') ?? '', 10);
  return {
    ...EMPTY_FIELDS,
    title: tag(30, 'TITLE') ?? title,
    artist: either('ARTIST', 'LEAD_PERFORMER'),
    album: either('ALBUM'),
    albumArtist: either('ALBUM_ARTIST', 'ALBUMARTIST'),
    genre: either('GENRE'),
    composer: either('COMPOSER'),
    year: year ? Number(year) : null,
    track: Number.isFinite(number) && number > 0 ? number : null,
  };
}

/** Chapters as comments: `CHAPTER001` with a time, `CHAPTER001NAME` with a title. */
function commentChapters(native: readonly NativeTag[]): Chapter[] {
  const values = new Map(native.map(({ id, value }) => [id.toUpperCase(), value]));
  return [...values]
    .filter(([id]) => /^CHAPTER\d{1,3}$/.test(id))
    .map(([id, value]) => {
      const [hours = 0, minutes = 0, seconds = 0] = value.split(':').map(Number);
      return { startSeconds: hours * 3600 + minutes * 60 + seconds, title: values.get(`${id}NAME`) ?? '' };
    })
    .filter(({ startSeconds }) => Number.isFinite(startSeconds));
}
