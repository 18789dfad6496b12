import type { Guess, Kind, Origin } from '../kinds';
import { stemOf } from '../paths';
import { cleanFields, type Edits, type FieldName, type Fields } from './fields';

export type ItemId = string & { readonly __brand: 'ItemId' };
export type ArrivalId = string & { readonly __brand: 'ArrivalId' };
export type SourceId = string & { readonly __brand: 'SourceId' };
export type PictureId = string & { readonly __brand: 'PictureId' };

export const FORMAT_IDS = ['mp3', 'flac', 'vorbis', 'opus', 'mp4', 'matroska', 'wav', 'aiff'] as const;
export type FormatId = (typeof FORMAT_IDS)[number];

/** Names of formats as people say them. */
export const FORMAT_NAMES: Readonly<Record<FormatId, string>> = {
  mp3: 'MP3',
  flac: 'FLAC',
  vorbis: 'Ogg Vorbis',
  opus: 'Opus',
  mp4: 'MP4',
  matroska: 'Matroska',
  wav: 'WAV',
  aiff: 'AIFF',
};

/** One stream of a file. Pixels, hertz; null means that the file does not say. */
export interface Stream {
  readonly type: 'sound' | 'picture' | 'subtitle';
  readonly codec: string | null;
  readonly channels: number | null;
  readonly sampleRate: number | null;
  readonly width: number | null;
  readonly height: number | null;
}

/** A picture inside a file. `hash` tells pictures apart without keeping them. */
export interface PictureFact {
  readonly role: string;
  readonly mime: string;
  readonly bytes: number;
  readonly width: number | null;
  readonly height: number | null;
  readonly hash: number;
}

export interface Chapter {
  readonly startSeconds: number;
  readonly title: string;
}

/** What the bytes of a file say of itself. */
export interface Facts {
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];
  readonly pictures: readonly PictureFact[];
  readonly chapters: readonly Chapter[];
  /** Tag formats found in the file, such as `ID3v2.3`. */
  readonly tagFormats: readonly string[];
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

/** A picture set by the curator, kept in the library under its id. */
export interface ChosenPicture {
  readonly id: PictureId;
  readonly mime: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
}

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
  readonly fileFields: Fields;
  readonly guess: Guess;
  /** The kind that the curator settled, or null while only guessed. */
  readonly settled: Kind | null;
  readonly edits: Edits;
  /** Replaces the file's own front picture; null leaves it. */
  readonly picture: ChosenPicture | null;
  /** Chapters that came with the item, in place of the file's own; null leaves those. */
  readonly chapters: readonly Chapter[] | null;
  /** Other files that came beside this one and carry its name or lie alone with it, such as old sidecars. */
  readonly beside: readonly string[];
  /** When its file was found to have gone from its folder, milliseconds since 1970; null while it is there. */
  readonly gone: number | null;
  /** Null while no line-up was taken and nobody left it as it is. */
  readonly identity: Identity | null;
  /** The release that the curator put it to by hand; null leaves it to path and tags. */
  readonly gathering: string | null;
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
  'otherwise',
  'unknownFormat',
  'unreachable',
  'brokenOff',
  'digestDiffers',
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
}

/** The fields as they will be written: the file's own, with the curator's edits over them. */
export function fieldsOf(item: Item): Fields {
  // Most items have no edits; boards ask for the fields of all of them at every change.
  for (const _ in item.edits) return { ...item.fileFields, ...item.edits };
  return item.fileFields;
}

/** Chapters as they are shown: those that came with the item, or the file's own. */
export function chaptersOf(item: Item): readonly Chapter[] {
  return item.chapters ?? item.facts.chapters;
}

/** The kind in force, or null while nothing is settled and no guess leads. */
export function kindOf(item: Item): Kind | null {
  return item.settled ?? item.guess.kind;
}

/** Whether the curator has yet to say what kind it is. */
export function waits(item: Item): boolean {
  return item.settled === null && item.guess.certainty !== 'sure';
}

/** The item's title, or its file's name where it has none. */
export function titleOf(item: Item): string {
  return fieldsOf(item).title ?? stemOf(item.path);
}

/** Edits as they are kept: clean, and without those that say what the file says already. */
export function trimEdits(fileFields: Fields, edits: Edits): Edits {
  const rest = Object.entries(cleanFields(edits)).filter(
    ([name, value]) => fileFields[name as FieldName] !== value,
  );
  return Object.fromEntries(rest) as Edits;
}

/** The item with these fields changed. */
export function editItem(item: Item, edits: Edits): Item {
  return { ...item, edits: trimEdits(item.fileFields, { ...item.edits, ...edits }) };
}
