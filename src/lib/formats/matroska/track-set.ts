import {
  cachedSource,
  concat,
  fnv1a,
  fresh,
  kept,
  u16,
  type ByteRange,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { editedTracks, type Cue, type EditedTrack, type TrackEdit } from '$lib/core/items';
import {
  bytesOf,
  children,
  element,
  number,
  numberBytes,
  numberElement,
  readContent,
  sizeBytes,
  textElement,
  voidOf,
  type Element,
} from '../ebml';
import { FormatError, MOST_OUTER_PARTS, limitParts, type Rewrite } from '../format';
import { Scan } from './blocks';
import { parts } from './contents';
import { readMatroskaFacts } from './facts';
import { ID } from './ids';
import { readSegment } from './segment';

/** Bytes that are read at once: a film is gone through from its beginning to its end. */
const WINDOW = 4 * 1024 * 1024;
/** Bytes that are left free behind the tracks, for what is said of them next. */
const TRACK_ROOM = 4096;
/** Elements that are written anew, or say nothing. */
const LEFT: ReadonlySet<number> = new Set([ID.seekHead, ID.cues, ID.void, ID.crc32]);
/** Elements of a cluster that are about where it lies. */
const ABOUT_PLACE: ReadonlySet<number> = new Set([ID.position, ID.prevSize, ID.crc32, ID.void]);

/**
 * A Matroska or WebM file without some of its tracks, with them in another order, or with tracks of subtitles more. Blocks
 * stay byte for byte; clusters, the seek head and cues (RFC 9559, section 5.1.5) are laid anew.
 * @throws {FormatError} when the file cannot be read
 */
export async function layTrackSet(source: ByteSource, edits: readonly TrackEdit[]): Promise<Rewrite> {
  const near = cachedSource(source);
  const { segment, docType, elements } = await readSegment(near);
  const { tracks } = await readMatroskaFacts(near);
  const all = editedTracks(tracks, edits);
  const left = new Set(all.flatMap(({ id, isLeftOut }) => (isLeftOut ? id : [])));
  if (left.size === all.length) throw new FormatError('damaged', 'no track would be left');
  const set = new TrackSet(new Scan(near, WINDOW), left, all, docType === 'webm');
  await set.readScale(elements.get(ID.info));
  await set.walk(segment);
  return set.laid(segment);
}

/** A text that is to be shown, in units of the timestamp scale. */
interface Pending {
  readonly track: number;
  readonly start: number;
  readonly duration: number;
  readonly text: string;
}

/** A cluster as it is laid: its time, and its blocks. */
interface Laid {
  /** Where it began in the original; null for one that was not there. */
  readonly before: number | null;
  readonly time: number;
  readonly spans: Span[];
  size: number;
  blocks: number;
  /** Whether decoding of the main track can begin in it. */
  hasKey: boolean;
}

/** Clusters of one file: half a second each, for five days. */
const MOST_CLUSTERS = 1_000_000;

/** Times in a block are 16 bits from its cluster's. */
const FARTHEST = 0x7fff;

class TrackSet {
  /** Elements beside clusters, in their order. */
  private readonly others: Element[] = [];
  private cues: Element | null = null;
  private readonly clusters: Laid[] = [];
  private readonly payload: { start: number; end: number }[] = [];
  private scale = 1_000_000;
  /** What is to be shown, in the order of time, and how much of it is laid. */
  private pending: readonly Pending[] = [];
  private shown = 0;
  private readonly main: number;
  private readonly source: ByteSource;
  /** First byte of the segment's content. */
  private segmentStart = 0;

  constructor(
    private readonly scan: Scan,
    private readonly left: ReadonlySet<number>,
    private readonly tracks: readonly EditedTrack[],
    private readonly isWebm: boolean,
  ) {
    this.source = scan.source;
    const stays = tracks.filter(({ isLeftOut }) => !isLeftOut);
    this.main = (stays.find(({ type }) => type === 'picture') ?? stays[0])?.id ?? 0;
  }

  /** Goes through the whole file once. */
  async walk(segment: Element): Promise<void> {
    const end = Math.min(segment.end, this.source.size);
    this.segmentStart = segment.content;
    for (let at = segment.content; at < end;) {
      const one = await this.scan.elementAt(at);
      if (one.id === ID.cluster) {
        at = await this.takeCluster(one, end);
        continue;
      }
      if (one.end > end) throw new FormatError('cutShort', 'an element passes the end of the file');
      if (one.id === ID.cues) this.cues ??= one;
      limitParts(this.others.length, 'outermost elements', MOST_OUTER_PARTS);
      if (!LEFT.has(one.id)) this.others.push(one);
      at = one.end;
    }
    this.showBefore(Infinity);
  }

  /** Puts what is to be shown into the units of the file, wherever that says what they are. */
  async readScale(info: Element | undefined): Promise<void> {
    const bytes = info ? await readContent(this.source, info) : null;
    this.scale = (bytes && number(bytes, ID.timestampScale)) || this.scale;
    const units = (seconds: number) => Math.round((seconds * 1e9) / this.scale);
    this.pending = this.tracks
      .flatMap(({ id, added, isLeftOut }) =>
        isLeftOut || !added
          ? []
          : added.map(({ startSeconds, endSeconds, text }) => ({
              track: id,
              start: units(startSeconds),
              duration: Math.max(1, units(endSeconds) - units(startSeconds)),
              text,
            })),
      )
      .sort((a, b) => a.start - b.start);
  }

  private async takeCluster(cluster: Element, end: number): Promise<number> {
    let laid: Laid | null = null;
    const begun = (): Laid => {
      if (!laid) throw new FormatError('damaged', 'a cluster does not say when it begins');
      return laid;
    };
    const at = await this.scan.cluster(cluster, end, {
      begin: (time, element) => {
        if (laid) this.keep(laid, element);
        else laid = this.begin(cluster, time, element);
      },
      other: (element) => {
        if (!ABOUT_PLACE.has(element.id)) this.keep(begun(), element);
      },
      block: (block) => {
        const own = begun();
        for (
          let cue = this.nextBefore(own.time + block.time + 1);
          cue;
          cue = this.nextBefore(own.time + block.time + 1)
        )
          this.put(own, cue);
        if (this.left.has(block.track)) return;
        this.keep(own, block);
        own.blocks++;
        own.hasKey ||= block.isKey && block.track === this.main;
        const last = this.payload.at(-1);
        if (last?.end === block.start) last.end = block.end;
        else this.payload.push({ start: block.start, end: block.end });
      },
    });
    const done = laid as Laid | null;
    if (done && done.blocks > 0) this.clusters.push(done);
    limitParts(this.clusters.length, 'clusters', MOST_CLUSTERS);
    return at;
  }

  /** What is to be shown before a cluster begins goes into the one before. */
  private begin(cluster: Element, time: number, { start, end }: Element): Laid {
    this.showBefore(time);
    return {
      before: cluster.start,
      time,
      spans: [kept(start, end)],
      size: end - start,
      blocks: 0,
      hasKey: false,
    };
  }

  private keep(laid: Laid, { start, end }: ByteRange): void {
    const last = laid.spans.at(-1);
    if (last?.type === 'kept' && last.end === start)
      laid.spans[laid.spans.length - 1] = kept(last.start, end);
    else laid.spans.push(kept(start, end));
    laid.size += end - start;
  }

  /** The next text that begins before a time; null where none does. */
  private nextBefore(time: number): Pending | null {
    const cue = this.pending[this.shown];
    if (!cue || cue.start >= time) return null;
    this.shown++;
    return cue;
  }

  private showBefore(time: number): void {
    for (let cue = this.nextBefore(time); cue; cue = this.nextBefore(time)) this.show(cue);
  }

  /** A text in the last cluster, or in one of its own where that is too far away. */
  private show(cue: Pending): void {
    const last = this.clusters.at(-1);
    if (last && cue.start >= last.time && cue.start - last.time <= FARTHEST) return this.put(last, cue);
    const bytes = numberElement(ID.timestamp, cue.start);
    const own: Laid = {
      before: null,
      time: cue.start,
      spans: [fresh(bytes)],
      size: bytes.length,
      blocks: 0,
      hasKey: false,
    };
    this.clusters.push(own);
    this.put(own, cue);
  }

  private put(laid: Laid, { track, start, duration, text }: Pending): void {
    const relative = start - laid.time;
    // A cue of WebVTT begins with its identifier and its settings, which ours have none of.
    const shown = new TextEncoder().encode(this.isWebm ? `\n\n${text}` : text);
    const bytes = element(
      ID.blockGroup,
      element(ID.block, sizeBytes(track), u16(relative & 0xffff), Uint8Array.of(0), shown),
      numberElement(ID.blockDuration, duration),
    );
    laid.spans.push(fresh(bytes));
    laid.size += bytes.length;
    laid.blocks++;
  }

  /** The new file. */
  async laid(segment: Element): Promise<Rewrite> {
    const head = await this.head();
    const [places, clusters, clusterBytes] = this.placed();
    const cues = await this.newCues(places, head.length + SEEKS_BYTES);
    const content = SEEKS_BYTES + head.length + clusterBytes + cues.length;
    const behind: [number, number][] =
      cues.length > 0 ? [[ID.cues, SEEKS_BYTES + head.length + clusterBytes]] : [];
    const spans: Span[] = [
      kept(0, segment.start),
      fresh(concat([numberBytes(ID.segment), sizeBytes(content, 8), seekHead([...behind, ...head.seeks])])),
      ...head.spans,
      ...clusters,
      ...(cues.length > 0 ? [fresh(cues)] : []),
    ];
    return { spans, payload: this.payload };
  }

  /** What stands before the clusters, with where each part of it lies in the segment. */
  private async head() {
    const spans: Span[] = [];
    const seeks: [number, number][] = [];
    let length = 0;
    const add = (id: number, span: Span) => {
      if (SOUGHT.has(id)) seeks.push([id, SEEKS_BYTES + length]);
      spans.push(span);
      length += span.type === 'new' ? span.bytes.length : span.end - span.start;
    };
    const uids: Uint8Array[] = [];
    const inOrder = [...this.others].sort((a, b) => rankOf(a.id) - rankOf(b.id));
    for (const one of inOrder)
      if (one.id === ID.tracks) {
        const content = (await readContent(this.source, one)) ?? new Uint8Array(0);
        add(one.id, fresh(element(ID.tracks, this.newTracks(content, uids))));
        add(ID.void, fresh(voidOf(TRACK_ROOM)));
      } else if (one.id === ID.tags) {
        const content = withoutTagsOf((await readContent(this.source, one)) ?? new Uint8Array(0), uids);
        if (content.length > 0) add(one.id, fresh(element(ID.tags, content)));
      } else add(one.id, kept(one.start, one.end));
    return { spans, seeks, length };
  }

  /** @param uids gets those of the tracks that are left out */
  private newTracks(content: Uint8Array, uids: Uint8Array[]): Uint8Array {
    const entries = new Map<number, Uint8Array>();
    const rest: Uint8Array[] = [];
    for (const { id, inside, whole } of parts(content)) {
      if (id !== ID.trackEntry) {
        if (id !== ID.void) rest.push(whole);
        continue;
      }
      const own = number(inside, ID.trackNumber) ?? 0;
      const uid = bytesOf(inside, ID.trackUid);
      if (this.left.has(own) && uid) uids.push(uid);
      entries.set(own, whole);
    }
    const stays = this.tracks.filter(({ isLeftOut }) => !isLeftOut);
    return concat([
      ...stays.flatMap(({ id, added }) => (added ? this.newEntry(id, added) : (entries.get(id) ?? []))),
      ...rest,
    ]);
  }

  private newEntry(id: number, cues: readonly Cue[]): Uint8Array {
    const uid = fnv1a(new TextEncoder().encode(`${id}\n${cues.map(({ text }) => text).join('\n')}`)) || 1;
    return element(
      ID.trackEntry,
      numberElement(ID.trackNumber, id),
      numberElement(ID.trackUid, uid),
      numberElement(ID.trackType, 17),
      numberElement(ID.flagLacing, 0),
      numberElement(ID.flagDefault, 0),
      textElement(ID.codec, this.isWebm ? 'D_WEBVTT/SUBTITLES' : 'S_TEXT/UTF8'),
    );
  }

  /** Where clusters go, from the first of them on, by where they began; then all of them, and their bytes. */
  private placed(): readonly [ReadonlyMap<Laid, number>, readonly Span[], number] {
    const places = new Map<Laid, number>();
    const spans: Span[] = [];
    let at = 0;
    for (const cluster of this.clusters) {
      const header = concat([numberBytes(ID.cluster), sizeBytes(cluster.size)]);
      places.set(cluster, at);
      spans.push(fresh(header));
      for (const span of cluster.spans) spans.push(span);
      at += header.length + cluster.size;
    }
    return [places, spans, at];
  }

  /** The cues that the file had, of the tracks that stay; where it had none, one for each cluster that can be begun with. */
  private async newCues(places: ReadonlyMap<Laid, number>, before: number): Promise<Uint8Array> {
    const old = this.cues && (await readContent(this.source, this.cues));
    const points = old ? this.movedCues(old, places, before) : [];
    if (points.length === 0)
      for (const [{ time, hasKey }, at] of places)
        if (hasKey)
          points.push(
            element(
              ID.cuePoint,
              numberElement(ID.cueTime, time),
              element(
                ID.cueTrackPositions,
                numberElement(ID.cueTrack, this.main),
                numberElement(ID.cueClusterPosition, before + at),
              ),
            ),
          );
    return points.length === 0 ? new Uint8Array(0) : element(ID.cues, ...points);
  }

  private movedCues(old: Uint8Array, places: ReadonlyMap<Laid, number>, before: number): Uint8Array[] {
    const moved = new Map<number, number>();
    for (const [{ before: was }, at] of places)
      if (was !== null) moved.set(was - this.segmentStart, before + at);
    return children(old, MOST_CUES).flatMap(({ id, content, end }) => {
      if (id !== ID.cuePoint) return [];
      let leads = false;
      const inside = parts(old.subarray(content, end)).flatMap((part) => {
        if (part.id !== ID.cueTrackPositions) return [part.whole];
        const place = moved.get(number(part.inside, ID.cueClusterPosition) ?? -1);
        if (place === undefined || this.left.has(number(part.inside, ID.cueTrack) ?? 0)) return [];
        leads = true;
        // Where in its cluster a block lies is another place now, and need not be said.
        const rest = parts(part.inside).filter(({ id: inner }) => !ABOUT_BLOCK.has(inner));
        return [
          element(
            ID.cueTrackPositions,
            ...rest.map(({ whole }) => whole),
            numberElement(ID.cueClusterPosition, place),
          ),
        ];
      });
      return leads ? [element(ID.cuePoint, ...inside)] : [];
    });
  }
}

const ABOUT_BLOCK: ReadonlySet<number> = new Set([
  ID.cueClusterPosition,
  ID.cueRelativePosition,
  ID.cueBlockNumber,
]);
/** A film of three hours with a cue for every second, for several tracks. */
const MOST_CUES = 100_000;

/** Elements that a seek head leads to. */
const SOUGHT: ReadonlySet<number> = new Set([
  ID.info,
  ID.tracks,
  ID.chapters,
  ID.attachments,
  ID.tags,
  ID.cues,
]);
/** What stands first: players look for what the file and its tracks are. */
const ORDER: readonly number[] = [ID.info, ID.tracks, ID.chapters, ID.attachments, ID.tags];
const rankOf = (id: number): number => (ORDER.includes(id) ? ORDER.indexOf(id) : ORDER.length);

/** Bytes of the seek head with the room behind it, and elements that it leads to; others are found by going on. */
const SEEKS_BYTES = 640;
const MOST_SEEKS = 24;

/** A seek head with room behind it, always of as many bytes. @param seeks what lies where in the segment */
function seekHead(seeks: readonly (readonly [number, number])[]): Uint8Array {
  const bytes = element(
    ID.seekHead,
    ...seeks
      .slice(0, MOST_SEEKS)
      .map(([id, position]) =>
        element(ID.seek, element(ID.seekId, numberBytes(id)), numberElement(ID.seekPosition, position)),
      ),
  );
  return concat([bytes, voidOf(SEEKS_BYTES - bytes.length)]);
}

/** The content of tags without those that are about tracks which are gone. */
function withoutTagsOf(tags: Uint8Array, uids: readonly Uint8Array[]): Uint8Array {
  const gone = new Set(uids.map((uid) => uid.join()));
  const isGone = (tag: Uint8Array) => {
    const uid = bytesOf(bytesOf(tag, ID.targets) ?? new Uint8Array(0), ID.tagTrackUid);
    return uid !== null && gone.has(uid.join());
  };
  return concat(
    parts(tags)
      .filter(({ id, inside }) => !(id === ID.tag && isGone(inside)))
      .map(({ whole }) => whole),
  );
}
