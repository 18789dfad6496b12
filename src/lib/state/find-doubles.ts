import { fnv1a } from '$lib/core/bytes';
import type { Item, ItemId } from '$lib/core/items';
import type { Change } from '$lib/core/library';
import { openItem } from '$lib/io/take-in/open-item';
import { sameBytes } from '$lib/io/take-in/same-bytes';
import type { Library } from './library.svelte';
import type { Job, Work } from './work.svelte';

/** Items that are only looked at before the page gets its turn. */
const LOOKED_AT_ONCE = 3000;
/** Bytes at the beginning and end of a file that are compared before all of it is read. */
const SAMPLE_BYTES = 2048;
const nextTurn = () => new Promise<void>((resolve) => setTimeout(resolve));

/** The properties that items are compared by without opening their files. */
const outerKey = ({ size, format, facts }: Item): string => `${size} ${format} ${facts.durationSeconds}`;

/**
 * Records which items have the same bytes as an earlier one, for pairs with at least one of these. Only files of equal
 * size are opened; folders that cannot be read are skipped. After cancelling, results are kept.
 */
export async function noteDoubles(library: Library, work: Work, ids: Iterable<ItemId>): Promise<void> {
  const fresh = new Map(library.findAll(ids).map((item) => [item.id, outerKey(item)]));
  if (fresh.size === 0) return;
  const groups = await groupsLike(library, new Set(fresh.values()));
  const count = groups.reduce((sum, { length }) => sum + length, 0);
  if (count === 0) return;
  const stop = new AbortController();
  const job = work.start('Compare files of equal length', count, () => stop.abort());
  const finder = new DoubleFinder(library, (id) => fresh.has(id), stop.signal, job);
  try {
    for (const group of groups) await finder.look(group);
  } finally {
    job.end();
  }
  library.put(
    library.findAll(finder.found.keys()).flatMap((item): Change[] => {
      const other = finder.found.get(item.id);
      if (!other) return [];
      const sameAs = { item: other.id, modified: other.modified };
      return [{ id: item.id, before: item, after: { ...item, facts: { ...item.facts, sameAs } } }];
    }),
  );
  await library.flush();
}

/** Existing items with equal properties, in order of arrival, without groups of one. */
async function groupsLike(
  library: Library,
  keys: ReadonlySet<string>,
): Promise<readonly (readonly Item[])[]> {
  const groups = new Map<string, Item[]>([...keys].map((key) => [key, []]));
  for (const [index, item] of library.items.entries()) {
    if (index % LOOKED_AT_ONCE === LOOKED_AT_ONCE - 1) await nextTurn();
    if (item.gone === null) groups.get(outerKey(item))?.push(item);
  }
  return [...groups.values()].filter(({ length }) => length > 1);
}

class DoubleFinder {
  /** Of each double the one that it is the same as. */
  readonly found = new Map<ItemId, Item>();
  private done = 0;

  constructor(
    private readonly library: Library,
    private readonly isFresh: (id: ItemId) => boolean,
    private readonly signal: AbortSignal,
    private readonly job: Job,
  ) {}

  /** Opens each file once, and compares it only with files that begin and end alike. */
  async look(group: readonly Item[]): Promise<void> {
    const distinct = new Map<number, Item[]>();
    for (const item of group) {
      if (this.signal.aborted) return;
      const file = await this.open(item);
      if (file) {
        const key = await sampleOf(file);
        const others = distinct.get(key) ?? [];
        distinct.set(key, others);
        const same = await this.firstSame(item, file, others);
        if (same) this.found.set(item.id, same);
        else others.push(item);
      }
      this.job.progress(++this.done);
    }
  }

  private async firstSame(item: Item, file: Blob, others: readonly Item[]): Promise<Item | null> {
    for (const other of others) {
      if (!this.isFresh(item.id) && !this.isFresh(other.id)) continue;
      const there = await this.open(other);
      if (there && (await sameBytes(file, there, this.signal).catch(() => false))) return other;
    }
    return null;
  }

  /** Null if it cannot be read now. */
  private open({ source, path }: Item): Promise<Blob | null> {
    return openItem(this.library.storage, source, path).catch(() => null);
  }
}

async function sampleOf(file: Blob): Promise<number> {
  const ends = new Blob([file.slice(0, SAMPLE_BYTES), file.slice(Math.max(0, file.size - SAMPLE_BYTES))]);
  return fnv1a(new Uint8Array(await ends.arrayBuffer()));
}
