import { readU16, readU32 } from '$lib/core/bytes';
import { EMPTY_FIELDS, requireField, type FieldName, type Fields } from '$lib/core/items';
import { splitValues } from '../format';
import { findBox, findPath, parseBoxes, type Box } from './layout';
import { metaBoxes, wholeBox, type Mp4Structure } from './reader';
import { COMPILATION_ITEM, DISC_ITEM, NAMED_ITEMS, NUMBER_ITEMS, TEXT_ITEMS, TRACK_ITEM } from './tag-map';

/** The metadata item list, `moov/udta/meta/ilst`; null when there is none. */
export function findItemList({ moovBytes: bytes, ...structure }: Mp4Structure): Box | null {
  const meta = findPath(bytes, wholeBox({ moovBytes: bytes, ...structure }), 'udta', 'meta');
  return meta && findBox(metaBoxes(bytes, meta), 'ilst');
}

/** The fields that the item list holds, as they stand; null when there is no list. */
export function itemFields(structure: Mp4Structure): Fields | null {
  const bytes = structure.moovBytes;
  const list = findItemList(structure);
  if (!list) return null;
  const items = parseBoxes(bytes, list.content, list.end);
  const find = (type: string) => findBox(items, type);
  const said: Partial<Record<FieldName, string | number | boolean | null>> = {};
  for (const [name, type] of Object.entries(TEXT_ITEMS) as [FieldName, string][])
    said[name] = textField(name, textsIn(bytes, find(type)));
  for (const [name, type] of Object.entries(NUMBER_ITEMS) as [FieldName, string][])
    said[name] = numberIn(bytes, find(type)) || null;
  for (const [name, wanted] of Object.entries(NAMED_ITEMS) as [FieldName, string][]) {
    const item = items.find((box) => box.type === '----' && nameOfNamed(bytes, box) === wanted) ?? null;
    said[name] = textField(name, textsIn(bytes, item));
  }
  const track = pairIn(bytes, find(TRACK_ITEM));
  const disc = pairIn(bytes, find(DISC_ITEM));
  return {
    ...EMPTY_FIELDS,
    ...(said as Partial<Fields>),
    track: track.no,
    tracks: track.of,
    disc: disc.no,
    discs: disc.of,
    compilation: numberIn(bytes, find(COMPILATION_ITEM)) === 1 ? true : null,
  };
}

/** Name of a freeform item, in capitals; empty when it has none. Offsets count in the bytes that the box lies in. */
export function nameOfNamed(bytes: Uint8Array, item: Box): string {
  const box = findBox(parseBoxes(bytes, item.content, item.end), 'name');
  return box ? new TextDecoder().decode(bytes.subarray(box.content + 4, box.end)).toUpperCase() : '';
}

/** Type code and locale stand before the value of a `data` box. */
const DATA_HEADER_BYTES = 8;

function valuesIn(bytes: Uint8Array, item: Box | null): Uint8Array[] {
  if (!item) return [];
  return parseBoxes(bytes, item.content, item.end)
    .filter(({ type }) => type === 'data')
    .map(({ content, end }) => bytes.subarray(content + DATA_HEADER_BYTES, end));
}

const textsIn = (bytes: Uint8Array, item: Box | null): string[] =>
  valuesIn(bytes, item)
    .map((value) => new TextDecoder().decode(value))
    .filter((text) => text !== '');

function textField(name: FieldName, texts: readonly string[]): string | number | null {
  const [text] = texts;
  if (text === undefined) return null;
  const { type, many } = requireField(name);
  if (type === 'number') return Number.parseInt(text.slice(0, 4), 10) || null;
  return many ? splitValues(texts.join('; ')).join('; ') || null : text;
}

/** A number of one to four bytes. */
function numberIn(bytes: Uint8Array, item: Box | null): number {
  const [value] = valuesIn(bytes, item);
  if (!value) return 0;
  return value.length === 1
    ? (value[0] as number)
    : value.length === 2
      ? readU16(value, 0)
      : readU32(value, 0);
}

/** Two 16-bit numbers behind two bytes of zeros. */
export function pairIn(bytes: Uint8Array, item: Box | null): { no: number | null; of: number | null } {
  const [value = new Uint8Array(0)] = valuesIn(bytes, item);
  return { no: readU16(value, 2) || null, of: readU16(value, 4) || null };
}
