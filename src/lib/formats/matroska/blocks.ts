import { readU16, type ByteSource } from '$lib/core/bytes';
import { elementAt, readVint, type Element } from '../ebml';
import { FormatError } from '../format';
import { ID } from './ids';

/** A block of packets of one track, with all that is said of it (RFC 9559, section 10). */
export interface Block {
  readonly start: number;
  readonly end: number;
  readonly track: number;
  /** In units of the segment's timestamp scale, from its cluster's. */
  readonly time: number;
  /** Decoding can begin with it, as far as that is said of it. */
  readonly isKey: boolean;
  /** Where its packets begin. */
  readonly content: number;
  readonly contentEnd: number;
  /** In the same units; null where it is not said. */
  readonly duration: number | null;
}

/** What goes through a cluster is told, one after the other. */
export interface ClusterVisitor {
  /** When it begins, in units of the timestamp scale. */
  begin(time: number, element: Element): void;
  block(block: Block): void;
  /** An element of another sort. */
  other(element: Element): void;
}

/** Elements of the outermost level, before which a cluster without a size ends. */
const OUTER: ReadonlySet<number> = new Set([
  ID.cluster,
  ID.cues,
  ID.tags,
  ID.chapters,
  ID.attachments,
  ID.info,
  ID.tracks,
  ID.seekHead,
]);

/** Bytes of an element's head, and of a block's behind it. */
const HEAD = 32;

/** A file that is gone through from its beginning to its end: what is near the last place looked at is there at once. */
export class Scan {
  private bytes = new Uint8Array(0);
  private from = 0;
  /** What follows is read while this is looked at. */
  private next: { readonly from: number; readonly bytes: Promise<Uint8Array> } | null = null;

  constructor(
    readonly source: ByteSource,
    private readonly window: number,
  ) {}

  /** Bytes from a place on, as many or up to the end; null where they must be read first. */
  private peek(at: number, length: number): Uint8Array | null {
    const offset = at - this.from;
    const stop = Math.min(at + length, this.source.size) - this.from;
    return offset < 0 || stop > this.bytes.length ? null : this.bytes.subarray(offset, stop);
  }

  private async load(at: number, length: number): Promise<Uint8Array> {
    const { next, window, source } = this;
    const isNext = next !== null && at >= next.from && at + length <= next.from + window;
    this.from = isNext ? next.from : at;
    this.bytes = (await (isNext ? next.bytes : source.read(at, at + window))) as Uint8Array<ArrayBuffer>;
    const from = this.from + this.bytes.length;
    this.next = from < source.size ? { from, bytes: source.read(from, from + window) } : null;
    // Where it is never asked for, nobody waits for it.
    this.next?.bytes.catch(() => undefined);
    return this.bytes.subarray(at - this.from, at - this.from + length);
  }

  /** @throws {FormatError} `damaged` where no element begins there */
  async elementAt(at: number): Promise<Element> {
    const head = this.peek(at, HEAD) ?? (await this.load(at, HEAD));
    const element = elementAt(head, 0, at, this.source.size);
    if (!element) throw new FormatError('damaged', `no element at byte ${at}`);
    return element;
  }

  /**
   * Goes through a cluster. @param end where what holds it ends
   * @returns where it ends
   * @throws {FormatError} `damaged` where its elements do not add up
   */
  async cluster(cluster: Element, end: number, visitor: ClusterVisitor): Promise<number> {
    const stop = cluster.isOpen ? end : cluster.end;
    let at = cluster.content;
    while (at < stop) {
      const head = this.peek(at, HEAD) ?? (await this.load(at, HEAD));
      const element = elementAt(head, 0, at, this.source.size);
      if (!element) throw new FormatError('damaged', `no element at byte ${at}`);
      if (cluster.isOpen && OUTER.has(element.id)) return at;
      if (element.isOpen || element.end > stop)
        throw new FormatError('damaged', 'an element passes the end of its cluster');
      if (element.id === ID.simpleBlock)
        visitor.block(simpleBlock(element, head.subarray(element.content - at)));
      else if (element.id === ID.blockGroup) visitor.block(await this.blockGroup(element));
      else if (element.id === ID.encryptedBlock)
        throw new FormatError('foreignTags', 'its blocks are encrypted, and do not say whose they are');
      else if (element.id === ID.timestamp)
        visitor.begin(numberIn(head.subarray(element.content - at, element.end - at)), element);
      else visitor.other(element);
      at = element.end;
    }
    return stop;
  }

  private async blockGroup(group: Element): Promise<Block> {
    let found: Omit<Block, 'duration' | 'isKey'> | null = null;
    let duration: number | null = null;
    let isKey = true;
    for (let at = group.content; at < group.end;) {
      const head = this.peek(at, HEAD) ?? (await this.load(at, HEAD));
      const element = elementAt(head, 0, at, this.source.size);
      if (!element || element.end > group.end)
        throw new FormatError('damaged', 'the elements of a block do not add up to its size');
      const inside = head.subarray(element.content - at, Math.min(HEAD, element.end - at));
      if (element.id === ID.block) {
        const { flags: _, ...own } = headOf(element, inside);
        found = { ...own, start: group.start, end: group.end };
      } else if (element.id === ID.referenceBlock) isKey = false;
      else if (element.id === ID.blockDuration) duration = numberIn(inside);
      at = element.end;
    }
    if (!found) throw new FormatError('damaged', 'a group of blocks holds none');
    return { ...found, isKey, duration };
  }
}

const numberIn = (bytes: Uint8Array): number => bytes.reduce((value, byte) => value * 256 + byte, 0);

/** Track, time and flags stand before the packets (RFC 9559, section 10.1). */
function headOf({ content, end }: Element, inside: Uint8Array) {
  const track = readVint(inside, 0, false);
  if (!track || content + track.length + 3 > end || inside.length < track.length + 3)
    throw new FormatError('damaged', 'a block breaks off');
  return {
    track: track.value,
    time: (readU16(inside, track.length) << 16) >> 16,
    flags: inside[track.length + 2] as number,
    content: content + track.length + 3,
    contentEnd: end,
  };
}

function simpleBlock(element: Element, inside: Uint8Array): Block {
  const { flags, ...head } = headOf(element, inside);
  return { ...head, start: element.start, end: element.end, isKey: (flags & 0x80) !== 0, duration: null };
}
