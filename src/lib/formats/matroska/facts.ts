import { readAscii, type ByteRange, type ByteSource } from '$lib/core/bytes';
import { cleanText, type Chapter, type Stream, type Track } from '$lib/core/items';
import { bytesOf, children, float, number, readContent, readElement, text, type Element } from '../ebml';
import { FormatError, MOST_OUTER_PARTS, limitParts } from '../format';

/** Element ids that are read (RFC 9559, section 5.1). */
const ID = {
  ebml: 0x1a45dfa3,
  segment: 0x18538067,
  info: 0x1549a966,
  timestampScale: 0x2ad7b1,
  duration: 0x4489,
  title: 0x7ba9,
  tracks: 0x1654ae6b,
  trackEntry: 0xae,
  trackNumber: 0xd7,
  trackType: 0x83,
  trackName: 0x536e,
  language: 0x22b59c,
  languageBcp47: 0x22b59d,
  flagDefault: 0x88,
  flagForced: 0x55aa,
  codec: 0x86,
  video: 0xe0,
  pixelWidth: 0xb0,
  pixelHeight: 0xba,
  audio: 0xe1,
  channels: 0x9f,
  sampleRate: 0xb5,
  chapters: 0x1043a770,
  edition: 0x45b9,
  chapterAtom: 0xb6,
  chapterStart: 0x91,
  chapterEnd: 0x92,
  chapterDisplay: 0x80,
  chapterText: 0x85,
  cluster: 0x1f43b675,
  seekHead: 0x114d9b74,
  seek: 0x4dbb,
  seekId: 0x53ab,
  seekPosition: 0x53ac,
  tags: 0x1254c367,
  tag: 0x7373,
  targets: 0x63c0,
  targetTypeValue: 0x68ca,
  simpleTag: 0x67c8,
  tagName: 0x45a3,
  tagString: 0x4487,
  attachments: 0x1941a469,
  attachedFile: 0x61a7,
  fileName: 0x466e,
  fileType: 0x4660,
  fileData: 0x465c,
} as const;

export interface MatroskaTag {
  /** 50 for the whole release, 30 for the track itself (RFC 9559, section 5.1.8.1.1.1). */
  readonly target: number;
  readonly name: string;
  readonly value: string;
}

export interface MatroskaFacts {
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
  const ebml = await readElement(source, 0);
  if (ebml?.id !== ID.ebml) throw new FormatError('notThisFormat', 'no EBML header');
  const segment = await readElement(source, ebml.end);
  if (segment?.id !== ID.segment) throw new FormatError('damaged', 'no segment behind the header');
  if (segment.end > source.size && !evenCut)
    throw new FormatError('cutShort', 'the segment passes the end of the file');
  const elements = await findElements(source, segment);
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
  const tags = await load(ID.tags);
  const attachments = await load(ID.attachments);
  return {
    ...readInfo(info),
    streams: entries.map(readStream),
    tracks: entries.map(readTrack),
    chapters: chapters ? readChapters(chapters) : [],
    tags: tags ? readTags(tags) : [],
    pictures: attachments ? readAttachments(attachments) : [],
  };
}

/** Elements of the segment, up to the first cluster one after another, those behind it by the seek head. */
async function findElements(source: ByteSource, segment: Element): Promise<ReadonlyMap<number, Element>> {
  const found = new Map<number, Element>();
  let count = 0;
  for (let at = segment.content; at < Math.min(segment.end, source.size);) {
    const element = await readElement(source, at, count);
    if (!element || element.id === ID.cluster || element.end <= at) break;
    limitParts(++count, 'outermost elements', MOST_OUTER_PARTS);
    if (!found.has(element.id)) found.set(element.id, element);
    at = element.end;
  }
  const head = found.get(ID.seekHead);
  if (!head) return found;
  const bytes = await readContent(source, head);
  if (!bytes) return found;
  for (const seek of children(bytes, MOST_SEEKS).filter(({ id }) => id === ID.seek)) {
    const inside = bytes.subarray(seek.content, seek.end);
    const id = number(inside, ID.seekId);
    const position = number(inside, ID.seekPosition);
    if (id === null || position === null || found.has(id)) continue;
    const element = await readElement(source, segment.content + position);
    if (element?.id === id) found.set(id, element);
  }
  return found;
}

/** Entries of a seek head, each of which costs a read. */
const MOST_SEEKS = 200;
function readInfo(info: Uint8Array | null): { durationSeconds: number | null; title: string | null } {
  if (!info) return { durationSeconds: null, title: null };
  const scale = number(info, ID.timestampScale) ?? 1_000_000;
  const duration = float(info, ID.duration);
  return { durationSeconds: duration && (duration * scale) / 1e9, title: text(info, ID.title) };
}

const typeOf = (inside: Uint8Array): Track['type'] =>
  TRACK_TYPES[number(inside, ID.trackType) ?? 0] ?? 'subtitle';

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
  };
}

function readStream(inside: Uint8Array): Stream {
  const video = bytesOf(inside, ID.video);
  const audio = bytesOf(inside, ID.audio);
  const codec = bytesOf(inside, ID.codec);
  return {
    type: typeOf(inside),
    codec: codec && readAscii(codec, 0, codec.length),
    channels: audio && (number(audio, ID.channels) ?? 1),
    sampleRate: audio && (float(audio, ID.sampleRate) ?? 8000),
    width: video && number(video, ID.pixelWidth),
    height: video && number(video, ID.pixelHeight),
  };
}

const endOf = (nanoseconds: number | null) => (nanoseconds ? nanoseconds / 1e9 : null);

function readChapters(b: Uint8Array): Chapter[] {
  const edition = bytesOf(b, ID.edition);
  if (!edition) return [];
  return children(edition)
    .filter(({ id }) => id === ID.chapterAtom)
    .map((atom) => {
      const inside = edition.subarray(atom.content, atom.end);
      const display = bytesOf(inside, ID.chapterDisplay);
      return {
        startSeconds: (number(inside, ID.chapterStart) ?? 0) / 1e9,
        endSeconds: endOf(number(inside, ID.chapterEnd)),
        title: (display && text(display, ID.chapterText)) ?? '',
        link: null,
      };
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
  for (let at = segment.content; at < Math.min(segment.end, source.size);) {
    const element = await readElement(source, at);
    if (!element) return;
    if (element.id === ID.cluster) yield { start: element.content, end: Math.min(element.end, source.size) };
    at = element.end;
  }
}
