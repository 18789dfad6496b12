import { concat, readAscii, readU32le } from '$lib/core/bytes';
import { cleanText, fieldText, type Edits, type FieldName, type Fields } from '$lib/core/items';
import { limitParts } from '../format';
import { addText, readRows, type TagRow } from '../tag-map';
import { chunkBytes } from './layout';

/*
 * Texts that older readers look for: the INFO list of WAV (Multimedia Programming Interface, chapter 2) and the text
 * chunks of AIFF (Audio Interchange File Format 1.3, section 8). A file that has them gets what is changed in them too,
 * so that they say nothing else than its tag; a file without them gets none.
 */

export const INFO_ROWS: readonly TagRow[] = [
  { field: 'title', names: ['INAM'] },
  { field: 'artist', names: ['IART'] },
  { field: 'album', names: ['IPRD'] },
  { field: 'date', names: ['ICRD'] },
  { field: 'genre', names: ['IGNR'] },
  { field: 'comment', names: ['ICMT'] },
  { field: 'track', names: ['ITRK', 'IPRT'] },
];
export const AIFF_ROWS: readonly TagRow[] = [
  { field: 'title', names: ['NAME'] },
  { field: 'artist', names: ['AUTH'] },
  { field: 'description', names: ['ANNO'] },
];

const fieldOf = (rows: readonly TagRow[], id: string): FieldName | undefined =>
  rows.find(({ names }) => names.includes(id))?.field;

export const isAiffText = (id: string): boolean => fieldOf(AIFF_ROWS, id) !== undefined;

/** Texts as fields, by their names. */
export function fieldsIn(
  rows: readonly TagRow[],
  said: readonly (readonly [name: string, text: string])[],
): Fields {
  const texts = new Map<string, string[]>();
  for (const [name, text] of said) addText(texts, name, cleanText(text));
  return readRows(rows, texts);
}

/** What a field is to say from now on; undefined where nothing of it changes, null where its texts go. */
function changed(field: FieldName | undefined, edits: Edits): string | null | undefined {
  const value = field && edits[field];
  return value === undefined ? undefined : fieldText(value) || null;
}

export const changedAiffText = (id: string, edits: Edits): string | null | undefined =>
  changed(fieldOf(AIFF_ROWS, id), edits);

/**
 * The content of an INFO list with all of what is changed that it can say; the same bytes where nothing is.
 * @param all what the file says in all: a list that lacks it gets that, too
 */
export function changeInfo(list: Uint8Array, edits: Edits, all: Partial<Fields> = {}): Uint8Array {
  const parts: Uint8Array[] = [list.subarray(0, 4)];
  let isSame = true;
  let count = 0;
  const said = new Set<FieldName>();
  for (let at = 4; at + 8 <= list.length;) {
    limitParts(++count, 'texts in a list');
    const id = readAscii(list, at, 4);
    const size = readU32le(list, at + 4);
    const end = Math.min(list.length, at + 8 + size + (size % 2));
    const field = fieldOf(INFO_ROWS, id);
    const text = changed(field, edits);
    if (field) said.add(field);
    if (text === undefined) parts.push(list.subarray(at, end));
    else isSame = false;
    if (text) parts.push(chunkBytes(id, new TextEncoder().encode(`${text}\0`), 'riff'));
    at = end;
  }
  for (const { field, names } of INFO_ROWS) {
    const [id = ''] = names;
    const text = said.has(field) ? null : changed(field, { ...all, ...edits });
    if (!text) continue;
    isSame = false;
    parts.push(chunkBytes(id, new TextEncoder().encode(`${text}\0`), 'riff'));
  }
  return isSame ? list : concat(parts);
}

/** The texts of an INFO list, as they stand there. Programs write them in UTF-8, older ones in Windows-1252. */
export function infoTexts(list: Uint8Array): readonly (readonly [id: string, text: string])[] {
  const texts: (readonly [string, string])[] = [];
  let count = 0;
  for (let at = 4; at + 8 <= list.length;) {
    // Empty ones count as well: a list of millions of them is work without end.
    limitParts(++count, 'texts in a list');
    const size = readU32le(list, at + 4);
    const [text = ''] = decoded(list.subarray(at + 8, at + 8 + size)).split('\0');
    if (text.trim() !== '') texts.push([readAscii(list, at, 4), text.trim()]);
    at += 8 + size + (size % 2);
  }
  return texts;
}

function decoded(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

export const isInfo = (list: Uint8Array): boolean => readAscii(list, 0, 4) === 'INFO';

export const aiffText = (id: string, text: string): Uint8Array =>
  chunkBytes(id, new TextEncoder().encode(text), 'iff');
