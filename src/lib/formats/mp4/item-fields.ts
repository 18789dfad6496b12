import { readU16, readU32, UTF8 } from '$lib/core/bytes';
import type { Fields } from '$lib/core/items';
import { joinPair } from '../format';
import { addText, readRows, type NativeTexts } from '../tag-map';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { metaBoxes, wholeBox, type Mp4Structure } from './reader';
import { COVER_ITEM, DATA, GENRE_ITEM, MP4_MAP, NAMED, formOf } from './tag-map';

/** The metadata item list, `moov/udta/meta/ilst`; null when there is none. */
export function findItemList({ moovBytes: bytes, ...structure }: Mp4Structure): Box | null {
  const meta = findPath(bytes, wholeBox({ moovBytes: bytes, ...structure }), 'udta', 'meta');
  return meta && findBox(metaBoxes(bytes, meta), 'ilst');
}

/** The fields that the item list holds, as they stand; null when there is no list. */
export function itemFields(structure: Mp4Structure): Fields | null {
  return findItemList(structure) ? readRows(MP4_MAP.rows, textsOfItems(itemsOf(structure))) : null;
}

/** Number of a genre in the list's own item for it, counted from 1; null where it has none. */
export function numberedGenre(structure: Mp4Structure): number | null {
  const item = itemsOf(structure).find((one) => nameOfItem(one) === GENRE_ITEM);
  const [value] = item ? valuesIn(item) : [];
  return value && numberIn(value) > 0 ? numberIn(value) : null;
}

/** Pictures of the item list, in their order. */
export function coverPictures(
  structure: Mp4Structure,
): readonly { readonly mime: string; readonly bytes: Uint8Array }[] {
  const covers = itemsOf(structure).filter((item) => nameOfItem(item) === COVER_ITEM);
  return (
    covers
      .flatMap(valuesIn)
      .filter((bytes) => bytes.length > 0)
      // Some programs leave out what sort a picture is of: its first bytes say it.
      .map((bytes) => ({ mime: readU32(bytes, 0) === PNG_MARK ? 'image/png' : 'image/jpeg', bytes }))
  );
}

/** The first bytes of a PNG (PNG, section 5.2). */
const PNG_MARK = 0x89504e47;

/** Every item of the list by its name, with its values as texts; bytes are told by their number. */
export function itemTexts(structure: Mp4Structure): readonly (readonly [name: string, text: string])[] {
  return itemsOf(structure).map((item) => {
    const name = nameOfItem(item);
    const data = dataIn(item);
    const texts = formOf(name) === 'text' ? data.map(told) : textsIn(name, valuesIn(item));
    return [name, texts.join('; ')] as const;
  });
}

/** Longest value of no stated type that is taken for a number, in bytes. */
const NUMBER_BYTES = 4;

function told({ type, value }: ItemData): string {
  if (type === DATA.utf8) return UTF8.decode(value);
  const isNumber = type === DATA.integer || (type === DATA.reserved && value.length > 0);
  return isNumber && value.length <= NUMBER_BYTES ? String(numberIn(value)) : `${value.length} bytes`;
}

function itemsOf(structure: Mp4Structure): readonly Uint8Array[] {
  const list = findItemList(structure);
  const { moovBytes: bytes } = structure;
  if (!list) return [];
  return parseBoxes(bytes, list.content, list.end).map((box) => bytes.subarray(box.start, box.end));
}

/** Texts of a list's items, each with its own header, by their names. */
export function textsOfItems(items: readonly Uint8Array[]): NativeTexts {
  const texts = new Map<string, string[]>();
  for (const item of items) {
    const name = nameOfItem(item);
    // Of several items of one name the first counts.
    if (texts.has(name)) continue;
    for (const text of textsIn(name, valuesIn(item))) addText(texts, name, text);
  }
  return texts;
}

function textsIn(name: string, values: readonly Uint8Array[]): string[] {
  const [first] = values;
  if (!first) return [];
  switch (formOf(name)) {
    case 'text':
      return values.map((value) => UTF8.decode(value));
    case 'integer':
      return numberIn(first) > 0 ? [String(numberIn(first))] : [];
    case 'byte':
    case 'flag':
      return [String(numberIn(first))];
    default: {
      // Two 16-bit numbers behind two bytes of zeros.
      const pair = joinPair(readU16(first, 2) || null, readU16(first, 4) || null);
      return pair === null ? [] : [pair];
    }
  }
}

/** Type of an item, with the name of a freeform one behind it, in capitals. */
export function nameOfItem(item: Uint8Array): string {
  const [box] = parseBoxes(item);
  if (!box) return '';
  if (box.type !== '----') return box.type;
  const name = findBox(parseBoxes(item, box.content, box.end), 'name');
  const text = name ? UTF8.decode(item.subarray(name.content + 4, name.end)) : '';
  return NAMED + text.toUpperCase();
}

/** Type code and locale stand before the value of a `data` box. */
const DATA_HEADER_BYTES = 8;

interface ItemData {
  readonly type: number;
  readonly value: Uint8Array;
}

function dataIn(item: Uint8Array): ItemData[] {
  const [box] = parseBoxes(item);
  if (!box) return [];
  return parseBoxes(item, box.content, box.end)
    .filter(({ type }) => type === 'data')
    .map(({ content, end }) => ({
      type: readU32(item, content) & 0xffffff,
      value: item.subarray(content + DATA_HEADER_BYTES, end),
    }));
}

const valuesIn = (item: Uint8Array): Uint8Array[] => dataIn(item).map(({ value }) => value);

/** A number of one to four bytes. */
function numberIn(value: Uint8Array): number {
  return value.subarray(0, NUMBER_BYTES).reduce((number, byte) => number * 256 + byte, 0);
}
