import type { ByteRange, ByteSource, Span } from '$lib/core/bytes';
import type { Edits, FormatId } from '$lib/core/items';

/** A picture to be written into a file. */
export interface NewPicture {
  /** `image/jpeg` or `image/png`. */
  readonly mime: string;
  readonly width: number;
  readonly height: number;
  readonly bytes: Uint8Array;
}

/** What is to change in a file; everything else stays as it is, byte for byte. */
export interface TagChanges {
  readonly fields: Edits;
  /** Becomes the front picture. Null leaves the pictures alone. */
  readonly picture: NewPicture | null;
}

export interface Rewrite {
  readonly spans: readonly Span[];
  /** Where sound and picture samples lie in the original; the spans keep all of it. */
  readonly payload: readonly ByteRange[];
}

export type FormatErrorCode = 'notThisFormat' | 'damaged' | 'tooLarge' | 'fragmented' | 'foreignTags';

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

/** A format whose tags can be written. The writer loads when it is first needed. */
export interface WritableFormat {
  readonly id: FormatId;
  readonly load: () => Promise<{
    /** @throws {FormatError} when the file cannot be rewritten safely */
    rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite>;
  }>;
}

/** Tags larger than this are taken for damage, in bytes: no real cover comes near it. */
export const MOST_TAG_BYTES = 128 * 1024 * 1024;

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

/** A field's text as its several values. */
export function splitValues(text: string): string[] {
  return text
    .split('; ')
    .map((value) => value.trim())
    .filter((value) => value !== '');
}
