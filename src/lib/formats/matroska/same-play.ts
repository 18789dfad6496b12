import { spanOrigins, spanSource, type ByteRange, type ByteSource, type Span } from '$lib/core/bytes';
import { children, readContent, readElement, type Element } from '../ebml';
import { FormatError } from '../format';
import { clusterRanges } from './facts';
import { ID } from './ids';
import type { Segment } from './segment';

/** Elements that hold elements, and what is asked of them all. */
const HOLDERS: ReadonlySet<number> = new Set([
  ID.info,
  ID.tracks,
  ID.seekHead,
  ID.chapters,
  ID.tags,
  ID.trackEntry,
]);

/** Bytes of clusters that are gone through block by block: a film is not read whole for its tags. */
const MOST_LOOKED_INTO = 64 * 1024 * 1024;

/**
 * Elements must fill what holds them: readers find their way again in different manners where they do not, and what one
 * of them plays of such a file another rewriting may lose.
 * @throws {FormatError} `damaged`
 */
export async function expectFilled(source: ByteSource, { segment }: Segment): Promise<void> {
  const end = Math.min(segment.end, source.size);
  let looked = 0;
  let at = segment.content;
  while (at < end) {
    const element = await readElement(source, at);
    if (!element || element.end > end) throw notFilled('segment');
    if (HOLDERS.has(element.id)) expectChildren((await readContent(source, element)) ?? new Uint8Array());
    const size = element.end - element.start;
    if (element.id === ID.cluster && !element.isOpen && looked + size <= MOST_LOOKED_INTO) {
      looked += size;
      await expectBlocks(source, element);
    }
    // One without a size ends where the next cluster begins, which only its blocks tell.
    if (element.id === ID.cluster && element.isOpen) return;
    at = element.end;
  }
}

function expectChildren(content: Uint8Array): void {
  const inside = children(content);
  if ((inside.at(-1)?.end ?? 0) !== content.length) throw notFilled('element');
  for (const one of inside) if (HOLDERS.has(one.id)) expectChildren(content.subarray(one.content, one.end));
}

async function expectBlocks(source: ByteSource, { content, end }: Element): Promise<void> {
  for (let at = content; at < end;) {
    const block = await readElement(source, at);
    if (!block || block.isOpen || block.end > end) throw notFilled('cluster');
    at = block.end;
  }
}

const notFilled = (what: string) =>
  new FormatError('damaged', `the elements in a ${what} do not add up to its size`);

/**
 * Holds what plays of the new file against the old one: both are parsed, and every cluster must be found again, at the
 * very bytes that it had.
 * @throws {FormatError} `damaged` where one would not be
 */
export async function expectSamePlay(
  source: ByteSource,
  clusters: readonly ByteRange[],
  spans: readonly Span[],
): Promise<void> {
  const originOf = spanOrigins(spans);
  let index = 0;
  for await (const { start, end } of clusterRanges(spanSource(source, spans))) {
    const before = clusters[index++];
    const isSame = before && end - start === before.end - before.start;
    if (!isSame || (end > start && originOf(start, end) !== before.start))
      throw new FormatError('damaged', 'a cluster would not be found any more');
  }
  if (index !== clusters.length) throw new FormatError('damaged', 'a cluster would not be found any more');
}
