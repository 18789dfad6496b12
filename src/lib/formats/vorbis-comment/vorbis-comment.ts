import { concat, readU32le, u32le } from '$lib/core/bytes';
import { EMPTY_FIELDS, requireField, type Edits, type FieldName, type Fields } from '$lib/core/items';
import { FormatError, joinPair, limitParts, splitPair, splitValues } from '../format';

/** A comment header (Vorbis I, section 5): raw entries, so that what is not changed stays byte for byte. */
export interface VorbisComment {
  readonly vendor: Uint8Array;
  readonly entries: readonly Uint8Array[];
}

/** Comment names of each field. The first is written; all of them are replaced. */
const NAMES: Readonly<Record<Exclude<FieldName, 'track' | 'tracks' | 'disc' | 'discs'>, readonly string[]>> =
  {
    title: ['TITLE'],
    artist: ['ARTIST'],
    albumArtist: ['ALBUMARTIST', 'ALBUM ARTIST', 'ALBUM_ARTIST'],
    album: ['ALBUM'],
    year: ['DATE', 'YEAR'],
    genre: ['GENRE'],
    composer: ['COMPOSER'],
    compilation: ['COMPILATION'],
    show: ['SHOW'],
    season: ['SEASON'],
    episode: ['EPISODE'],
    narrator: ['NARRATOR'],
    date: ['RELEASEDATE'],
    description: ['DESCRIPTION'],
    lyrics: ['LYRICS', 'UNSYNCEDLYRICS'],
  };

const PAIRS = [
  { no: 'track', of: 'tracks', number: 'TRACKNUMBER', totals: ['TRACKTOTAL', 'TOTALTRACKS'] },
  { no: 'disc', of: 'discs', number: 'DISCNUMBER', totals: ['DISCTOTAL', 'TOTALDISCS'] },
] as const;

/** @throws {FormatError} `damaged` when a length passes the end, `tooMuch` with more entries than real files have */
export function parseVorbisComment(bytes: Uint8Array): VorbisComment {
  let at = 0;
  const take = (): Uint8Array => {
    const length = readU32le(bytes, at);
    const end = at + 4 + length;
    if (at + 4 > bytes.length || end > bytes.length)
      throw new FormatError('damaged', 'a comment passes the end of its block');
    const piece = bytes.subarray(at + 4, end);
    at = end;
    return piece;
  };
  const vendor = take();
  const count = readU32le(bytes, at);
  at += 4;
  limitParts(count, 'comments');
  const entries: Uint8Array[] = [];
  for (let i = 0; i < count; i++) entries.push(take());
  return { vendor, entries };
}

export function vorbisCommentBytes({ vendor, entries }: VorbisComment): Uint8Array {
  const sized = (piece: Uint8Array) => [u32le(piece.length), piece];
  return concat([...sized(vendor), u32le(entries.length), ...entries.flatMap(sized)]);
}

/** Name of an entry in capitals; names are ASCII whatever the value holds. */
const nameOfEntry = (entry: Uint8Array) => {
  const end = entry.indexOf(0x3d);
  return new TextDecoder().decode(entry.subarray(0, Math.max(0, end))).toUpperCase();
};
const valueOfEntry = (entry: Uint8Array) => new TextDecoder().decode(entry.subarray(entry.indexOf(0x3d) + 1));

/** The fields that the comments hold, as they stand: of each the first of its names that is there. */
export function commentFields({ entries }: VorbisComment): Fields {
  const values = new Map<string, string[]>();
  for (const entry of entries) {
    const name = nameOfEntry(entry);
    const value = valueOfEntry(entry);
    const known = values.get(name);
    if (value === '') continue;
    if (known) known.push(value);
    else values.set(name, [value]);
  }
  const first = (names: readonly string[]) => names.map((name) => values.get(name)).find(Boolean) ?? [];
  const said: Partial<Record<FieldName, string | number | boolean | null>> = {};
  for (const [field, names] of Object.entries(NAMES) as [keyof typeof NAMES, readonly string[]][])
    said[field] = valueOf(field, first(names));
  for (const { no, of, number, totals } of PAIRS) {
    const pair = splitPair(first([number])[0] ?? null);
    said[no] = pair.no;
    said[of] = splitPair(first(totals)[0] ?? null).no ?? pair.of;
  }
  return { ...EMPTY_FIELDS, ...(said as Partial<Fields>) };
}

function valueOf(field: FieldName, values: readonly string[]): string | number | boolean | null {
  const [text] = values;
  if (text === undefined) return null;
  const { type, many } = requireField(field);
  if (type === 'yesno') return text === '1' ? true : null;
  if (type === 'number') return splitPair(field === 'year' ? text.slice(0, 4) : text).no;
  return many ? splitValues(values.join('; ')).join('; ') || null : text;
}

/** The comments with changed fields; a field's new entries stand where its first old one stood. */
export function changeVorbisComment(comment: VorbisComment, edits: Edits): VorbisComment {
  let entries = comment.entries;
  for (const [field, names] of Object.entries(NAMES) as [keyof typeof NAMES, readonly string[]][]) {
    const value = edits[field];
    if (value !== undefined) entries = replace(entries, names, textsFor(field, value));
  }
  for (const pair of PAIRS) entries = changePair(entries, pair, edits);
  return { ...comment, entries };
}

function textsFor(field: FieldName, value: string | number | boolean | null): string[] {
  if (value === null || value === false) return [];
  if (value === true) return ['1'];
  if (typeof value === 'number') return [field === 'year' ? String(value).padStart(4, '0') : String(value)];
  return requireField(field).many ? splitValues(value) : [value];
}

function changePair(
  entries: readonly Uint8Array[],
  pair: (typeof PAIRS)[number],
  edits: Edits,
): readonly Uint8Array[] {
  const no = edits[pair.no];
  const of = edits[pair.of];
  if (no === undefined && of === undefined) return entries;
  const find = (names: readonly string[]) => entries.find((entry) => names.includes(nameOfEntry(entry)));
  const numberEntry = find([pair.number]);
  const old = splitPair(numberEntry ? valueOfEntry(numberEntry) : null);
  const totalEntry = find(pair.totals);
  const total = totalEntry ? splitPair(valueOfEntry(totalEntry)).no : old.of;
  const newNo = joinPair(no === undefined ? old.no : no, null);
  const newOf = joinPair(of === undefined ? total : of, null);
  const numbered = replace(entries, [pair.number], newNo === null ? [] : [newNo]);
  return replace(numbered, pair.totals, newOf === null ? [] : [newOf]);
}

function replace(
  entries: readonly Uint8Array[],
  names: readonly string[],
  values: readonly string[],
): readonly Uint8Array[] {
  const goes = (entry: Uint8Array) => names.includes(nameOfEntry(entry));
  const at = entries.findIndex(goes);
  const rest = entries.filter((entry) => !goes(entry));
  const written = values.map((value) => new TextEncoder().encode(`${names[0]}=${value}`));
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), ...written, ...rest.slice(place)];
}
