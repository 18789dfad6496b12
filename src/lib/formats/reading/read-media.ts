import { cachedSource, type ByteSource } from '$lib/core/bytes';
import {
  FORMAT_NAMES,
  PICTURE_ROLES,
  cleanChapter,
  cleanFields,
  type Chapter,
  type Content,
  type FormatId,
} from '$lib/core/items';
import { readChapterPicture as dsdChapterPicture } from '../dsd';
import { FormatError } from '../format';
import { matroskaFields, readMatroskaFacts } from '../matroska';
import { readOgg, type OggCodec } from '../ogg';
import { readChapterPicture as mp3ChapterPicture } from '../mp3';
import { pictureFact } from '../picture-fact';
import { readChapterPicture as mp4ChapterPicture } from '../mp4';
import { readChapterPicture as chunkedChapterPicture, type ChunkOrder } from '../riff';
import { OPUS_MAP, VORBIS_MAP, namedEntries, picturesIn, readComment } from '../vorbis-comment';
import {
  NOTHING_SAID,
  UnreadableError,
  inTime,
  several,
  type FormatRead,
  type MediaRead,
  type PictureBytes,
} from './media-read';
import { MeteredSource } from './metered-source';
import { commentTags } from './native-tags';
import { flacPictures, readFlacMedia } from './read-flac';
import { id3Pictures } from './read-id3';
import { mp3Pictures, readMp3Media } from './read-mp3';
import { mp4Pictures, readMp4Media } from './read-mp4';
import { readChunkedMedia } from './read-chunked';
import { dsdPictures, readDsdMedia } from './read-dsd';
import { checkAiff, checkOgg, checkWav, readChunkTag } from './whole';
import { fitsExtension } from './media-names';
import { sniffFormat } from './sniff';

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
    const read = await readAs(cached, format, evenCut);
    return { ...mended(read, evenCut), bytesRead: cached.bytesFetched };
  } catch (error) {
    throw asUnreadable(error);
  }
}

/** What was read as it can be written anywhere, so that no name, tag or address fails by it later. */
function mended(read: FormatRead, isCut: boolean): FormatRead {
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
export async function readPicture(source: ByteSource, index: number): Promise<PictureBytes | null> {
  const cached = cachedSource(new MeteredSource(source));
  const format = await sniffFormat(cached);
  return format === null ? null : ((await PICTURES[format](cached))[index] ?? null);
}

async function oggPictures(source: ByteSource, format: OggCodec): Promise<readonly PictureBytes[]> {
  const { comment } = await readOgg(source, format);
  return comment ? picturesIn(namedEntries(comment)) : [];
}

async function chunkedPictures(source: ByteSource, order: ChunkOrder): Promise<readonly PictureBytes[]> {
  const found = await readChunkTag(source, order);
  return found ? id3Pictures(found.tag) : [];
}

const PICTURES: Readonly<Record<FormatId, (source: ByteSource) => Promise<readonly PictureBytes[]>>> = {
  mp3: mp3Pictures,
  flac: flacPictures,
  mp4: mp4Pictures,
  matroska: async (source) => (await readMatroskaFacts(source, true)).pictures,
  wav: (source) => chunkedPictures(source, 'riff'),
  aiff: (source) => chunkedPictures(source, 'iff'),
  dsf: dsdPictures,
  dff: dsdPictures,
  vorbis: (source) => oggPictures(source, 'vorbis'),
  opus: (source) => oggPictures(source, 'opus'),
  oggFlac: (source) => oggPictures(source, 'oggFlac'),
};

/** The bytes of the picture of one of a file's chapters, by their hash; null when none has it. */
export async function readChapterPicture(source: ByteSource, hash: number): Promise<PictureBytes | null> {
  const cached = cachedSource(new MeteredSource(source));
  const format = await sniffFormat(cached);
  if (format === 'mp3') return mp3ChapterPicture(cached, hash);
  if (format === 'mp4') return mp4ChapterPicture(cached, hash);
  if (format === 'dsf' || format === 'dff') return dsdChapterPicture(cached, hash);
  return format === 'wav' || format === 'aiff' ? chunkedChapterPicture(cached, hash) : null;
}

/** The one way in which a format is read, whoever asks: its structure is read once, for all that is told of it. */
async function readAs(source: ByteSource, format: FormatId, evenCut: boolean): Promise<FormatRead> {
  switch (format) {
    case 'mp3':
      return readMp3Media(source, evenCut);
    case 'flac':
      return readFlacMedia(source, evenCut);
    case 'mp4':
      return readMp4Media(source, evenCut);
    case 'matroska':
      return readMatroska(source, evenCut);
    case 'wav':
      if (!evenCut) await checkWav(source);
      return readChunkedMedia(source, 'wav');
    case 'aiff':
      if (!evenCut) await checkAiff(source);
      return readChunkedMedia(source, 'aiff');
    case 'dsf':
    case 'dff':
      return readDsdMedia(source, evenCut);
    default:
      return readOggMedia(source, format, evenCut);
  }
}

/** Ogg is read by our own reader alone: all that it says lies in its comments and its first page. */
async function readOggMedia(source: ByteSource, format: OggCodec, evenCut: boolean): Promise<FormatRead> {
  if (!evenCut) await checkOgg(source);
  const { stream, durationSeconds, comment } = await readOgg(source, format);
  const read = comment ? readComment(comment, format === 'opus' ? OPUS_MAP : VORBIS_MAP) : NOTHING_SAID;
  const entries = comment ? namedEntries(comment) : [];
  const pictures = picturesIn(entries).map(({ code, mime, bytes }) =>
    pictureFact(PICTURE_ROLES[code] ?? 'other', mime, bytes),
  );
  return {
    format,
    native: commentTags(entries),
    file: { fields: read.fields, pictures, ...inTime(read) },
    facts: { streams: [stream], durationSeconds, tagFormats: entries.length > 0 ? ['vorbis'] : [] },
  };
}

/** Matroska is read by our own reader alone: its clusters are passed over. */
async function readMatroska(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
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
