import type { Planned } from '../outgoing/item-plan';
import { comparePaths } from '../path-keys';

/** A player's limits for the files of one folder. */
interface Asked {
  /** The most files in it; null for any number. */
  readonly limit: number | null;
  /** Whether it plays them in the order in which they were written. */
  readonly isWritten: boolean;
}

/** An item in a folder, with the files that are written for it. */
interface Member<E extends Planned> {
  readonly entry: E;
  readonly key: string;
  readonly path: string;
  readonly files: number;
  /** A file of it is already on the player: it comes before those that are new. */
  readonly isThere: boolean;
  /** Files that its folder gets once, whatever items are in it. */
  readonly shared: number;
}

/**
 * What follows from several items in one folder: which stay out if the player limits the files of a folder (existing
 * files stay, new ones are added in order of arrival), and which would play too late if it plays files in the order in
 * which they were written.
 */
export class FolderRules<E extends Planned> {
  /** Items that stay out. */
  readonly out = new Set<E>();
  /** Items that would play after those that should follow them. */
  readonly late = new Set<E>();
  private readonly members = new Map<E, Member<E>>();
  private readonly folders = new Map<string, Set<Member<E>>>();
  private readonly touched = new Set<string>();
  private readonly isAsked: boolean;

  /** @param others the number of foreign files in a folder */
  constructor(
    private readonly asked: Asked,
    private readonly others: (key: string) => number,
  ) {
    this.isAsked = asked.limit !== null || asked.isWritten;
  }

  put(entry: E, member: Omit<Member<E>, 'entry'>): void {
    if (!this.isAsked) return;
    const before = this.members.get(entry);
    if (before && isSame(before, member)) return;
    this.take(entry);
    const next = { ...member, entry };
    this.members.set(entry, next);
    const own = this.folders.get(member.key);
    if (own) own.add(next);
    else this.folders.set(member.key, new Set([next]));
    this.touched.add(member.key);
  }

  take(entry: E): void {
    const before = this.members.get(entry);
    if (!before) return;
    this.members.delete(entry);
    this.folders.get(before.key)?.delete(before);
    this.touched.add(before.key);
    this.out.delete(entry);
    this.late.delete(entry);
  }

  /** Decides again about folders that changed. @returns the items for which the outcome changed */
  settle(): E[] {
    const changed: E[] = [];
    for (const key of this.touched) {
      const all = [...(this.folders.get(key) ?? [])];
      if (all.length === 0) this.folders.delete(key);
      this.letIn(key, all, changed);
      this.putInOrder(all, changed);
    }
    this.touched.clear();
    return changed;
  }

  private letIn(key: string, all: readonly Member<E>[], changed: E[]): void {
    const { limit } = this.asked;
    if (limit === null) return;
    const shared = all.reduce((most, member) => Math.max(most, member.shared), 0);
    let left = limit - this.others(key) - shared;
    for (const { entry, files } of all.toSorted(comesFirst)) {
      const isOut = files > left;
      if (!isOut) left -= files;
      mark(this.out, entry, isOut, changed);
    }
  }

  private putInOrder(all: readonly Member<E>[], changed: E[]): void {
    if (!this.asked.isWritten) return;
    let last: string | null = null;
    for (const { path, isThere } of all)
      if (isThere && (last === null || comparePaths(path, last) > 0)) last = path;
    for (const { entry, path, isThere } of all)
      mark(this.late, entry, !isThere && last !== null && comparePaths(path, last) < 0, changed);
  }
}

function mark<E>(marked: Set<E>, entry: E, isMarked: boolean, changed: E[]): void {
  if (isMarked === marked.has(entry)) return;
  if (isMarked) marked.add(entry);
  else marked.delete(entry);
  changed.push(entry);
}

const isSame = (a: Omit<Member<Planned>, 'entry'>, b: Omit<Member<Planned>, 'entry'>): boolean =>
  a.key === b.key &&
  a.path === b.path &&
  a.files === b.files &&
  a.isThere === b.isThere &&
  a.shared === b.shared;

const comesFirst = (a: Member<Planned>, b: Member<Planned>): number =>
  Number(b.isThere) - Number(a.isThere) || a.entry.order - b.entry.order;
