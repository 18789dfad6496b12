import { concat, type ByteSource } from '$lib/core/bytes';
import { element, voidOf, type Element } from '../ebml';
import { FormatError } from '../format';
import { ID } from './ids';
import type { Segment } from './segment';

/** Elements before the sound that may change places with each other, or stand at the end as well. */
const MOVABLE: ReadonlySet<number> = new Set([
  ID.void,
  ID.info,
  ID.tracks,
  ID.tags,
  ID.chapters,
  ID.attachments,
]);
/** What players look for before the sound. */
const FIRST: readonly number[] = [ID.info, ID.tracks];
/** Bytes behind the seek head that it may need, since it is written anew. */
const SEEK_ROOM = 64;
/** Bytes of an element that is carried along; a larger one stays where it is. */
const MOST_CARRIED = 8 * 1024 * 1024;

/** The elements before the sound in another order. */
export interface Relaid {
  readonly start: number;
  readonly end: number;
  readonly bytes: Uint8Array;
  /** Elements that are dealt with. */
  readonly done: ReadonlySet<number>;
  /** Where those went, in bytes from the segment's content; null for one that is gone. */
  readonly moved: ReadonlyMap<number, number | null>;
  /** Those that found no place here. */
  readonly waiting: readonly { readonly id: number; readonly bytes: Uint8Array }[];
  /** The elements before the sound as far as they are left. */
  readonly head: readonly Element[];
}

/** Whether so many bytes leave a room that can be filled: a free place takes at least two bytes. */
export const fits = (length: number, room: number): boolean => length === room || length <= room - 2;

/**
 * Makes room for the tracks, which players must find before the sound: what is told of the file and its tracks comes
 * first, tags, chapters and attachments behind it as far as there is room.
 * @param contents what changed elements hold from now on; an empty content takes the element away
 * @returns null where the tracks do not stand before the sound
 * @throws {FormatError} `tooLarge` where all of that room is too small
 */
export async function relay(
  source: ByteSource,
  { segment, head, elements }: Segment,
  contents: ReadonlyMap<number, Uint8Array>,
): Promise<Relaid | null> {
  const own = elements.get(ID.tracks);
  const at = own ? head.indexOf(own) : -1;
  if (at < 0) return null;
  const isMovable = (one: Element | undefined) =>
    one !== undefined && MOVABLE.has(one.id) && one.end - one.start <= MOST_CARRIED;
  let [first, last] = [at, at];
  while (isMovable(head[first - 1])) first--;
  while (isMovable(head[last + 1])) last++;
  const run = head.slice(first, last + 1);
  let start = (run[0] as Element).start;
  const end = (run.at(-1) as Element).end;
  let left = head.filter((one) => !run.includes(one));
  const free = run[0] as Element;
  if (head[first - 1]?.id === ID.seekHead && free.id === ID.void) {
    const room = free.end - free.start >= 2 * SEEK_ROOM ? SEEK_ROOM : free.end - free.start;
    start = free.start + room;
    left = [...left, { ...free, end: start }];
  }
  // Of several elements of tags the first holds all from now on.
  const isGone = (one: Element) =>
    one.id === ID.void || (one.id === ID.tags && contents.has(ID.tags) && elements.get(ID.tags) !== one);
  const all = await Promise.all(
    run
      .filter((one) => !isGone(one))
      .map(async (one) => {
        const content = elements.get(one.id) === one ? contents.get(one.id) : undefined;
        if (content === undefined) return { id: one.id, bytes: await source.read(one.start, one.end) };
        return {
          id: one.id,
          bytes: content.length === 0 ? new Uint8Array(0) : element(one.id, content),
        };
      }),
  );
  const rank = ({ id }: { readonly id: number }) => (FIRST.includes(id) ? FIRST.indexOf(id) : FIRST.length);
  const moved = new Map<number, number | null>();
  const waiting: { readonly id: number; readonly bytes: Uint8Array }[] = [];
  const out: Uint8Array[] = [];
  let room = end - start;
  for (const { id, bytes } of all.sort((a, b) => rank(a) - rank(b))) {
    if (bytes.length === 0) moved.set(id, null);
    else if (fits(bytes.length, room)) {
      moved.set(id, end - room - segment.content);
      out.push(bytes);
      room -= bytes.length;
    } else if (FIRST.includes(id))
      throw new FormatError('tooLarge', 'there is no room before its sound for what it says of its tracks');
    else waiting.push({ id, bytes });
  }
  return {
    start,
    end,
    bytes: concat([...out, ...(room > 0 ? [voidOf(room)] : [])]),
    done: new Set(all.map(({ id }) => id)),
    moved,
    waiting,
    head: left,
  };
}
