import { concat, type ByteSource } from '$lib/core/bytes';
import { children, number, readContent, readElement, text, type Element } from '../ebml';
import { FormatError, MOST_OUTER_PARTS, limitParts } from '../format';
import { ID } from './ids';

/** An entry of the seek head: what lies where, in bytes from the first of the segment's content. */
export interface Seek {
  readonly id: number;
  readonly position: number;
}

/** Where the outermost elements of a file lie, clusters aside. */
export interface Segment {
  readonly docType: string;
  readonly segment: Element;
  /** Those before the first cluster, in their order, room that is free among them. */
  readonly head: readonly Element[];
  readonly seeks: readonly Seek[];
  /** The first of each id, before the clusters or where the seek head says. */
  readonly elements: ReadonlyMap<number, Element>;
  /** All that hold tags: there may be several (RFC 9559, section 5.1.8). */
  readonly tags: readonly Element[];
}

/** Entries of a seek head, each of which costs a read. */
const MOST_SEEKS = 200;

/**
 * Clusters are passed over: what lies behind them is found through the seek head.
 * @param evenCut takes what is there of a file that is cut short
 * @throws {FormatError} when it is no Matroska file, or cut short
 */
export async function readSegment(source: ByteSource, evenCut = false): Promise<Segment> {
  const ebml = await readElement(source, 0);
  if (ebml?.id !== ID.ebml) throw new FormatError('notThisFormat', 'no EBML header');
  const segment = await readElement(source, ebml.end);
  if (segment?.id !== ID.segment) throw new FormatError('damaged', 'no segment behind the header');
  if (segment.end > source.size && !evenCut)
    throw new FormatError('cutShort', 'the segment passes the end of the file');
  const header = await readContent(source, ebml);
  const head = await readHead(source, segment);
  const elements = new Map<number, Element>();
  for (const element of head) if (!elements.has(element.id)) elements.set(element.id, element);
  const seekHead = elements.get(ID.seekHead);
  const seeks = seekHead ? seeksIn(await readContent(source, seekHead)) : [];
  const tags = head.filter(({ id }) => id === ID.tags);
  for (const { id, position } of seeks) {
    const at = segment.content + position;
    if (id === ID.tags ? tags.some(({ start }) => start === at) : elements.has(id)) continue;
    const element = await readElement(source, at);
    if (element?.id !== id) continue;
    if (id === ID.tags) tags.push(element);
    if (!elements.has(id)) elements.set(id, element);
  }
  const docType = (header && text(header, ID.docType)) ?? 'matroska';
  return { docType, segment, head, seeks, elements, tags };
}

/** What all elements of tags hold, one behind the other; null where there are none. */
export async function readAllTags(source: ByteSource, { tags }: Segment): Promise<Uint8Array | null> {
  const contents: Uint8Array[] = [];
  for (const one of tags) contents.push((await readContent(source, one)) ?? new Uint8Array(0));
  return contents.length === 0 ? null : concat(contents);
}

async function readHead(source: ByteSource, segment: Element): Promise<readonly Element[]> {
  const head: Element[] = [];
  for (let at = segment.content; at < Math.min(segment.end, source.size);) {
    const element = await readElement(source, at, head.length);
    if (!element || element.id === ID.cluster || element.end <= at) break;
    limitParts(head.length + 1, 'outermost elements', MOST_OUTER_PARTS);
    head.push(element);
    at = element.end;
  }
  return head;
}

function seeksIn(bytes: Uint8Array | null): readonly Seek[] {
  if (!bytes) return [];
  return children(bytes, MOST_SEEKS)
    .filter(({ id }) => id === ID.seek)
    .flatMap((seek) => {
      const inside = bytes.subarray(seek.content, seek.end);
      const [id, position] = [number(inside, ID.seekId), number(inside, ID.seekPosition)];
      return id === null || position === null ? [] : [{ id, position }];
    });
}
