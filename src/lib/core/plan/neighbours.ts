import { folderOf } from '../paths';
import type { Entry } from './entry';

/** What the files of one folder most likely share. */
export const SHARED = ['album', 'albumArtist', 'date'] as const;
export type Shared = (typeof SHARED)[number];
export const isShared = (field: string): field is Shared => (SHARED as readonly string[]).includes(field);

type Usual = Readonly<Partial<Record<Shared, string>>>;

export interface SourceFolder {
  readonly path: string;
  readonly members: Set<Entry>;
  /** Those that lack something which their neighbours may tell. */
  readonly asking: Set<Entry>;
  usual: Usual | null;
}

/** Items by the folder that they come from: what at least half of one share is what the others most likely lack. */
export class Neighbours {
  private readonly folders = new Map<string, SourceFolder>();
  private readonly touched = new Set<SourceFolder>();

  put(entry: Entry): void {
    if (entry.home) this.take(entry, entry.home);
    entry.home = null;
    if (entry.gone) return;
    const path = folderOf(entry.item.path);
    let own = this.folders.get(path);
    if (!own) this.folders.set(path, (own = { path, members: new Set(), asking: new Set(), usual: null }));
    own.members.add(entry);
    if (entry.known.missing.some(({ field }) => isShared(field))) own.asking.add(entry);
    entry.home = own;
    this.touch(own);
  }

  /** Items whose neighbours may tell something else now. */
  settle(): Entry[] {
    const asking = [...this.touched].flatMap((folder) => [...folder.asking]);
    this.touched.clear();
    return asking;
  }

  usualOf(entry: Entry, field: Shared): string | null {
    const folder = entry.home;
    if (!folder) return null;
    folder.usual ??= usualOf(folder.members);
    return folder.usual[field] ?? null;
  }

  private take(entry: Entry, folder: SourceFolder): void {
    folder.members.delete(entry);
    folder.asking.delete(entry);
    this.touch(folder);
    if (folder.members.size === 0) this.folders.delete(folder.path);
  }

  private touch(folder: SourceFolder): void {
    folder.usual = null;
    this.touched.add(folder);
  }
}

function usualOf(members: ReadonlySet<Entry>): Usual {
  return Object.fromEntries(SHARED.map((field) => [field, mostFrequent(members, field)]));
}

/** Of two values that half of the items have, the lesser. */
function mostFrequent(members: ReadonlySet<Entry>, field: Shared): string | undefined {
  const counts = new Map<string, number>();
  for (const { item } of members) {
    const value = item.fields[field];
    if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  const usual = [...counts].filter(([, count]) => count * 2 >= members.size).map(([value]) => value);
  return usual.sort()[0];
}
