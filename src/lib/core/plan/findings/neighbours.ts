import { folderOf } from '../../paths';
import { hasEditions } from '../outgoing/edition';
import type { Planned } from '../outgoing/item-plan';

/** Fields that the files of one folder usually share. */
export const SHARED = ['album', 'albumArtist', 'date'] as const;
export type Shared = (typeof SHARED)[number];
export const isShared = (field: string): field is Shared => (SHARED as readonly string[]).includes(field);

type Usual = Readonly<Partial<Record<Shared, string>>>;

/** Items of a kind in one folder of one source. */
interface SourceFolder<E extends Planned> {
  readonly key: string;
  readonly members: Set<E>;
  /** Items that lack a value which their neighbours may supply. */
  readonly asking: Set<E>;
  usual: Usual | null;
}

/**
 * Items by their source folder. A value that at least half of a folder have, and that none contradicts, is proposed for
 * those that lack it. Only kinds that come as releases are considered: a folder of videos is not a release.
 */
export class Neighbours<E extends Planned> {
  private readonly folders = new Map<string, SourceFolder<E>>();
  private readonly touched = new Set<SourceFolder<E>>();
  private readonly homes = new Map<E, SourceFolder<E>>();

  put(entry: E): void {
    this.take(entry);
    const { source, path, kind } = entry.item;
    const key = `${source}\n${kind}\n${folderOf(path)}`;
    let own = this.folders.get(key);
    if (!own) this.folders.set(key, (own = { key, members: new Set(), asking: new Set(), usual: null }));
    own.members.add(entry);
    if (entry.known.missing.some(({ field }) => isShared(field))) own.asking.add(entry);
    this.homes.set(entry, own);
    this.touch(own);
  }

  /** Items whose neighbours may now supply another value. */
  settle(): E[] {
    const asking = [...this.touched].flatMap((folder) => [...folder.asking]);
    this.touched.clear();
    return asking;
  }

  usualOf(entry: E, field: Shared): string | null {
    const folder = this.homes.get(entry);
    if (!folder) return null;
    folder.usual ??= usualOf(folder.members);
    return folder.usual[field] ?? null;
  }

  take(entry: E): void {
    const folder = this.homes.get(entry);
    if (!folder) return;
    this.homes.delete(entry);
    folder.members.delete(entry);
    folder.asking.delete(entry);
    this.touch(folder);
    if (folder.members.size === 0) this.folders.delete(folder.key);
  }

  private touch(folder: SourceFolder<E>): void {
    folder.usual = null;
    this.touched.add(folder);
  }
}

function usualOf(members: ReadonlySet<Planned>): Usual {
  const [first] = members;
  if (!first || !hasEditions(first.item.kind)) return {};
  return Object.fromEntries(SHARED.map((field) => [field, agreedOn(members, field)]));
}

/** The only value among the items, if at least half of them have it. */
function agreedOn(members: ReadonlySet<Planned>, field: Shared): string | undefined {
  const values = new Set<string>();
  let count = 0;
  for (const { item } of members) {
    const value = item.fields[field];
    if (value === null) continue;
    values.add(value);
    count++;
  }
  return values.size === 1 && count * 2 >= members.size ? [...values][0] : undefined;
}
