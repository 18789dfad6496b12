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
  cleanFields,
  cleanText,
} from '$lib/core/items';
import { FormatError } from '../format';
import { readFlac } from '../flac';
import { id3Chapters, readId3, saidById3, type Id3Tag } from '../id3';
import { readMatroskaFacts, type MatroskaFacts } from '../matroska';
import { itemFields, readMp4, readMp4Facts, type Mp4Structure } from '../mp4';
import { readOggDuration, readPreSkip } from '../ogg';
import { MeteredSource } from './metered-source';
import { nativeTags } from './native-tags';
import { saidFields } from './said-fields';
import { readPictureSize } from './picture-size';
import {
  checkAiff,
  checkChunks,
  checkFlac,
  checkMp3,
  checkMp3Frame,
  checkMp4,
  checkOgg,
  checkWav,
} from './whole';
import { fitsExtension, sniffFormat } from './sniff';
import { SourceTokenizer } from './tokenizer';
import { flacView, isOgg, mp3View, mp4View, oggView } from './view';

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
 * @param evenCut takes what is there of a file that is cut short
 * @throws {UnreadableError} when it is empty, cut short, no media, or asks for more work than any real file
 */
export async function readMedia(source: ByteSource, path: string, evenCut = false): Promise<MediaRead> {
  if (source.size === 0) throw new UnreadableError('empty', 'it holds no bytes');
  const cached = cachedSource(new MeteredSource(source));
  try {
    const format = await sniffFormat(cached);
    if (format === null)
      throw new UnreadableError('notMedia', 'its first bytes are of no known media format');
    if (!fitsExtension(format, path)) throw new UnreadableError('otherwise', FORMAT_NAMES[format]);
    const read = await readParsed(cached, format, path, evenCut);
    return { ...mended(read, evenCut), bytesRead: cached.bytesFetched };
  } catch (error) {
    throw asUnreadable(error);
  }
}

/** What was read as it can be written anywhere, so that no name, tag or address fails by it later. */
function mended<R extends Omit<MediaRead, 'bytesRead'>>(read: R, isCut: boolean): R {
  const { facts, fields } = read;
  const chapters = facts.chapters.map(({ title, ...rest }) => ({ ...rest, title: cleanText(title) }));
  const cut = isCut ? { isCut } : {};
  return { ...read, fields: cleanFields(fields), facts: { ...facts, ...cut, chapters } };
}

/** The bytes of one of a file's pictures, in the order in which its facts list them; null when it has fewer. */
export async function readPicture(
  source: ByteSource,
  path: string,
  index: number,
): Promise<{ mime: string; bytes: Uint8Array } | null> {
  const cached = cachedSource(new MeteredSource(source));
  const format = await sniffFormat(cached);
  if (format === 'matroska') return (await readMatroskaFacts(cached, true)).pictures[index] ?? null;
  if (format === null) return null;
  const { metadata } = await parseAs(cached, format, path, true);
  const picture = metadata.common.picture?.[index];
  return picture ? { mime: picture.format, bytes: picture.data } : null;
}

interface Parsed {
  readonly metadata: IAudioMetadata;
  /** What our own reading of its tags says, which comes before the package's. */
  readonly native: Fields | null;
  readonly id3: Id3Tag | null;
  readonly mp4: Mp4Structure | null;
}

/**
 * The one way in which tags are read, whoever asks. The structure is read once, for the tags and for whether its end is
 * there.
 */
async function parseAs(
  source: ByteSource,
  format: FormatId,
  path: string,
  evenCut: boolean,
): Promise<Parsed> {
  const none = { native: null, id3: null, mp4: null };
  if (format === 'flac') {
    const flac = await readFlac(source);
    if (!evenCut) await checkFlac(source, flac);
    return { ...none, metadata: await parse(await flacView(source, flac), path, true) };
  }
  if (isOgg(format)) {
    if (!evenCut) await checkOgg(source);
    return { ...none, metadata: await parse(await oggView(source, format), path) };
  }
  if (format === 'mp4') {
    const mp4 = await readMp4(source, evenCut);
    if (!evenCut) checkMp4(source, mp4);
    return { ...none, mp4, native: itemFields(mp4), metadata: await parse(mp4View(source, mp4), path) };
  }
  if (format === 'mp3') return parseMp3(source, path, evenCut);
  if (!evenCut) await (format === 'wav' ? checkWav(source) : checkAiff(source));
  await checkChunks(source, format === 'wav');
  return { ...none, metadata: await parse(source, path) };
}

async function parseMp3(source: ByteSource, path: string, evenCut: boolean): Promise<Parsed> {
  const id3 = await readId3(source);
  const start = await soundStart(source, id3?.size ?? 0);
  if (!evenCut) await checkMp3(source, start);
  await checkMp3Frame(source, start);
  const view = id3 ? mp3View(source, id3, start) : source;
  const native = id3 && saidById3(id3);
  return { id3, mp4: null, native, metadata: await parse(view, path, native !== null) };
}

/** Tags before the sound beside the first; more are damage. */
const MOST_LEADING_TAGS = 8;

async function soundStart(source: ByteSource, first: number): Promise<number> {
  let at = first;
  for (let count = 0; first > 0 && count < MOST_LEADING_TAGS; count++) {
    const next = await readId3(source, at);
    if (!next) break;
    at += next.size;
  }
  return at;
}

/**
 * @param headOnly leaves tags at the end unread: behind a full tag at the start they only repeat it in
 *   fewer letters, and looking for them costs as much as all the rest
 */
async function parse(source: ByteSource, path: string, headOnly = false): Promise<IAudioMetadata> {
  const tokenizer = new SourceTokenizer(source, path, headOnly);
  try {
    const metadata = await parseFromTokenizer(tokenizer, { duration: false, skipPostHeaders: headOnly });
    if (tokenizer.isExhausted) throw new FormatError('tooMuch', 'its structure has no end');
    return metadata;
  } catch (error) {
    if (tokenizer.isExhausted) throw new FormatError('tooMuch', 'its structure has no end');
    throw error;
  } finally {
    await tokenizer.close();
  }
}

function asUnreadable(error: unknown): Error {
  if (error instanceof UnreadableError) return error;
  if (error instanceof FormatError)
    return new UnreadableError(
      error.code === 'cutShort' || error.code === 'tooMuch' ? error.code : 'unknownFormat',
      error.message,
    );
  if (error instanceof DOMException) return new UnreadableError('unreachable', error.message);
  const message = error instanceof Error ? error.message : String(error);
  return new UnreadableError(/end.of.(stream|file)/i.test(message) ? 'cutShort' : 'unknownFormat', message);
}

async function readParsed(
  source: ByteSource,
  format: FormatId,
  path: string,
  evenCut: boolean,
): Promise<Omit<MediaRead, 'bytesRead'>> {
  if (format === 'matroska') return readMatroska(source, evenCut);
  const { metadata, native: own, id3, mp4 } = await parseAs(source, format, path, evenCut);
  const pictures = toPictures(metadata);
  const tagFormats = Object.keys(metadata.native);
  const native = nativeTags(metadata);
  const base = { format, native, fields: toFields(metadata, own) };
  const common = { pictures, tagFormats };
  if (mp4) {
    const { streams, chapters, durationSeconds, locked } = await readMp4Facts(source, mp4);
    return { ...base, facts: { ...common, streams, chapters, durationSeconds, ...(locked && { locked }) } };
  }
  const durationSeconds = await lengthOf(source, format, metadata);
  const chapters = id3 ? id3Chapters(id3) : commentChapters(native);
  return { ...base, facts: { ...common, streams: [soundStream(metadata)], chapters, durationSeconds } };
}

/** Matroska is read by our own reader alone: the parsing package would read every cluster of it. */
async function readMatroska(source: ByteSource, evenCut: boolean): Promise<Omit<MediaRead, 'bytesRead'>> {
  const facts = await readMatroskaFacts(source, evenCut);
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

/**
 * The parsing package's common view as our fields, with what our own reading of the tags says over it. A genre stays
 * the package's, which knows the numbers that stand for names.
 */
function toFields(metadata: IAudioMetadata, own: Fields | null): Fields {
  const { common } = metadata;
  const said = Object.entries(own ?? {}).filter(([name, value]) => value !== null && name !== 'genre');
  return {
    ...EMPTY_FIELDS,
    title: common.title || null,
    artist: joined(common.artists?.length ? common.artists : common.artist ? [common.artist] : []),
    albumArtist: common.albumartist || null,
    album: common.album || null,
    year: positive(common.year),
    track: positive(common.track.no),
    tracks: positive(common.track.of),
    disc: positive(common.disk.no),
    discs: positive(common.disk.of),
    genre: joined(common.genre),
    composer: joined(common.composer),
    compilation: common.compilation ? true : null,
    ...saidFields(metadata),
    ...Object.fromEntries(said),
  };
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
