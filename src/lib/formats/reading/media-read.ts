import type { Content, Facts, Fields, FormatId, NativeTag, Stream, Track, UnreadFile } from '$lib/core/items';
import { EMPTY_FIELDS } from '$lib/core/items';
import type { NativeRead } from '../format';

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

/** The same before it is known what it cost. */
export type FormatRead = Omit<MediaRead, 'bytesRead'>;

/** A picture's bytes, and what they are. */
export interface PictureBytes {
  readonly mime: string;
  readonly bytes: Uint8Array;
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

/** Of a file without tags. */
export const NOTHING_SAID: NativeRead = { fields: EMPTY_FIELDS, chapters: [], timed: [] };

/** Fields with what others say where they say nothing. */
export const over = (fields: Fields, others: Partial<Fields>): Fields => ({
  ...fields,
  ...Object.fromEntries(Object.entries(others).filter(([name]) => fields[name as keyof Fields] === null)),
});

/** One track alone says nothing that its item does not. */
export const several = (tracks: readonly Track[]): Pick<Content, 'tracks'> =>
  tracks.length > 1 ? { tracks } : {};

/** Chapters, and words with their times where there are some. */
export const inTime = ({ chapters, timed }: NativeRead): Pick<Content, 'chapters' | 'timed'> => ({
  chapters,
  ...(timed.length > 0 && { timed }),
});

export const soundStream = (
  codec: string | null,
  channels: number | null,
  sampleRate: number | null,
  bits: number | null = null,
): Stream => ({
  type: 'sound',
  codec,
  channels,
  sampleRate,
  width: null,
  height: null,
  ...(bits !== null && { bits }),
});
