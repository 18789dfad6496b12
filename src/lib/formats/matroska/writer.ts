import {
  cachedSource,
  composeSpans,
  fresh,
  kept,
  spanSource,
  type ByteRange,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { isAnotherSet } from '$lib/core/items';
import {
  element,
  numberBytes,
  numberElement,
  readContent,
  sizeBytes,
  text,
  voidOf,
  type Element,
} from '../ebml';
import { FormatError, type NativeRead, type Rewrite, type TagChanges } from '../format';
import {
  changePictures,
  changeTags,
  changeTitle,
  changeTracks,
  chaptersContent,
  nativeChanges,
} from './contents';
import { clusterRanges, readMatroskaFacts } from './facts';
import { matroskaFields } from './fields';
import { ID } from './ids';
import { fits, relay, type Relaid } from './relay';
import { expectFilled, expectSamePlay } from './same-play';
import { readAllTags, readSegment, type Seek, type Segment } from './segment';
import { layTrackSet } from './track-set';

/** What its tags and chapters say. @throws {FormatError} when it cannot be read */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const facts = await readMatroskaFacts(source);
  const saysNothing = facts.tags.length === 0 && facts.title === null && facts.chapters.length === 0;
  if (saysNothing && facts.tracks.length === 0) return null;
  return { fields: matroskaFields(facts), chapters: facts.chapters, timed: [], tracks: facts.tracks };
}

/** New bytes in place of some of the original's. */
interface Patch {
  readonly start: number;
  readonly end: number;
  readonly bytes: Uint8Array;
}

/**
 * A Matroska or WebM file with changed tags, chapters and front picture (RFC 9559). No cluster moves, so that what points
 * to them stays true, unless other tracks are asked for: an element goes where it was, with room that is free behind it; one that does not fit goes to the
 * end, its old place becomes free, and the seek head says where it is. A film is never read whole.
 * @throws {FormatError} `tooLarge` where the seek head has no room for that, `fragmented` for a stream without an end
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  if (!changes.tracks || !isAnotherSet(changes.tracks)) return retag(source, changes);
  const set = await layTrackSet(source, changes.tracks);
  // What is said of a track goes in next; that it is there or not is done.
  const { spans, clusters } = await spansOf(cachedSource(spanSource(source, set.spans)), changes);
  // All clusters in one piece: they were laid a moment ago, and need not be gone through again.
  if (!spans.some((span) => span.type === 'kept' && span.start <= clusters.start && span.end >= clusters.end))
    throw new FormatError('damaged', 'a cluster would not be found any more');
  return { spans: composeSpans(set.spans, spans), payload: set.payload };
}

async function retag(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  await expectFilled(source, await readSegment(source));
  const { spans } = await spansOf(source, changes);
  const payload: ByteRange[] = [];
  for await (const range of clusterRanges(source)) payload.push(range);
  if (spans.length > 1) await expectSamePlay(source, payload, spans);
  return { spans, payload };
}

/** The file with these changes, and where the clusters lie in it, with what stands between them. */
async function spansOf(
  source: ByteSource,
  changes: TagChanges,
): Promise<{ readonly spans: readonly Span[]; readonly clusters: ByteRange }> {
  const layout = await readSegment(source);
  const contents = await newContents(source, layout, changes);
  const relaid = tracksFit(layout, contents, source.size) ? null : await relay(source, layout, contents);
  const { patches, tail, tailStart } = place(layout, contents, source.size, relaid);
  const behind = [...layout.elements.values()].map(({ start }) => start);
  const headEnd = layout.head.at(-1)?.end ?? layout.segment.content;
  const end = Math.min(layout.segment.end, source.size);
  const clusters = { start: headEnd, end: Math.min(end, ...behind.filter((start) => start >= headEnd)) };
  if (patches.length === 0 && tail.length === 0) return { spans: [kept(0, source.size)], clusters };
  const growth = tail.reduce((sum, { length }) => sum + length, 0) - (layout.segment.end - tailStart);
  const all = [...patches, ...(await sizePatches(source, layout, growth))].sort((a, b) => a.start - b.start);
  const spans: Span[] = [];
  let at = 0;
  for (const patch of all) {
    if (patch.start > at) spans.push(kept(at, patch.start));
    spans.push(fresh(patch.bytes));
    at = patch.end;
  }
  if (end > at) spans.push(kept(at, end));
  spans.push(...tail.map(fresh));
  if (source.size > end) spans.push(kept(end, source.size));
  return { spans, clusters };
}

/** What changed elements hold from now on, by id; an empty content takes the element away. */
async function newContents(
  source: ByteSource,
  layout: Segment,
  changes: TagChanges,
): Promise<ReadonlyMap<number, Uint8Array>> {
  const { fields, chapters, pictures, tracks } = changes;
  const { elements, docType } = layout;
  const load = async (id: number) => {
    const own = elements.get(id);
    return own ? readContent(source, own) : null;
  };
  const contents = new Map<number, Uint8Array>();
  const [info, tags] = [await load(ID.info), await readAllTags(source, layout)];
  const native = nativeChanges(tags, info && text(info, ID.title), changes);
  // Several elements of tags become one: which of them a player reads is not known.
  if (native.length > 0 || layout.tags.length > 1) contents.set(ID.tags, changeTags(tags, native));
  // Most players show the segment's own title.
  if (info && fields.title !== undefined) contents.set(ID.info, changeTitle(info, fields.title));
  if (chapters) contents.set(ID.chapters, chaptersContent(chapters));
  const own = tracks && (await load(ID.tracks));
  if (own) contents.set(ID.tracks, changeTracks(own, tracks));
  if (pictures?.get('front') && docType === 'webm')
    throw new FormatError('tooLarge', 'WebM holds no pictures');
  if (pictures && pictures.size > 0) {
    const attachments = await load(ID.attachments);
    if (attachments || pictures.get('front'))
      contents.set(ID.attachments, changePictures(attachments, pictures));
  }
  return contents;
}

/** Whether the tracks have room where they stand, if anything is said of them. */
function tracksFit(
  { segment, head, elements }: Segment,
  contents: ReadonlyMap<number, Uint8Array>,
  size: number,
): boolean {
  const content = contents.get(ID.tracks);
  const own = elements.get(ID.tracks);
  if (!content || !own) return true;
  const room = roomOf(own, head, Math.min(segment.end, size));
  return fits(element(ID.tracks, content).length, room.end - room.start);
}

/**
 * Where each element goes: patches of what is there, and what follows at the end.
 * @param relaid elements before the sound that found their places already
 */
function place(
  { segment, head: whole, seeks, elements, tags }: Segment,
  contents: ReadonlyMap<number, Uint8Array>,
  size: number,
  relaid: Relaid | null,
): { readonly patches: readonly Patch[]; readonly tail: readonly Uint8Array[]; readonly tailStart: number } {
  const patches: Patch[] = [];
  const tail: Uint8Array[] = [];
  const segmentEnd = Math.min(segment.end, size);
  /** Where the tail begins: what is replaced at the very end makes room for it. */
  let tailStart = segmentEnd;
  const moved = new Map(relaid?.moved);
  const waiting = [...(relaid?.waiting ?? [])];
  const head = relaid?.head ?? whole;
  if (relaid) patches.push(relaid);
  for (const [id, content] of contents) {
    if (relaid?.done.has(id)) continue;
    const bytes = content.length === 0 ? new Uint8Array(0) : element(id, content);
    const old = elements.get(id);
    if (!old) {
      if (bytes.length > 0) waiting.push({ id, bytes });
      continue;
    }
    const room = roomOf(old, head, segmentEnd);
    if (fits(bytes.length, room.end - room.start)) {
      patches.push({ ...room, bytes: filled(bytes, room.end - room.start) });
      if (bytes.length === 0) moved.set(id, null);
    } else if (id === ID.info) {
      // It stays before the sound: a title that has no room there stands in the tags alone.
      const bare = element(id, changeTitle(content, null));
      if (!fits(bare.length, room.end - room.start))
        throw new FormatError('tooLarge', 'there is no room for what it says of itself');
      patches.push({ ...room, bytes: filled(bare, room.end - room.start) });
    } else {
      if (old.end === segmentEnd && tailStart === segmentEnd) tailStart = old.start;
      else patches.push({ ...room, bytes: voidOf(room.end - room.start) });
      waiting.push({ id, bytes });
    }
  }
  const gone = contents.has(ID.tags) ? tags.slice(1) : [];
  for (const { start, end } of gone) {
    if (relaid && start >= relaid.start && start < relaid.end) continue;
    if (end > segmentEnd) throw new FormatError('damaged', 'an element passes the end of the file');
    patches.push({ start, end, bytes: voidOf(end - start) });
  }
  let at = tailStart;
  for (const { id, bytes } of waiting) {
    moved.set(id, at - segment.content);
    tail.push(bytes);
    at += bytes.length;
  }
  // Without a seek head, what stands before the sound is found all the same.
  const left = seeks.filter(
    ({ position }) => !gone.some(({ start }) => start - segment.content === position),
  );
  if (waiting.length > 0 || head.some(({ id }) => id === ID.seekHead))
    patches.push(...seekPatches(head, { before: seeks, left }, moved, segmentEnd));
  if (tailStart < segmentEnd) patches.push({ start: tailStart, end: segmentEnd, bytes: new Uint8Array(0) });
  return { patches, tail, tailStart };
}

/** An element with the room that is free right behind it. */
function roomOf(own: Element, head: readonly Element[], size: number): ByteRange {
  let { end } = own;
  for (
    let free = head.find(({ start }) => start === end);
    free?.id === ID.void;
    free = head.find(({ start }) => start === end)
  )
    end = free.end;
  // A damaged size leads anywhere.
  if (end > size) throw new FormatError('damaged', 'an element passes the end of the file');
  return { start: own.start, end };
}

function filled(bytes: Uint8Array, room: number): Uint8Array {
  if (bytes.length === room) return bytes;
  const out = new Uint8Array(room);
  out.set(bytes);
  out.set(voidOf(room - bytes.length), bytes.length);
  return out;
}

/** The seek head with what is left of it, and what moved: null took an element away. */
function seekPatches(
  head: readonly Element[],
  { before, left }: { readonly before: readonly Seek[]; readonly left: readonly Seek[] },
  moved: ReadonlyMap<number, number | null>,
  size: number,
): readonly Patch[] {
  const isSame = [...moved].every(
    ([id, position]) => (left.find((one) => one.id === id)?.position ?? null) === position,
  );
  if (isSame && left.length === before.length) return [];
  const own = head.find(({ id }) => id === ID.seekHead);
  if (!own) throw new FormatError('tooLarge', 'it has no seek head, which would say where its tags are');
  const rest = left.filter(({ id }) => !moved.has(id));
  const fresh = [...moved].flatMap(([id, position]) => (position === null ? [] : [{ id, position }]));
  const bytes = element(
    ID.seekHead,
    ...[...rest, ...fresh].map(({ id, position }) =>
      element(ID.seek, element(ID.seekId, numberBytes(id)), numberElement(ID.seekPosition, position)),
    ),
  );
  const room = roomOf(own, head, size);
  if (!fits(bytes.length, room.end - room.start))
    throw new FormatError('tooLarge', 'its seek head has no room to say where its tags are');
  return [{ ...room, bytes: filled(bytes, room.end - room.start) }];
}

/** The segment's size, in as many bytes as it was said in; and no checksum of what it was before. */
async function sizePatches(
  source: ByteSource,
  { segment, head }: Segment,
  growth: number,
): Promise<readonly Patch[]> {
  const first = head[0];
  const stale: Patch[] =
    first?.id === ID.crc32
      ? [{ start: first.start, end: first.end, bytes: voidOf(first.end - first.start) }]
      : [];
  if (growth === 0) return stale;
  const sizeAt = segment.start + 4;
  const said = await source.read(sizeAt, segment.content);
  const isOpen = said.every((byte, index) => byte === (index === 0 ? (0x1ff >> said.length) & 0xff : 0xff));
  if (isOpen) throw new FormatError('fragmented', 'its segment does not say where it ends');
  const size = segment.end - segment.content + growth;
  return [...stale, { start: sizeAt, end: segment.content, bytes: sizeBytes(size, said.length) }];
}
