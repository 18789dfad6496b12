import {
  ascii,
  concat,
  fresh,
  kept,
  readAscii,
  readU32,
  readU64,
  u16,
  u32,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { requireField, type FieldName, type Fields } from '$lib/core/items';
import { FormatError, splitValues, type NewPicture, type Rewrite, type TagChanges } from '../format';
import { itemFields, nameOfNamed, pairIn } from './item-fields';
import { findBox, findPath, makeBox, parseBoxes, type Box } from './layout';
import { metaBoxes, metaContent, readMp4, wholeBox, type Mp4Structure } from './reader';
import {
  COMPILATION_ITEM,
  COVER_ITEM,
  DATA,
  DISC_ITEM,
  GENRE_NUMBER_ITEM,
  NAMED_DOMAIN,
  NAMED_ITEMS,
  NUMBER_ITEMS,
  TEXT_ITEMS,
  TRACK_ITEM,
} from './tag-map';

/** What its item list says, or null where it has none. @throws {FormatError} when the file cannot be read */
export async function readNative(source: ByteSource): Promise<Fields | null> {
  return itemFields(await readMp4(source));
}

/**
 * An MP4, M4A or M4B file with a changed metadata item list (`moov/udta/meta/ilst`). Where `moov`
 * stands before the samples, free room behind it takes up the difference; without enough of it the
 * chunk offsets move along (`stco`, `co64`: ISO/IEC 14496-12, section 8.7.5).
 * @throws {FormatError} when the file cannot be rewritten safely
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const structure = await readMp4(source);
  const { top, moov } = structure;
  const payload = top
    .filter(({ type }) => type === 'mdat')
    .map(({ content, end }) => ({ start: content, end }));
  const changed = changeMoov(structure, changes);
  const free =
    top.find(({ start, type }) => start === moov.end && (type === 'free' || type === 'skip')) ?? null;
  const moves = payload.some(({ start }) => start > moov.start) || structure.fragmented;
  const room = moov.end - moov.start + (free ? free.end - free.start : 0);
  const after = free?.end ?? moov.end;
  const left = room - changed.length;
  const spans: Span[] = [kept(0, moov.start), fresh(changed)];
  if (moves && (left === 0 || left >= 8))
    spans.push(fresh(left === 0 ? new Uint8Array(0) : makeBox('free', new Uint8Array(left - 8))));
  else if (moves) {
    if (structure.fragmented)
      throw new FormatError('fragmented', 'no room before the fragments, whose offsets are absolute');
    shiftOffsets(changed, -left, after);
  }
  spans.push(kept(after, source.size));
  return {
    spans: spans.filter((span) => (span.type === 'kept' ? span.end > span.start : span.bytes.length > 0)),
    payload,
  };
}

/** `moov` with the new item list in it. Everything else in it is copied as it stands. */
function changeMoov(structure: Mp4Structure, changes: TagChanges): Uint8Array {
  const bytes = structure.moovBytes;
  const moov = wholeBox(structure);
  const udta = findPath(bytes, moov, 'udta');
  const meta = udta && findPath(bytes, udta, 'meta');
  const newMeta = changeMeta(bytes, meta, changes);
  const newUdta = udta ? replaceBox(bytes, udta, meta, newMeta) : makeBox('udta', newMeta);
  return replaceBox(bytes, moov, udta, newUdta);
}

/** A box with one of its child boxes replaced, or the new one appended where there was none. */
function replaceBox(bytes: Uint8Array, parent: Box, old: Box | null, fresh: Uint8Array): Uint8Array {
  const children = parseBoxes(bytes, parent.content, parent.end);
  const childrenEnd = children.at(-1)?.end ?? parent.content;
  const start = old?.start ?? childrenEnd;
  const end = old?.end ?? childrenEnd;
  return makeBox(parent.type, bytes.subarray(parent.content, start), fresh, bytes.subarray(end, parent.end));
}

const NEW_HANDLER = makeBox('hdlr', new Uint8Array(8), ascii('mdirappl'), new Uint8Array(9));

function changeMeta(bytes: Uint8Array, meta: Box | null, changes: TagChanges): Uint8Array {
  if (!meta)
    return makeBox(
      'meta',
      new Uint8Array(4),
      NEW_HANDLER,
      makeBox('ilst', ...changeItems([], { ...changes, fields: { ...changes.all, ...changes.fields } })),
    );
  const children = metaBoxes(bytes, meta);
  const handler = findBox(children, 'hdlr');
  if (handler && readAscii(bytes, handler.content + 8, 4) !== 'mdir')
    throw new FormatError('foreignTags', 'its metadata is kept in another handler than mdir');
  const ilst = findBox(children, 'ilst');
  const items = ilst ? parseBoxes(bytes, ilst.content, ilst.end).map((box) => toItem(bytes, box)) : [];
  const newIlst = makeBox('ilst', ...changeItems(items, changes));
  const rest = children.filter((box) => box !== ilst && box.type !== 'free');
  const raw = (box: Box) => bytes.subarray(box.start, box.end);
  const before = rest.filter((box) => !ilst || box.start < ilst.start).map(raw);
  const behind = rest.filter((box) => ilst && box.start > ilst.start).map(raw);
  const version = bytes.subarray(meta.content, metaContent(bytes, meta));
  return makeBox('meta', version, ...before, newIlst, ...behind);
}

interface ListItem {
  readonly type: string;
  readonly bytes: Uint8Array;
}

const toItem = (bytes: Uint8Array, box: Box): ListItem => ({
  type: box.type,
  bytes: bytes.subarray(box.start, box.end),
});

function changeItems(old: readonly ListItem[], { fields, picture }: TagChanges): Uint8Array[] {
  let items = [...old];
  for (const [name, value] of Object.entries(fields)) {
    const type = TEXT_ITEMS[name as FieldName];
    if (!type) continue;
    items = replaceItem(items, type, value === null ? null : textItem(type, textsOf(name, value)));
    if (type === TEXT_ITEMS.genre) items = items.filter((item) => item.type !== GENRE_NUMBER_ITEM);
  }
  for (const [name, type] of Object.entries(NUMBER_ITEMS)) {
    const value = fields[name as FieldName];
    if (value === undefined) continue;
    const box = value === null ? null : makeBox(type, dataBox(DATA.integer, u32(Number(value))));
    items = replaceItem(items, type, box);
  }
  for (const [field, name] of Object.entries(NAMED_ITEMS)) {
    const value = fields[field as FieldName];
    if (value !== undefined) items = replaceNamed(items, name, value === null ? null : String(value));
  }
  items = changePair(items, TRACK_ITEM, fields.track, fields.tracks, 8);
  items = changePair(items, DISC_ITEM, fields.disc, fields.discs, 6);
  if (fields.compilation !== undefined) {
    const item = fields.compilation
      ? makeBox(COMPILATION_ITEM, dataBox(DATA.integer, Uint8Array.of(1)))
      : null;
    items = replaceItem(items, COMPILATION_ITEM, item);
  }
  if (picture) items = changeCover(items, picture);
  return items.map(({ bytes }) => bytes);
}

function textsOf(name: string, value: string | number | boolean): string[] {
  if (typeof value === 'number') return [String(value).padStart(4, '0')];
  return requireField(name).many ? splitValues(String(value)) : [String(value)];
}

function textItem(type: string, texts: readonly string[]): Uint8Array {
  return makeBox(type, ...texts.map((text) => dataBox(DATA.utf8, new TextEncoder().encode(text))));
}

/** A `data` box: type code, locale 0, value. */
function dataBox(type: number, value: Uint8Array): Uint8Array {
  return makeBox('data', u32(type), u32(0), value);
}

function replaceItem(items: readonly ListItem[], type: string, bytes: Uint8Array | null): ListItem[] {
  const at = items.findIndex((item) => item.type === type);
  const rest = items.filter((item) => item.type !== type);
  if (!bytes) return rest;
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), { type, bytes }, ...rest.slice(place)];
}

/** A freeform item: its domain, its name, then its value. */
function replaceNamed(items: readonly ListItem[], name: string, value: string | null): ListItem[] {
  const part = (type: string, text: string) => makeBox(type, u32(0), new TextEncoder().encode(text));
  const isOld = ({ type, bytes }: ListItem) =>
    type === '----' && nameOfNamed(bytes, { type, start: 0, content: 8, end: bytes.length }) === name;
  const at = items.findIndex(isOld);
  const rest = items.filter((item) => !isOld(item));
  if (value === null) return rest;
  const place = at < 0 ? rest.length : at;
  const value8 = dataBox(DATA.utf8, new TextEncoder().encode(value));
  const bytes = makeBox('----', part('mean', NAMED_DOMAIN), part('name', name), value8);
  return [...rest.slice(0, place), { type: '----', bytes }, ...rest.slice(place)];
}

/** Number and total as two 16-bit numbers behind two bytes of zeros. */
function changePair(
  items: ListItem[],
  type: string,
  no: number | null | undefined,
  of: number | null | undefined,
  length: number,
): ListItem[] {
  if (no === undefined && of === undefined) return items;
  const old = items.find((item) => item.type === type)?.bytes;
  const was = pairIn(old ?? new Uint8Array(0), old ? { type, start: 0, content: 8, end: old.length } : null);
  const newNo = (no === undefined ? was.no : no) ?? 0;
  const newOf = (of === undefined ? was.of : of) ?? 0;
  if (newNo === 0 && newOf === 0) return replaceItem(items, type, null);
  const value = new Uint8Array(length);
  value.set(concat([u16(newNo), u16(newOf)]), 2);
  return replaceItem(items, type, makeBox(type, dataBox(DATA.reserved, value)));
}

/** The first picture is the front; the others of the item stay behind it. */
function changeCover(items: readonly ListItem[], picture: NewPicture): ListItem[] {
  const old = items.find(({ type }) => type === COVER_ITEM)?.bytes;
  const others = old
    ? parseBoxes(old, 8)
        .slice(1)
        .map((box) => old.subarray(box.start, box.end))
    : [];
  const front = dataBox(picture.mime === 'image/png' ? DATA.png : DATA.jpeg, picture.bytes);
  return replaceItem(items, COVER_ITEM, makeBox(COVER_ITEM, front, ...others));
}

/** Moves every chunk offset that points behind `from` by `delta` bytes, in place. */
function shiftOffsets(moov: Uint8Array, delta: number, from: number): void {
  const view = new DataView(moov.buffer, moov.byteOffset, moov.byteLength);
  const whole: Box = { type: 'moov', start: 0, content: 8, end: moov.length };
  for (const trak of parseBoxes(moov, whole.content, whole.end).filter(({ type }) => type === 'trak')) {
    const table = findPath(moov, trak, 'mdia', 'minf', 'stbl');
    if (!table) continue;
    for (const box of parseBoxes(moov, table.content, table.end)) {
      if (box.type === 'stco') shiftTable(box, 4);
      else if (box.type === 'co64') shiftTable(box, 8);
      else if (box.type === 'saio')
        throw new FormatError('foreignTags', 'protected samples, whose offsets cannot be moved');
    }
  }

  function shiftTable(box: Box, width: 4 | 8): void {
    const count = readU32(moov, box.content + 4);
    for (let i = 0; i < count; i++) {
      const at = box.content + 8 + i * width;
      if (at + width > box.end) throw new FormatError('damaged', 'a table of offsets passes its box');
      const offset = width === 4 ? readU32(moov, at) : readU64(moov, at);
      if (offset < from) continue;
      const moved = offset + delta;
      if (width === 4 && moved > 0xffffffff) throw new FormatError('tooLarge', 'an offset would pass 4 GiB');
      if (width === 4) view.setUint32(at, moved);
      else view.setBigUint64(at, BigInt(moved));
    }
  }
}
