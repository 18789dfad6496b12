import type { ByteRange, Span } from '$lib/core/bytes';
import type { Edits, Fields, Overlay, PictureId, PictureRole, ReadBack } from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';

/** A picture to be written into a file. */
export interface NewPicture {
  /** `image/jpeg` or `image/png`. */
  readonly mime: string;
  readonly width: number;
  readonly height: number;
  readonly bytes: Uint8Array;
}

/**
 * What is to change in a file, part by part; everything else stays as it is, byte for byte. Chapters and timed words take
 * the place of all that the file has of them; of tracks, what is not said stays.
 */
export interface TagChanges extends Omit<Overlay, 'pictures'> {
  readonly fields: Edits;
  /**
   * All that the file is to say, changes included: what a tag of a new sort is filled with, since other readers
   * look no further than that. Without it, it gets the changes alone.
   */
  readonly all?: Fields;
  /** Each takes the place of the file's own pictures of its role, which null removes; others stay. */
  readonly pictures?: ReadonlyMap<PictureRole, NewPicture | null>;
  /** Pictures of these chapters that are none of the file's own. */
  readonly chapterPictures?: ReadonlyMap<PictureId, NewPicture>;
  /** What the file is, named where programs look that go by that; absent where that is left as it is. */
  readonly kind?: Kind;
  /** An ID3v2 tag of a later version becomes one of this, for readers that know no more. */
  readonly id3?: 3;
  /** What texts of fields in an ID3v2 tag are written in, as far as it holds them; their writer's own choice where absent. */
  readonly encoding?: 'latin1';
}

/** What a format's own tags hold, as it stands there and as its writer would write it. */
export type NativeRead = ReadBack & Required<Pick<ReadBack, 'timed'>>;

export interface Rewrite {
  readonly spans: readonly Span[];
  /** Where sound and picture samples lie in the original; the spans keep all of it. */
  readonly payload: readonly ByteRange[];
}

/**
 * `cutShort`: its structure says that it should be longer. `tooMuch`: it asks for more work than any real file.
 */
export type FormatErrorCode =
  'notThisFormat' | 'damaged' | 'cutShort' | 'tooMuch' | 'tooLarge' | 'fragmented' | 'foreignTags';

/** A file whose structure cannot be read or safely rewritten. */
export class FormatError extends Error {
  override readonly name = 'FormatError';
  constructor(
    readonly code: FormatErrorCode,
    detail: string,
  ) {
    super(detail);
  }
}

/*
 * What one file may ask for. Real files stay far below; a file that passes one of these is damaged or made to do
 * harm, and is listed as such before it costs seconds or hundreds of megabytes.
 */

/** Bytes of all that is read of one file: tags, pictures, tables. */
export const MOST_READ_BYTES = 64 * 1024 * 1024;
/** Bytes of one tag, or of the box or element that holds them all. */
export const MOST_TAG_BYTES = 32 * 1024 * 1024;
/** Bytes of all pictures of a file's chapters that are written: they share a tag, or a box, with all else that is read. */
export const MOST_CHAPTER_PICTURE_BYTES = 24 * 1024 * 1024;
/** Frames, comments, chunks, boxes or elements in one file's metadata. */
export const MOST_PARTS = 20_000;
/** Lines and words with their times: a book that is timed word by word has a hundred thousand. */
export const MOST_TIMED = 400_000;
/** Boxes, chunks or elements one behind the other at the outermost level. */
export const MOST_OUTER_PARTS = 10_000;

/** @throws {FormatError} `tooMuch` when a count passes what real files have */
export function limitParts(count: number, what: string, most = MOST_PARTS): void {
  if (count > most) throw new FormatError('tooMuch', `more than ${most.toLocaleString('en')} ${what}`);
}

/** A number and its total as one text, `n/m`; null when both are gone. */
export function joinPair(no: number | null, of: number | null): string | null {
  if (no === null && of === null) return null;
  return of === null ? String(no) : `${no ?? 0}/${of}`;
}

/** Number and total from `n/m`. Zero and nonsense count as absent. */
export function splitPair(text: string | null): { no: number | null; of: number | null } {
  const part = (piece: string | undefined) => {
    const value = Number.parseInt(piece ?? '', 10);
    return Number.isFinite(value) && value > 0 ? value : null;
  };
  const [no, of] = (text ?? '').split('/');
  return { no: part(no), of: part(of) };
}
