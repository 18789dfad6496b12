import type { Guess, Kind, Origin } from '../kinds';
import { stemOf } from '../paths';
import { fieldsOf } from './parts';
import type { Content, FoundBeside, Overlay } from './saying';

export type ItemId = string & { readonly __brand: 'ItemId' };
export type ArrivalId = string & { readonly __brand: 'ArrivalId' };
export type SourceId = string & { readonly __brand: 'SourceId' };

export const FORMAT_IDS = [
  'mp3',
  'flac',
  'vorbis',
  'opus',
  'oggFlac',
  'mp4',
  'matroska',
  'wav',
  'aiff',
  'dsf',
  'dff',
] as const;
export type FormatId = (typeof FORMAT_IDS)[number];

/** Names of formats for display. */
export const FORMAT_NAMES: Readonly<Record<FormatId, string>> = {
  mp3: 'MP3',
  flac: 'FLAC',
  vorbis: 'Ogg Vorbis',
  opus: 'Opus',
  oggFlac: 'Ogg FLAC',
  mp4: 'MP4',
  matroska: 'Matroska',
  wav: 'WAV',
  aiff: 'AIFF',
  dsf: 'DSF',
  dff: 'DFF',
};

/** Whether a format is lossless whatever it contains. */
export const isLossless = (format: FormatId): boolean => LOSSLESS_FORMATS.has(format);

const LOSSLESS_FORMATS: ReadonlySet<FormatId> = new Set(['flac', 'oggFlac', 'wav', 'aiff', 'dsf', 'dff']);

/** File extensions of each format, the usual one first. */
export const FORMAT_ENDINGS: Readonly<Record<FormatId, readonly string[]>> = {
  mp3: ['mp3'],
  flac: ['flac'],
  vorbis: ['ogg', 'oga'],
  opus: ['opus', 'ogg', 'oga'],
  oggFlac: ['oga', 'ogg', 'flac'],
  mp4: ['mp4', 'm4a', 'm4b', 'm4v', 'm4r', 'mov', 'qt', '3gp', '3g2'],
  matroska: ['mkv', 'webm', 'mka', 'mk3d'],
  wav: ['wav', 'wave'],
  aiff: ['aif', 'aiff', 'aifc'],
  dsf: ['dsf'],
  dff: ['dff'],
};

/** One stream of a file. Pixels, hertz; null if the file does not say. */
export interface Stream {
  readonly type: 'sound' | 'picture' | 'subtitle';
  readonly codec: string | null;
  readonly channels: number | null;
  readonly sampleRate: number | null;
  /** Bits per sample of lossless audio, if its file says so. */
  readonly bits?: number;
  readonly width: number | null;
  readonly height: number | null;
  /** Bytes of its packets, if the file or its tables give them. */
  readonly bytes?: number;
}

/** Properties of a file's bytes, apart from its tags. */
export interface Facts {
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];
  /** Tag formats found in the file, such as `ID3v2.3`. */
  readonly tagFormats: readonly string[];
  /** The length is estimated from parts of the audio, because the file does not give it. */
  readonly isAbout?: boolean;
  /** Bytes of its audio alone, without tags and pictures, if known. */
  readonly soundBytes?: number;
  /** Another item whose file had the same bytes at take-in, and when that file was modified. */
  readonly sameAs?: { readonly item: ItemId; readonly modified: number };
  /** Its end is missing, and the curator took it anyway. */
  readonly isCut?: boolean;
  /**
   * Why its tags cannot be written although its format allows it: their place is fixed, or they are stored in another
   * way.
   */
  readonly locked?: 'fragmented' | 'foreignTags';
}

/** A tag as stored in the file: frame, comment or atom, with its value as text. */
export interface NativeTag {
  readonly format: string;
  readonly id: string;
  readonly value: string;
}

/** A part of an item's audio. Seconds; null for the end. */
export interface SoundPart {
  readonly item: ItemId;
  readonly fromSeconds: number;
  readonly toSeconds: number | null;
}

/** How the file of an item was made from others: several joined, or a part of one. */
export interface Assembly {
  readonly parts: readonly SoundPart[];
  /** The codec of its audio, as recipes call it. */
  readonly codec: string;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** The files of those items at that time: bytes, and milliseconds since 1970. */
  readonly from: readonly { readonly item: ItemId; readonly size: number; readonly modified: number }[];
}

/** An item whose line-up was accepted, with the reference entry that it was matched to, if known. */
export interface Matched {
  readonly type: 'matched';
  readonly release: string;
  readonly entry: string;
  readonly source: string;
  /** The title of the release, so that it can be shown without a request. */
  readonly title: string;
  /** Milliseconds since 1970. */
  readonly at: number;
}

/** What is known of an item's identity: matched, or left as it is by the curator. */
export type Identity = Matched | { readonly type: 'left'; readonly at: number };

export interface Item {
  readonly id: ItemId;
  readonly arrival: ArrivalId;
  readonly source: SourceId;
  /** Path below the source's root, `/` between folders. */
  readonly path: string;
  /** Bytes. */
  readonly size: number;
  /** Milliseconds since 1970. */
  readonly modified: number;
  readonly format: FormatId;
  readonly facts: Facts;
  readonly native: readonly NativeTag[];
  /** Content of the file itself. */
  readonly file: Content;
  readonly guess: Guess;
  /** The kind that the curator set, or null while it is guessed. */
  readonly settled: Kind | null;
  /** What differs from the file, by the curator or by what came with it. */
  readonly edits: Overlay;
  /** Other files that came with this one and share its name or are alone with it, such as old sidecars. */
  readonly beside: readonly string[];
  /** When its file was found missing from its folder, milliseconds since 1970; null while it is there. */
  readonly gone: number | null;
  /** Null if no line-up was accepted and the item was not left as it is. */
  readonly identity: Identity | null;
  /** The release that the curator assigned it to; null to go by path and tags. */
  readonly gathering: string | null;
  /** How its file was made from other items here; null if it came from outside. */
  readonly made: Assembly | null;
  /** Files found beside its file, with what they say of it; null for none. */
  readonly foundBeside: readonly FoundBeside[] | null;
}

/** Where items came from. A folder is reopened by its handle; kept files are in the browser's storage. */
export interface Source {
  readonly id: SourceId;
  readonly type: 'folder' | 'kept';
  readonly label: string;
}

/** Why a file was not taken in. */
export const UNREAD_CODES = [
  'empty',
  'cutShort',
  'tooMuch',
  'notMedia',
  'otherMedia',
  'otherwise',
  'unknownFormat',
  'unreachable',
  'brokenOff',
  'digestDiffers',
  'double',
] as const;

export interface UnreadFile {
  readonly path: string;
  readonly code: (typeof UNREAD_CODES)[number];
  readonly detail: string;
}

/** The result of one take-in. */
export interface Arrival {
  readonly id: ArrivalId;
  readonly source: SourceId;
  /** How it came in. */
  readonly origin: Origin;
  readonly label: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly unread: readonly UnreadFile[];
  /** Number of files that are not media: pictures, sidecars, texts. */
  readonly setAside: number;
  /** The first of them by path; absent if taken in before they were kept. */
  readonly aside?: readonly string[];
}

/** The most paths that are kept of files that are not media. */
export const MOST_ASIDE = 1000;

/** The item's kind: the one that was set, or the best guess; null if there is none. */
export function kindOf(item: Item): Kind | null {
  return item.settled ?? item.guess.kind;
}

/** Whether the curator has to set its kind. */
export function waits(item: Item): boolean {
  return item.settled === null && item.guess.certainty !== 'sure';
}

/** The item whose file has the same bytes, if both files are unchanged since that was found; otherwise null. */
export function doubleOf(
  { size, facts }: Pick<Item, 'size' | 'facts'>,
  find: (id: ItemId) => Item | null,
): Item | null {
  const other = facts.sameAs ? find(facts.sameAs.item) : null;
  const stands = other?.gone === null && other.size === size && other.modified === facts.sameAs?.modified;
  return stands ? other : null;
}

/** The item's title, or its file name if it has none. */
export function titleOf(item: Item): string {
  return fieldsOf(item).title ?? stemOf(item.path);
}
