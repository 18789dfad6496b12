import { parseFromTokenizer, type IAudioMetadata } from 'music-metadata';
import { cachedSource, type ByteSource } from '$lib/core/bytes';
import {
  EMPTY_FIELDS,
  FORMAT_NAMES,
  PICTURE_ROLES,
  cleanChapter,
  cleanFields,
  dateIn,
  roleOfWords,
  toTexts,
  type Chapter,
  type Content,
  type Facts,
  type Fields,
  type FormatId,
  type NativeTag,
  type PictureFact,
  type Stream,
  type Track,
  type UnreadFile,
} from '$lib/core/items';
import { FormatError, type NativeRead } from '../format';
import { pictureFact } from '../picture-fact';
import { readFlac, readFlacComments } from '../flac';
import { readId3, saidById3 } from '../id3';
import { matroskaFields, readMatroskaFacts } from '../matroska';
import { findFirstFrame, isFrameHeader } from '../mp3';
import { itemFields, readMp4, readMp4Facts, type Mp4Structure } from '../mp4';
import { readOgg, type OggCodec } from '../ogg';
import { namedEntries, picturesIn, readComment } from '../vorbis-comment';
import { WRITABLE } from '../writable';
import { MeteredSource } from './metered-source';
import { commentTags, nativeTags } from './native-tags';
import { readPackageTags } from './package-tags';
import {
  checkAiff,
  readChunkTag,
  checkFlac,
  checkMp3,
  checkMp3Frame,
  checkMp4,
  checkOgg,
  checkWav,
} from './whole';
import { fitsExtension } from './media-names';
import { sniffFormat } from './sniff';
import { SourceTokenizer } from './tokenizer';
import { flacView, isOgg, mp3View, mp4View } from './view';

/** What a take-in learns of one file. */
export interface MediaRead {
  readonly format: FormatId;
  readonly facts: Facts;
  /** What it says. */
  readonly file: Content;
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
    const read = await readParsed(cached, format, evenCut);
    return { ...mended(read, evenCut), bytesRead: cached.bytesFetched };
  } catch (error) {
    throw asUnreadable(error);
  }
}

/** What was read as it can be written anywhere, so that no name, tag or address fails by it later. */
function mended<R extends Omit<MediaRead, 'bytesRead'>>(read: R, isCut: boolean): R {
  const { facts, file } = read;
  const content: Content = {
    ...file,
    fields: cleanFields(file.fields),
    chapters: withOpenEnds(file.chapters.map(cleanChapter), facts.durationSeconds),
  };
  return { ...read, file: content, facts: { ...facts, ...(isCut && { isCut }) } };
}

/** Seconds by which an end may miss the next start and still mean it: times are rounded. */
const SAME_TIME = 0.5;

/** Chapters without the ends that say no more than that the next one begins, or that the file is over. */
function withOpenEnds(chapters: readonly Chapter[], durationSeconds: number | null): readonly Chapter[] {
  return chapters.map((chapter, index) => {
    const next = chapters[index + 1]?.startSeconds ?? durationSeconds;
    const { endSeconds } = chapter;
    if (endSeconds === null || (next !== null && endSeconds < next - SAME_TIME)) return chapter;
    return { ...chapter, endSeconds: null };
  });
}

/** The bytes of one of a file's pictures, in the order in which its facts list them; null when it has fewer. */
export async function readPicture(
  source: ByteSource,
  index: number,
): Promise<{ mime: string; bytes: Uint8Array } | null> {
  const cached = cachedSource(new MeteredSource(source));
  const format = await sniffFormat(cached);
  if (format === 'matroska') return (await readMatroskaFacts(cached, true)).pictures[index] ?? null;
  if (format === null) return null;
  if (isOgg(format)) {
    const { comment } = await readOgg(cached, format);
    return (comment && picturesIn(namedEntries(comment))[index]) ?? null;
  }
  const { metadata } = await parseAs(cached, format, true);
  const picture = metadata.common.picture?.[index];
  return picture ? { mime: picture.format, bytes: picture.data } : null;
}

/** The bytes of the picture of one of a file's chapters, by their hash; null when none has it. */
export async function readChapterPicture(
  source: ByteSource,
  hash: number,
): Promise<{ mime: string; bytes: Uint8Array } | null> {
  const cached = cachedSource(new MeteredSource(source));
  const format = await sniffFormat(cached);
  const own = format === null ? undefined : await WRITABLE.get(format)?.load();
  return (await own?.readChapterPicture?.(cached, hash)) ?? null;
}

interface Parsed {
  readonly metadata: IAudioMetadata;
  /** What our own reading of its tags says, which comes before the package's. */
  readonly own: NativeRead | null;
  readonly mp4: Mp4Structure | null;
}

/** Formats that the parsing package reads, in part. */
type Packaged = Exclude<FormatId, OggCodec | 'matroska'>;

/**
 * The one way in which tags are read, whoever asks. The structure is read once, for the tags and for whether its end is
 * there.
 */
async function parseAs(source: ByteSource, format: Packaged, evenCut: boolean): Promise<Parsed> {
  const none = { own: null, mp4: null };
  if (format === 'flac') {
    const flac = await readFlac(source);
    if (!evenCut) await checkFlac(source, flac);
    const own = await readFlacComments(source, flac);
    return { ...none, own, metadata: await parse(flacView(source, flac), format, true) };
  }
  if (format === 'mp4') {
    const mp4 = await readMp4(source, evenCut);
    if (!evenCut) checkMp4(source, mp4);
    const fields = itemFields(mp4);
    const own = fields && { fields, chapters: [], timed: [] };
    return { ...none, mp4, own, metadata: await parse(mp4View(source, mp4), format) };
  }
  if (format === 'mp3') return parseMp3(source, evenCut);
  if (!evenCut) await (format === 'wav' ? checkWav(source) : checkAiff(source));
  const own = await readChunkTag(source, format === 'wav' ? 'riff' : 'iff');
  return { ...none, own, metadata: await parse(source, format) };
}

async function parseMp3(source: ByteSource, evenCut: boolean): Promise<Parsed> {
  const id3 = await readId3(source);
  const start = await soundStart(source, id3?.size ?? 0);
  if (!evenCut) await checkMp3(source, start);
  await checkMp3Frame(source, start);
  const view = mp3View(source, id3, start);
  const own = id3 && saidById3(id3);
  return { own, mp4: null, metadata: await parse(view, 'mp3', own !== null) };
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
  const head = await source.read(at, at + 4);
  return isFrameHeader(head, 0) ? at : ((await findFirstFrame(source, at)) ?? at);
}

/** Endings by which the parsing package knows its parsers, whatever the file is called. */
const PACKAGE_ENDINGS: Readonly<Record<Packaged, string>> = {
  mp3: 'mp3',
  flac: 'flac',
  mp4: 'm4a',
  wav: 'wav',
  aiff: 'aiff',
};

/**
 * @param headOnly leaves tags at the end unread: behind a full tag at the start they only repeat it in
 *   fewer letters, and looking for them costs as much as all the rest
 */
async function parse(source: ByteSource, format: Packaged, headOnly = false): Promise<IAudioMetadata> {
  const tokenizer = new SourceTokenizer(source, `file.${PACKAGE_ENDINGS[format]}`, headOnly);
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
  evenCut: boolean,
): Promise<Omit<MediaRead, 'bytesRead'>> {
  if (format === 'matroska') return readMatroska(source, evenCut);
  if (isOgg(format)) return readOggMedia(source, format, evenCut);
  const { metadata, own, mp4 } = await parseAs(source, format, evenCut);
  const native = nativeTags(metadata);
  const said = { fields: toFields(metadata, own?.fields ?? null), pictures: toPictures(metadata) };
  const tagFormats = Object.keys(metadata.native);
  if (mp4) {
    const { streams, tracks, chapters, durationSeconds, locked } = await readMp4Facts(source, mp4);
    // The parsing package calls these by the name of a program; they are the container's own.
    const sorts = tagFormats.length > 0 ? [FORMAT_NAMES.mp4] : [];
    const facts = { tagFormats: sorts, streams, durationSeconds, ...(locked && { locked }) };
    return { format, native, file: { ...said, chapters, ...several(tracks) }, facts };
  }
  const durationSeconds = lengthOf(source, metadata);
  const facts = { tagFormats, streams: [soundStream(metadata)], durationSeconds };
  const { chapters = [], timed = [] } = own ?? {};
  return { format, native, file: { ...said, chapters, ...(timed.length > 0 && { timed }) }, facts };
}

/** Ogg is read by our own reader alone: all that it says lies in its comments and its first page. */
async function readOggMedia(
  source: ByteSource,
  format: OggCodec,
  evenCut: boolean,
): Promise<Omit<MediaRead, 'bytesRead'>> {
  if (!evenCut) await checkOgg(source);
  const { stream, durationSeconds, comment } = await readOgg(source, format);
  const { fields, chapters, timed } = comment ? readComment(comment) : NOTHING_SAID;
  const entries = comment ? namedEntries(comment) : [];
  const pictures = picturesIn(entries).map(({ code, mime, bytes }) =>
    pictureFact(PICTURE_ROLES[code] ?? 'other', mime, bytes),
  );
  return {
    format,
    native: commentTags(entries),
    file: { fields, pictures, chapters, ...(timed.length > 0 && { timed }) },
    facts: { streams: [stream], durationSeconds, tagFormats: entries.length > 0 ? ['vorbis'] : [] },
  };
}

const NOTHING_SAID: NativeRead = { fields: EMPTY_FIELDS, chapters: [], timed: [] };

/** One track alone says nothing that its item does not. */
const several = (tracks: readonly Track[]) => (tracks.length > 1 ? { tracks } : {});

/** Matroska is read by our own reader alone: the parsing package would read every cluster of it. */
async function readMatroska(source: ByteSource, evenCut: boolean): Promise<Omit<MediaRead, 'bytesRead'>> {
  const facts = await readMatroskaFacts(source, evenCut);
  const { streams, tracks, chapters, durationSeconds, tags } = facts;
  return {
    format: 'matroska',
    file: {
      fields: matroskaFields(facts),
      chapters,
      ...several(tracks),
      pictures: facts.pictures.map(({ name, mime, bytes }) =>
        pictureFact(/cover/i.test(name) ? 'front' : 'other', mime, bytes),
      ),
    },
    native: tags.map(({ target, name, value }) => ({
      format: 'Matroska',
      id: `${target}:${name}`,
      value: value.slice(0, 400),
    })),
    facts: { streams, durationSeconds, tagFormats: [facts.docType === 'webm' ? 'WebM' : 'Matroska'] },
  };
}

function lengthOf(source: ByteSource, { format: facts }: IAudioMetadata): number | null {
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
