import { readU16, type ByteSource } from '$lib/core/bytes';
import { readElement, readVint, type Element } from '../ebml';
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

/** What is inside of a cluster, one after the other: blocks, and elements of other sorts. */
export type Inside =
  { readonly type: 'block'; readonly block: Block } | { readonly type: 'other'; readonly element: Element };

/**
 * Goes through a cluster. @param end where what holds it ends
 * @returns where it ends
 * @throws {FormatError} `damaged` where its elements do not add up
 */
export async function* insideCluster(
  source: ByteSource,
  cluster: Element,
  end: number,
): AsyncGenerator<Inside, number> {
  const stop = cluster.isOpen ? end : cluster.end;
  let at = cluster.content;
  while (at < stop) {
    const element = await readElement(source, at);
    if (!element) throw new FormatError('damaged', `no element at byte ${at}`);
    if (cluster.isOpen && OUTER.has(element.id)) return at;
    if (element.isOpen || element.end > stop)
      throw new FormatError('damaged', 'an element passes the end of its cluster');
    if (element.id === ID.simpleBlock) yield { type: 'block', block: await simpleBlock(source, element) };
    else if (element.id === ID.blockGroup) yield { type: 'block', block: await blockGroup(source, element) };
    else if (element.id === ID.encryptedBlock)
      throw new FormatError('foreignTags', 'its blocks are encrypted, and do not say whose they are');
    else yield { type: 'other', element };
    at = element.end;
  }
  return stop;
}

/** Track, time and flags stand before the packets (RFC 9559, section 10.1). */
async function headOf(source: ByteSource, { content, end }: Element) {
  const head = await source.read(content, Math.min(end, content + 12));
  const track = readVint(head, 0, false);
  if (!track || head.length < track.length + 3) throw new FormatError('damaged', 'a block breaks off');
  const time = (readU16(head, track.length) << 16) >> 16;
  return {
    track: track.value,
    time,
    flags: head[track.length + 2] as number,
    content: content + track.length + 3,
    contentEnd: end,
  };
}

async function simpleBlock(source: ByteSource, element: Element): Promise<Block> {
  const { flags, ...head } = await headOf(source, element);
  return { ...head, start: element.start, end: element.end, isKey: (flags & 0x80) !== 0, duration: null };
}

async function blockGroup(source: ByteSource, group: Element): Promise<Block> {
  let found: Omit<Block, 'duration'> | null = null;
  let duration: number | null = null;
  let isKey = true;
  for (let at = group.content; at < group.end;) {
    const element = await readElement(source, at);
    if (!element || element.end > group.end)
      throw new FormatError('damaged', 'the elements of a block do not add up to its size');
    if (element.id === ID.block) {
      const { flags: _, ...head } = await headOf(source, element);
      found = { ...head, start: group.start, end: group.end, isKey };
    } else if (element.id === ID.referenceBlock) isKey = false;
    else if (element.id === ID.blockDuration) {
      const bytes = await source.read(element.content, element.end);
      duration = bytes.reduce((value, byte) => value * 256 + byte, 0);
    }
    at = element.end;
  }
  if (!found) throw new FormatError('damaged', 'a group of blocks holds none');
  return { ...found, isKey, duration };
}
