import {
  ascii,
  cachedSource,
  composeSpans,
  concat,
  fresh,
  kept,
  readAscii,
  spanSource,
  u16,
  u32,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { isAnotherSet, pictureKey, type PictureRole } from '$lib/core/items';
import {
  FormatError,
  splitPair,
  type NativeRead,
  type NewPicture,
  type Rewrite,
  type TagChanges,
} from '../format';
import { tagChangesFor } from '../tag-map';
import { chaptersToWrite, type NewChapters } from './chapter-changes';
import { around, moveOffsets } from './sample-tables';
import { layTrackSet } from './track-set';
import { placeSamples, withChapterTracks, type WithChapterTracks } from './chapter-track';
import { MOST_LISTED, chapterListBox, withoutChapterTracks } from './chapters';
import { readMp4Facts } from './facts';
import { itemFields, nameOfItem, textsOfItems } from './item-fields';
import { findBox, findPath, makeBox, parseBoxes, replaceBox, type Box } from './boxes';
import { chapterBoxes, mediaRanges } from './media-ranges';
import type { StoredPicture } from './chapter-pictures';
import { expectFilled, expectSamePlay } from './same-play';
import { metaBoxes, metaContent, readMp4, wholeBox, type Mp4Structure } from './reader';
import { withTracks } from './tracks';
import { COVER_ITEM, DATA, MP4_MAP, NAMED, NAMED_DOMAIN, formOf } from './tag-map';

/** What its item list says, or null where it has none. @throws {FormatError} when the file cannot be read */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const structure = await readMp4(source);
  const fields = itemFields(structure);
  if (!fields) return null;
  const { chapters, tracks } = await readMp4Facts(source, structure);
  return { fields, chapters, timed: [], tracks };
}

/** The bytes of one of its chapters' pictures, by their hash. @throws {FormatError} when the file cannot be read */
export async function readChapterPicture(source: ByteSource, hash: number): Promise<StoredPicture | null> {
  const { chapters, stills } = await readMp4Facts(source, await readMp4(source, true));
  const own = chapters.find(({ picture }) => picture && pictureKey(picture) === hash);
  return (own && stills?.at(stills.indexAt(own.startSeconds))) ?? null;
}

/**
 * An MP4, M4A or M4B file with a changed metadata item list (`moov/udta/meta/ilst`), list of chapters and tracks of their
 * titles and pictures, whose samples go right behind `moov`, and with what is said of its tracks. Where `moov` stands
 * before the other samples, free room behind it takes up the difference; without enough of it the chunk offsets move along
 * (`stco`, `co64`: ISO/IEC 14496-12, section 8.7.5).
 * @throws {FormatError} when the file cannot be rewritten safely
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  if (!changes.tracks || !isAnotherSet(changes.tracks)) return retag(source, changes);
  const set = await layTrackSet(source, changes.tracks);
  // What is said of a track goes in next; that it is there or not is done.
  const { spans } = await retag(cachedSource(spanSource(source, set.spans)), changes);
  return { spans: composeSpans(set.spans, spans), payload: set.payload };
}

async function retag(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const structure = await readMp4(source);
  expectFilled(structure);
  const { top, moov, fragmented } = structure;
  const payload = mediaRanges(structure);
  const chapters = await chaptersToWrite(source, structure, changes);
  const old = chapters ? chapterBoxes(structure) : [];
  const after = roomBehind(top, moov, old);
  const elsewhere = old.filter(({ start, end }) => start < moov.end || end > after);
  const holes = fragmented ? [] : elsewhere.slice(0, MOST_HOLES);
  const { bytes: changed, laid } = changeMoov(structure, changes, chapters, source.size);
  const samples = laid ? makeBox('mdat', laid.samples) : NOTHING;
  const left = after - moov.start - changed.length - samples.length;
  const moves = top.some(({ type, start }) => type === 'mdat' && start >= after) || fragmented;
  const fits = left === 0 || left >= 8;
  if (moves && !fits && fragmented)
    throw new FormatError('fragmented', 'no room before the fragments, whose offsets are absolute');
  const free = moves && fits && left > 0 ? makeBox('free', new Uint8Array(left - 8)) : NOTHING;
  const delta = moves && !fits ? -left : 0;
  const moved = (offset: number) =>
    offset + (offset >= after ? delta : 0) - lengthOf(holes.filter(({ end }) => offset >= end));
  if (delta !== 0 || holes.length > 0) moveOffsets(changed, moved);
  if (laid) placeSamples(changed, laid, moved(moov.start) + changed.length + free.length + 8, source.size);
  const spans: Span[] = [
    ...keptAround(0, moov.start, holes),
    fresh(changed),
    fresh(free),
    fresh(samples),
    ...keptAround(after, source.size, holes),
  ];
  const written = spans.filter((span) =>
    span.type === 'kept' ? span.end > span.start : span.bytes.length > 0,
  );
  await expectSamePlay(source, structure, written);
  return { spans: written, payload };
}

const NOTHING = new Uint8Array(0);
/** Boxes of old chapters that are taken out of the middle of a file: every offset is held against each of them. */
const MOST_HOLES = 16;

const lengthOf = (boxes: readonly Box[]): number =>
  boxes.reduce((sum, { start, end }) => sum + end - start, 0);

/** A range of the original without boxes that go, which are told in their order. */
const keptAround = (from: number, to: number, holes: readonly Box[]): readonly Span[] =>
  around(
    from,
    to,
    holes.filter(({ start, end }) => start >= from && end <= to),
  ).map(({ start, end }) => kept(start, end));

/** End of what may be laid anew behind `moov`: free room, and what old chapters had to themselves. */
function roomBehind(top: readonly Box[], moov: Box, old: readonly Box[]): number {
  let end = moov.end;
  const next = () => top.find(({ start }) => start === end);
  const free = next();
  if (free?.type === 'free' || free?.type === 'skip') end = free.end;
  for (let box = next(); box && old.includes(box); box = next()) end = box.end;
  return end;
}

/** The new `moov`, and the tracks of chapters in it whose samples are not laid yet. All else is copied as it stands. */
function changeMoov(
  structure: Mp4Structure,
  changes: TagChanges,
  told: NewChapters | null,
  size: number,
): { readonly bytes: Uint8Array; readonly laid: WithChapterTracks | null } {
  const bytes = structure.moovBytes;
  const moov = wholeBox(structure);
  const udta = findPath(bytes, moov, 'udta');
  const meta = udta && findPath(bytes, udta, 'meta');
  const newMeta = changeMeta(bytes, meta, changes);
  let newUdta = udta ? replaceBox(bytes, udta, meta, newMeta) : makeBox('udta', newMeta);
  const whole = () => withTracks(replaceBox(bytes, moov, udta, newUdta), changes.tracks);
  if (!told) return { bytes: whole(), laid: null };
  const { chapters, stills, cover } = told;
  const inside: Box = { type: 'udta', start: 0, content: 8, end: newUdta.length };
  const list = findBox(parseBoxes(newUdta, inside.content, inside.end), 'chpl');
  newUdta = replaceBox(newUdta, inside, list, chapterListBox(chapters));
  const plain = withoutChapterTracks(whole());
  const laid = structure.fragmented ? null : withChapterTracks(plain, chapters, stills, cover, size);
  const needsTracks = chapters.length > MOST_LISTED || stills.length > 0;
  if (!laid && needsTracks)
    throw new FormatError(
      structure.fragmented ? 'fragmented' : 'tooMuch',
      `more than ${MOST_LISTED} chapters, or pictures of them, for which there is no place in a file of fragments or where their starts do not go on`,
    );
  return { bytes: laid?.moov ?? plain, laid };
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
  const items = ilst
    ? parseBoxes(bytes, ilst.content, ilst.end).map((box) => bytes.subarray(box.start, box.end))
    : [];
  const newIlst = makeBox('ilst', ...changeItems(items, changes));
  const rest = children.filter((box) => box !== ilst && box.type !== 'free');
  const raw = (box: Box) => bytes.subarray(box.start, box.end);
  const before = rest.filter((box) => !ilst || box.start < ilst.start).map(raw);
  const behind = rest.filter((box) => ilst && box.start > ilst.start).map(raw);
  const version = bytes.subarray(meta.content, metaContent(bytes, meta));
  return makeBox('meta', version, ...before, newIlst, ...behind);
}

function changeItems(old: readonly Uint8Array[], { fields, kind, pictures }: TagChanges): Uint8Array[] {
  let items = [...old];
  for (const { name, goes, texts } of tagChangesFor(MP4_MAP, { fields, kind }, textsOfItems(old)))
    items = replaceItem(items, new Set(goes), texts.length === 0 ? null : itemBox(name, texts));
  return pictures ? changeCovers(items, pictures) : items;
}

/** An item with these values; null where its numbers say nothing. */
function itemBox(name: string, texts: readonly string[]): Uint8Array | null {
  const [text = ''] = texts;
  const form = formOf(name);
  if (form === 'integer') return makeBox(name, dataBox(DATA.integer, u32(Number(text))));
  if (form === 'flag' || form === 'byte')
    return makeBox(name, dataBox(DATA.integer, Uint8Array.of(Number(text))));
  if (form === 'track' || form === 'disc') {
    const { no, of } = splitPair(text);
    if (no === null && of === null) return null;
    // Number and total as two 16-bit numbers behind two bytes of zeros; a track has two more behind them.
    const value = new Uint8Array(form === 'track' ? 8 : 6);
    value.set(concat([u16(no ?? 0), u16(of ?? 0)]), 2);
    return makeBox(name, dataBox(DATA.reserved, value));
  }
  const data = texts.map((one) => dataBox(DATA.utf8, new TextEncoder().encode(one)));
  if (!name.startsWith(NAMED)) return makeBox(name, ...data);
  // A freeform item: its domain, its name, then its value.
  const part = (type: string, said: string) => makeBox(type, u32(0), new TextEncoder().encode(said));
  return makeBox('----', part('mean', NAMED_DOMAIN), part('name', name.slice(NAMED.length)), ...data);
}

/** A `data` box: type code, locale 0, value. */
function dataBox(type: number, value: Uint8Array): Uint8Array {
  return makeBox('data', u32(type), u32(0), value);
}

function replaceItem(
  items: readonly Uint8Array[],
  goes: ReadonlySet<string>,
  item: Uint8Array | null,
): Uint8Array[] {
  const isOld = (one: Uint8Array) => goes.has(nameOfItem(one));
  const at = items.findIndex(isOld);
  const rest = items.filter((one) => !isOld(one));
  if (!item) return rest;
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), item, ...rest.slice(place)];
}

/** The first picture is the front, and the others of the item stand behind it. */
function changeCovers(
  items: readonly Uint8Array[],
  pictures: ReadonlyMap<PictureRole, NewPicture | null>,
): Uint8Array[] {
  const old = items.find((item) => nameOfItem(item) === COVER_ITEM);
  const [first, ...others] = old ? parseBoxes(old, 8).map((box) => old.subarray(box.start, box.end)) : [];
  const front = pictures.get('front');
  const covers = [
    front
      ? dataBox(front.mime === 'image/png' ? DATA.png : DATA.jpeg, front.bytes)
      : front === null
        ? null
        : first,
    ...(pictures.get('other') === null ? [] : others),
  ].filter((cover) => cover != null);
  const item = covers.length > 0 ? makeBox(COVER_ITEM, ...covers) : null;
  return replaceItem(items, new Set([COVER_ITEM]), item);
}
