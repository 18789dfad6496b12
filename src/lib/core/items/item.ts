import type { Guess, Kind, Origin } from '../kinds';
import { stemOf } from '../paths';
import { fieldsOf } from './parts';
import type { Content, Overlay } from './saying';

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

/** Names of formats as people say them. */
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

/** Whether files of a format leave nothing of the sound out, whatever is in them. */
export const isLossless = (format: FormatId): boolean => LOSSLESS_FORMATS.has(format);

const LOSSLESS_FORMATS: ReadonlySet<FormatId> = new Set(['flac', 'oggFlac', 'wav', 'aiff', 'dsf', 'dff']);

/** Endings by which files of each format go, the usual one first. */
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

/** One stream of a file. Pixels, hertz; null means that the file does not say. */
export interface Stream {
  readonly type: 'sound' | 'picture' | 'subtitle';
  readonly codec: string | null;
  readonly channels: number | null;
  readonly sampleRate: number | null;
  /** Bits of a sample, of sound that loses nothing, where its file says so. */
  readonly bits?: number;
  readonly width: number | null;
  readonly height: number | null;
  /** Bytes of its packets, where its file says so or its tables tell them. */
  readonly bytes?: number;
}

/** What the bytes of a file are, beside what they say. */
export interface Facts {
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];
  /** Tag formats found in the file, such as `ID3v2.3`. */
  readonly tagFormats: readonly string[];
  /** The length is reckoned from parts of the sound, since the file does not say it. */
  readonly isAbout?: boolean;
  /** Bytes of its sound alone, without tags and pictures, where that is known. */
  readonly soundBytes?: number;
  /** Another item whose file had the same bytes when this one came, and when that file was changed. */
  readonly sameAs?: { readonly item: ItemId; readonly modified: number };
  /** Its end is missing, and the curator took what there is. */
  readonly isCut?: boolean;
  /** Its tags cannot be written, whatever its format: their place is bound, or they are kept in another manner. */
  readonly locked?: 'fragmented' | 'foreignTags';
}

/** A tag as its file writes it: frame, comment or atom, with its value as text. */
export interface NativeTag {
  readonly format: string;
  readonly id: string;
  readonly value: string;
}

/** A stretch of an item's sound. Seconds; null for its end. */
export interface SoundPart {
  readonly item: ItemId;
  readonly fromSeconds: number;
  readonly toSeconds: number | null;
}

/** How the file of an item was made from others: several joined, or a part of one. */
export interface Assembly {
  readonly parts: readonly SoundPart[];
  /** What its sound was encoded to, as recipes call it. */
  readonly codec: string;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** What the files of those items were then: bytes, and milliseconds since 1970. */
  readonly from: readonly { readonly item: ItemId; readonly size: number; readonly modified: number }[];
}

/** An item whose line-up was taken: what it was laid against, and where that is known. */
export interface Matched {
  readonly type: 'matched';
  readonly release: string;
  readonly entry: string;
  readonly source: string;
  /** The release's title, to say it without asking. */
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
  /** What the file itself says. */
  readonly file: Content;
  readonly guess: Guess;
  /** The kind that the curator settled, or null while only guessed. */
  readonly settled: Kind | null;
  /** What is said otherwise than the file does, by the curator or by what came with it. */
  readonly edits: Overlay;
  /** Other files that came beside this one and carry its name or lie alone with it, such as old sidecars. */
  readonly beside: readonly string[];
  /** When its file was found to have gone from its folder, milliseconds since 1970; null while it is there. */
  readonly gone: number | null;
  /** Null while no line-up was taken and nobody left it as it is. */
  readonly identity: Identity | null;
  /** The release that the curator put it to by hand; null leaves it to path and tags. */
  readonly gathering: string | null;
  /** How its file was made from other items here; null for what came from outside. */
  readonly made: Assembly | null;
}

/** Where items came from. A folder is opened again by its handle, kept files lie in the browser's storage. */
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

/** What one take-in brought. */
export interface Arrival {
  readonly id: ArrivalId;
  readonly source: SourceId;
  /** The way it came in. */
  readonly origin: Origin;
  readonly label: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly unread: readonly UnreadFile[];
  /** Files left aside because they are no media: pictures, sidecars, texts. */
  readonly setAside: number;
  /** The first of them, by their paths; absent in what was taken in before they were kept. */
  readonly aside?: readonly string[];
}

/** Files left aside whose paths are kept. */
export const MOST_ASIDE = 1000;

/** The kind in force, or null while nothing is settled and no guess leads. */
export function kindOf(item: Item): Kind | null {
  return item.settled ?? item.guess.kind;
}

/** Whether the curator has yet to say what kind it is. */
export function waits(item: Item): boolean {
  return item.settled === null && item.guess.certainty !== 'sure';
}

/** The item whose file this one's is byte for byte, as far as both are what they were when that was found; else null. */
export function doubleOf(
  { size, facts }: Pick<Item, 'size' | 'facts'>,
  find: (id: ItemId) => Item | null,
): Item | null {
  const other = facts.sameAs ? find(facts.sameAs.item) : null;
  const stands = other?.gone === null && other.size === size && other.modified === facts.sameAs?.modified;
  return stands ? other : null;
}

/** The item's title, or its file's name where it has none. */
export function titleOf(item: Item): string {
  return fieldsOf(item).title ?? stemOf(item.path);
}
