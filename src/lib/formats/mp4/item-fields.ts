import { readU16, readU32 } from '$lib/core/bytes';
import type { Fields } from '$lib/core/items';
import { joinPair } from '../format';
import { addText, readRows, type NativeTexts } from '../tag-map';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { metaBoxes, wholeBox, type Mp4Structure } from './reader';
import { MP4_MAP, NAMED, formOf } from './tag-map';

/** The metadata item list, `moov/udta/meta/ilst`; null when there is none. */
export function findItemList({ moovBytes: bytes, ...structure }: Mp4Structure): Box | null {
  const meta = findPath(bytes, wholeBox({ moovBytes: bytes, ...structure }), 'udta', 'meta');
  return meta && findBox(metaBoxes(bytes, meta), 'ilst');
}

/** The fields that the item list holds, as they stand; null when there is no list. */
export function itemFields(structure: Mp4Structure): Fields | null {
  const list = findItemList(structure);
  if (!list) return null;
  const { moovBytes: bytes } = structure;
  return fieldsOfItems(
    parseBoxes(bytes, list.content, list.end).map((box) => bytes.subarray(box.start, box.end)),
  );
}

/** The same of a list's items, each with its own header. */
export function fieldsOfItems(items: readonly Uint8Array[]): Fields {
  return readRows(MP4_MAP.rows, textsOfItems(items));
}

function textsOfItems(items: readonly Uint8Array[]): NativeTexts {
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
      return values.map((value) => new TextDecoder().decode(value));
    case 'integer':
      return numberIn(first) > 0 ? [String(numberIn(first))] : [];
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
  const text = name ? new TextDecoder().decode(item.subarray(name.content + 4, name.end)) : '';
  return NAMED + text.toUpperCase();
}

/** Type code and locale stand before the value of a `data` box. */
const DATA_HEADER_BYTES = 8;

function valuesIn(item: Uint8Array): Uint8Array[] {
  const [box] = parseBoxes(item);
  if (!box) return [];
  return parseBoxes(item, box.content, box.end)
    .filter(({ type }) => type === 'data')
    .map(({ content, end }) => item.subarray(content + DATA_HEADER_BYTES, end));
}

/** A number of one to four bytes. */
function numberIn(value: Uint8Array): number {
  if (value.length === 1) return value[0] as number;
  return value.length === 2 ? readU16(value, 0) : readU32(value, 0);
}
