import { UTF8, concat, readAscii, readU32le, u32le, type ByteSource } from '$lib/core/bytes';
import type { Edits, Fields, PictureRole } from '$lib/core/items';
import { MOST_PARTS, MOST_TAG_BYTES } from '../format';
import { addText, readRows, rowChanges, type NativeTexts, type TagRow } from '../tag-map';

/*
 * An APE tag, version 2, behind the sound of an MP3: some readers take its word before that of ID3, so what it says is
 * kept in step. It is made of items (a length, flags, a name that ends with a zero, a value) and a footer, most with a
 * header alike before them.
 */

const FOOTER_BYTES = 32;
const HAS_HEADER = 0x8000_0000;
/** Bits of an item's flags that say what its value is: 0 for text. */
const SORT_OF_VALUE = 0b110;

interface ApeItem {
  readonly name: string;
  readonly flags: number;
  readonly value: Uint8Array;
}

export interface ApeTag {
  /** Of the whole tag, in the file. */
  readonly start: number;
  readonly version: number;
  readonly hasHeader: boolean;
  readonly items: readonly ApeItem[];
}

/** Names by which APE tags tell fields, in lower case. */
const ROWS: readonly TagRow[] = [
  { field: 'title', names: ['title'] },
  { field: 'artist', names: ['artist'] },
  { field: 'album', names: ['album'] },
  { field: 'albumArtist', names: ['album artist'] },
  { field: 'date', names: ['year'] },
  { field: 'genre', names: ['genre'] },
  { field: 'composer', names: ['composer'] },
  { field: 'comment', names: ['comment'] },
  { field: 'compilation', names: ['compilation'] },
  { field: 'track', names: ['track'], of: 'tracks' },
  { field: 'disc', names: ['disc'], of: 'discs' },
];

/** The tag that ends at `end`; null where there is none, or none that can be read whole. */
export async function readApe(source: ByteSource, end: number): Promise<ApeTag | null> {
  if (end < FOOTER_BYTES) return null;
  const footer = await source.read(end - FOOTER_BYTES, end);
  if (readAscii(footer, 0, 8) !== 'APETAGEX') return null;
  // What the footer counts is itself and the items; a header comes before.
  const size = readU32le(footer, 12);
  const hasHeader = (readU32le(footer, 20) & HAS_HEADER) !== 0;
  const start = end - size - (hasHeader ? FOOTER_BYTES : 0);
  if (size < FOOTER_BYTES || size > MOST_TAG_BYTES || start < 0) return null;
  const items = itemsIn(await source.read(end - size, end - FOOTER_BYTES), readU32le(footer, 16));
  return items && { start, version: readU32le(footer, 8), hasHeader, items };
}

function itemsIn(bytes: Uint8Array, count: number): readonly ApeItem[] | null {
  const items: ApeItem[] = [];
  let at = 0;
  while (at < bytes.length) {
    const name = at + 8;
    const zero = bytes.indexOf(0, name);
    if (zero < 0 || items.length >= MOST_PARTS) return null;
    const end = zero + 1 + readU32le(bytes, at);
    if (end > bytes.length) return null;
    const flags = readU32le(bytes, at + 4);
    items.push({ name: readAscii(bytes, name, zero - name), flags, value: bytes.subarray(zero + 1, end) });
    at = end;
  }
  return items.length === count ? items : null;
}

/** Names of pictures, which are a file name that ends with a zero, then the picture. */
const PICTURES: readonly (readonly [name: string, role: PictureRole])[] = [
  ['cover art (front)', 'front'],
  ['cover art (back)', 'back'],
];

const isText = ({ flags }: ApeItem): boolean => (flags & SORT_OF_VALUE) === 0;

/** The texts of a tag: several values of one name stand behind zeros. */
function textsOf({ items }: ApeTag): NativeTexts {
  const texts = new Map<string, string[]>();
  for (const { name, value } of items.filter(isText))
    for (const text of UTF8.decode(value).split('\0')) addText(texts, name.toLowerCase(), text);
  return texts;
}

/** What the fields of a tag say. */
export const apeFields = (tag: ApeTag): Fields => readRows(ROWS, textsOf(tag));

/** Its items as they stand there: texts, and how many bytes others have. */
export const apeTexts = ({ items }: ApeTag): readonly (readonly [name: string, text: string])[] =>
  items.map((item) => [
    item.name,
    isText(item) ? UTF8.decode(item.value).split('\0').join('; ') : `${item.value.length} bytes`,
  ]);

/** The pictures of a tag. */
export function apePictures({
  items,
}: ApeTag): readonly { readonly role: PictureRole; readonly bytes: Uint8Array }[] {
  return items.flatMap((item) => {
    const role = PICTURES.find(([name]) => name === item.name.toLowerCase())?.[1];
    const zero = item.value.indexOf(0);
    if (!role || isText(item) || zero < 0) return [];
    const bytes = item.value.subarray(zero + 1);
    return bytes.length > 0 ? [{ role, bytes }] : [];
  });
}

/** The tag with these fields changed as far as it says them; null where it says none of them. */
export function changeApe(tag: ApeTag, fields: Edits): Uint8Array | null {
  const changes = new Map(
    rowChanges(ROWS, fields, apeFields(tag)).map(({ name, texts }) => [name, texts.join('\0')]),
  );
  let isChanged = false;
  const items = tag.items.flatMap((item): ApeItem[] => {
    const text = isText(item) ? changes.get(item.name.toLowerCase()) : undefined;
    if (text === undefined) return [item];
    isChanged = true;
    return text === '' ? [] : [{ ...item, value: new TextEncoder().encode(text) }];
  });
  return isChanged ? bytesOf({ ...tag, items }) : null;
}

function bytesOf({ version, hasHeader, items }: ApeTag): Uint8Array {
  const body = concat(
    items.flatMap(({ name, flags, value }) => [
      u32le(value.length),
      u32le(flags),
      new TextEncoder().encode(`${name}\0`),
      value,
    ]),
  );
  const head = (flags: number) =>
    concat([
      new TextEncoder().encode('APETAGEX'),
      u32le(version),
      u32le(body.length + FOOTER_BYTES),
      u32le(items.length),
      u32le(flags),
      new Uint8Array(8),
    ]);
  const own = hasHeader ? HAS_HEADER : 0;
  const header = hasHeader ? head(own + 0x2000_0000) : new Uint8Array(0);
  return concat([header, body, head(own)]);
}
