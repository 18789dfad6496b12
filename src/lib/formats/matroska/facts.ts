import { readAscii, type ByteRange, type ByteSource } from '$lib/core/bytes';
import { cleanText, type Chapter, type Stream, type Track } from '$lib/core/items';
import { bytesOf, children, float, number, readContent, readElement, text } from '../ebml';
import { FormatError, limitParts } from '../format';
import { FLAG_IDS, ID } from './ids';
import { readAllTags, readSegment } from './segment';

export interface MatroskaTag {
  /** 50 for the whole release, 30 for the track itself (RFC 9559, section 5.1.8.1.1.1). */
  readonly target: number;
  readonly name: string;
  readonly value: string;
}

export interface MatroskaFacts {
  /** `matroska` or `webm`. */
  readonly docType: string;
  readonly streams: readonly Stream[];
  readonly tracks: readonly Track[];
  readonly chapters: readonly Chapter[];
  readonly durationSeconds: number | null;
  readonly title: string | null;
  readonly tags: readonly MatroskaTag[];
  readonly pictures: readonly AttachedPicture[];
}

export interface AttachedPicture {
  readonly name: string;
  readonly mime: string;
  readonly bytes: Uint8Array;
}

const TRACK_TYPES: Readonly<Record<number, Stream['type']>> = { 1: 'picture', 2: 'sound', 17: 'subtitle' };

/**
 * Streams, chapters, tags and length of a Matroska or WebM file. Clusters are never read: elements
 * behind them are found through the seek head.
 * @param evenCut takes what is there of a file that is cut short
 * @throws {FormatError} when it is no Matroska file, is cut short, or holds more elements than real files do
 */
export async function readMatroskaFacts(source: ByteSource, evenCut = false): Promise<MatroskaFacts> {
  const layout = await readSegment(source, evenCut);
  const { docType, elements } = layout;
  const load = async (id: number) => {
    const element = elements.get(id);
    return element ? readContent(source, element) : null;
  };
  const info = await load(ID.info);
  const tracks = await load(ID.tracks);
  const entries = tracks
    ? children(tracks)
        .filter(({ id }) => id === ID.trackEntry)
        .map(({ content, end }) => tracks.subarray(content, end))
    : [];
  const chapters = await load(ID.chapters);
  const tags = await readAllTags(source, layout);
  const attachments = await load(ID.attachments);
  return {
    docType,
    ...readInfo(info),
    streams: withBytes(entries, tags),
    tracks: entries.map(readTrack),
    chapters: chapters ? readChapters(chapters) : [],
    tags: tags ? readTags(tags) : [],
    pictures: attachments ? readAttachments(attachments) : [],
  };
}

function readInfo(info: Uint8Array | null): { durationSeconds: number | null; title: string | null } {
  if (!info) return { durationSeconds: null, title: null };
  const scale = number(info, ID.timestampScale) ?? 1_000_000;
  const duration = float(info, ID.duration);
  return { durationSeconds: duration && (duration * scale) / 1e9, title: text(info, ID.title) };
}

/** Streams with the bytes of their packets, as tags that are about one track say them (`NUMBER_OF_BYTES`). */
function withBytes(entries: readonly Uint8Array[], tags: Uint8Array | null): readonly Stream[] {
  const byUid = new Map<string, number>();
  for (const { id, content, end } of tags ? children(tags) : []) {
    const inside = id === ID.tag ? (tags as Uint8Array).subarray(content, end) : null;
    const uid = inside && bytesOf(bytesOf(inside, ID.targets) ?? NONE, ID.tagTrackUid);
    if (!inside || !uid) continue;
    for (const simple of children(inside).filter((one) => one.id === ID.simpleTag)) {
      const parts = inside.subarray(simple.content, simple.end);
      if (text(parts, ID.tagName)?.replace(/-\w+$/, '') !== 'NUMBER_OF_BYTES') continue;
      const bytes = Number(text(parts, ID.tagString));
      if (Number.isSafeInteger(bytes) && bytes >= 0) byUid.set(uid.join(), bytes);
    }
  }
  return entries.map((entry) => {
    const bytes = byUid.get((bytesOf(entry, ID.trackUid) ?? NONE).join());
    return { ...readStream(entry), ...(bytes !== undefined && { bytes }) };
  });
}

const NONE = new Uint8Array(0);

const typeOf = (inside: Uint8Array): Track['type'] =>
  TRACK_TYPES[number(inside, ID.trackType) ?? 0] ?? 'subtitle';

/** Flags that are not set where they are absent, and not said then. */
const ROLES = (['isOriginal', 'isCommentary', 'isForHearing', 'isForSeeing'] as const).map(
  (flag) => [flag, FLAG_IDS[flag]] as const,
);

/** What is absent has the value that RFC 9559, section 5.1.4.1, gives it. */
function readTrack(inside: Uint8Array): Track {
  const ascii = (id: number) => {
    const bytes = bytesOf(inside, id);
    return bytes && readAscii(bytes, 0, bytes.length).replace(/\0.*$/s, '');
  };
  const language = ascii(ID.languageBcp47) ?? ascii(ID.language) ?? 'eng';
  return {
    id: number(inside, ID.trackNumber) ?? 0,
    type: typeOf(inside),
    language: language === 'und' ? null : cleanText(language) || null,
    name: cleanText(text(inside, ID.trackName) ?? ''),
    isDefault: (number(inside, ID.flagDefault) ?? 1) === 1,
    isForced: number(inside, ID.flagForced) === 1,
    ...Object.fromEntries(ROLES.flatMap(([flag, id]) => (number(inside, id) === 1 ? [[flag, true]] : []))),
  };
}

function readStream(inside: Uint8Array): Stream {
  const video = bytesOf(inside, ID.video);
  const audio = bytesOf(inside, ID.audio);
  const codec = bytesOf(inside, ID.codec);
  const bits = audio && number(audio, ID.bitDepth);
  return {
    type: typeOf(inside),
    codec: codec && readAscii(codec, 0, codec.length),
    channels: audio && (number(audio, ID.channels) ?? 1),
    // What is heard, where a decoder makes more of fewer samples (RFC 9559, section 5.1.4.1.29.2).
    sampleRate: audio && (float(audio, ID.outputRate) ?? float(audio, ID.sampleRate) ?? 8000),
    width: video && number(video, ID.pixelWidth),
    height: video && number(video, ID.pixelHeight),
    ...(bits !== null && { bits }),
  };
}

const endOf = (nanoseconds: number | null) => (nanoseconds ? nanoseconds / 1e9 : null);

function readChapters(b: Uint8Array): Chapter[] {
  const edition = bytesOf(b, ID.edition);
  return edition ? chaptersIn(edition, [], 1) : [];
}

/** Chapters within chapters, at the most; more is damage. */
const MOST_LEVELS = 8;

/**
 * Chapters one after the other. One that holds others (RFC 9559, section 5.1.7.1.4) lends them its title; it stands by
 * itself only where it begins before the first of them.
 */
function chaptersIn(b: Uint8Array, above: readonly string[], level: number): Chapter[] {
  return children(b)
    .filter(({ id }) => id === ID.chapterAtom)
    .flatMap((atom) => {
      const inside = b.subarray(atom.content, atom.end);
      const display = bytesOf(inside, ID.chapterDisplay);
      const titles = [...above, (display && text(display, ID.chapterText)) ?? ''].filter(Boolean);
      const own: Chapter = {
        startSeconds: (number(inside, ID.chapterStart) ?? 0) / 1e9,
        endSeconds: endOf(number(inside, ID.chapterEnd)),
        title: titles.join(': '),
        link: null,
      };
      const inner = level < MOST_LEVELS ? chaptersIn(inside, titles, level + 1) : [];
      const [first] = inner;
      if (!first) return [own];
      return first.startSeconds > own.startSeconds ? [{ ...own, endSeconds: null }, ...inner] : inner;
    });
}

function readTags(b: Uint8Array): MatroskaTag[] {
  let count = 0;
  return children(b)
    .filter(({ id }) => id === ID.tag)
    .flatMap((tag) => {
      const inside = b.subarray(tag.content, tag.end);
      const targets = bytesOf(inside, ID.targets);
      const target = (targets && number(targets, ID.targetTypeValue)) ?? 50;
      return children(inside)
        .filter(({ id }) => id === ID.simpleTag)
        .map((simple) => {
          limitParts(++count, 'tags');
          const parts = inside.subarray(simple.content, simple.end);
          return { target, name: text(parts, ID.tagName) ?? '', value: text(parts, ID.tagString) ?? '' };
        });
    });
}

/** Attached files that are pictures (RFC 9559, section 5.1.6); the front cover is named `cover`. */
function readAttachments(b: Uint8Array): AttachedPicture[] {
  return children(b)
    .filter(({ id }) => id === ID.attachedFile)
    .map((file) => {
      const inside = b.subarray(file.content, file.end);
      const bytes = bytesOf(inside, ID.fileData) ?? new Uint8Array(0);
      return { name: text(inside, ID.fileName) ?? '', mime: text(inside, ID.fileType) ?? '', bytes };
    })
    .filter(({ mime }) => mime.startsWith('image/'));
}

/**
 * Where the clusters lie, which hold all samples.
 * @throws {FormatError} when it is no Matroska file
 */
export async function* clusterRanges(source: ByteSource): AsyncGenerator<ByteRange> {
  const ebml = await readElement(source, 0);
  const segment = ebml?.id === ID.ebml ? await readElement(source, ebml.end) : null;
  if (segment?.id !== ID.segment) throw new FormatError('notThisFormat', 'no segment behind an EBML header');
  for (let at = segment.content, count = 0; at < Math.min(segment.end, source.size); count++) {
    const element = await readElement(source, at, count);
    if (!element) return;
    if (element.id === ID.cluster) yield { start: element.content, end: Math.min(element.end, source.size) };
    at = element.end;
  }
}
