import { ascii, readAscii } from '$lib/core/bytes';
import {
  EMPTY_FIELDS,
  dateIn,
  fieldText,
  toTexts,
  type Edits,
  type FieldName,
  type Fields,
} from '$lib/core/items';
import { genreByNumber } from './genres';
import { ID3V1_BYTES } from './layout';

/** Offset and length in bytes of ID3v1's text fields. */
const TEXTS: Readonly<Partial<Record<FieldName, readonly [number, number]>>> = {
  title: [3, 30],
  artist: [33, 30],
  album: [63, 30],
  date: [93, 4],
  // Its last two bytes are those of a track, where there is one (ID3v1.1).
  comment: [97, 28],
};
const ZERO_MARK = 125;
const TRACK = 126;
const GENRE = 127;
const NO_GENRE = 255;

/** Whether these last bytes of a file are an ID3v1 tag. */
export function isId3v1(bytes: Uint8Array): boolean {
  return bytes.length === ID3V1_BYTES && readAscii(bytes, 0, 3) === 'TAG';
}

const LATIN1 = new TextDecoder('windows-1252');

/** What the short tag says, under the names of its fields: texts as far as they are not cut by it. */
export function readId3v1(bytes: Uint8Array): {
  readonly fields: Fields;
  readonly texts: readonly (readonly [name: FieldName, text: string])[];
} {
  const text = (at: number, length: number): string => {
    const [own = ''] = LATIN1.decode(bytes.subarray(at, at + length)).split('\0');
    return own.trim();
  };
  const hasTrack = bytes[ZERO_MARK] === 0;
  const track = hasTrack ? (bytes[TRACK] ?? 0) : 0;
  const genre = genreByNumber(bytes[GENRE] ?? NO_GENRE);
  const texts = (Object.entries(TEXTS) as [FieldName, readonly [number, number]][]).flatMap(
    ([name, [at, length]]) => {
      // A comment without a track runs on for two letters more.
      const found = text(at, name === 'comment' && !hasTrack ? length + 2 : length);
      return found === '' ? [] : [[name, found] as const];
    },
  );
  const said = new Map<FieldName, string>(texts);
  const fields: Fields = {
    ...EMPTY_FIELDS,
    title: said.get('title') ?? null,
    artist: toTexts([said.get('artist') ?? '']),
    album: said.get('album') ?? null,
    date: dateIn(said.get('date') ?? ''),
    comment: said.get('comment') ?? null,
    track: track || null,
    genre: genre === null ? null : [genre],
  };
  return {
    fields,
    texts: [
      ...texts,
      ...(track > 0 ? [['track', String(track)] as const] : []),
      ...(genre === null ? [] : [['genre', genre] as const]),
    ],
  };
}

/**
 * The old short tag kept in step with the changes, as far as it can hold them: 30 Latin-1 letters,
 * a track up to 255 (ID3v1.1). A changed genre becomes "none", for its table has too few.
 */
export function changeId3v1(old: Uint8Array, edits: Edits): Uint8Array {
  const bytes = old.slice();
  for (const [name, [at, length]] of Object.entries(TEXTS)) {
    const value = edits[name as FieldName];
    if (value === undefined) continue;
    bytes.fill(0, at, at + length);
    const latin = fieldText(value).replace(/[^\u0020-\u00ff]/g, '?');
    bytes.set(ascii(latin.slice(0, length)), at);
  }
  // A comment of thirty letters ran on where a track stands since.
  if (edits.comment !== undefined && bytes[ZERO_MARK] !== 0) bytes.fill(0, ZERO_MARK, GENRE);
  if (edits.track !== undefined) {
    const track = edits.track !== null && edits.track <= 255 ? edits.track : 0;
    bytes[ZERO_MARK] = 0;
    bytes[TRACK] = track;
  }
  if (edits.genre !== undefined) bytes[GENRE] = NO_GENRE;
  return bytes;
}
