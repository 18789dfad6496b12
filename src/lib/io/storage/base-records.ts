import type { Base, TargetId } from '$lib/core/library';
import { ownedFile, pastKey, type PastFile, type PlacedFile } from '$lib/core/plan';
import type { Databases } from './databases';
import { KEPT, checkVersion } from './kept';

/** Files of a base that share one record. */
const CHUNK_PLACED = 500;
/** The most earlier files that are remembered for a target. */
const MOST_PAST = 20_000;

interface BaseHead {
  readonly version: number;
  readonly chunks: number;
}

/** The files that our runs left at each target, and those that they replaced or removed. */
export class BaseRecords {
  constructor(private readonly databases: Databases) {}

  async save(target: TargetId, placed: readonly PlacedFile[]): Promise<void> {
    const store = this.databases.writable('bases');
    const chunks = chunksOf(placed, CHUNK_PLACED);
    const before = (await store.getItem<BaseHead>(target))?.chunks ?? 0;
    for (const [index, chunk] of chunks.entries()) await store.setItem(`${target} ${index}`, chunk);
    const head: BaseHead = { version: KEPT.bases.base, chunks: chunks.length };
    if (chunks.length === 0) await store.removeItem(target);
    else await store.setItem(target, head);
    for (let index = chunks.length; index < before; index++) await store.removeItem(`${target} ${index}`);
  }

  /** @throws {RangeError} if a newer version stored one */
  async load(): Promise<readonly Base[]> {
    const records = new Map(await this.databases.readAll<BaseHead | PlacedFile[]>('bases'));
    return [...records].flatMap(([target, record]): Base[] => {
      if (Array.isArray(record)) return [];
      checkVersion(record.version, KEPT.bases.base, 'what lies on players');
      const placed: PlacedFile[] = [];
      for (let index = 0; index < record.chunks; index++) {
        const chunk = records.get(`${target} ${index}`) as PlacedFile[] | undefined;
        placed.push(...(chunk ?? []).map(ownedFile));
      }
      return [{ target: target as TargetId, placed }];
    });
  }

  /** Records files that a run replaced or removed, latest first. The oldest are dropped beyond the limit. */
  async notePast(target: TargetId, past: readonly PastFile[]): Promise<void> {
    if (past.length === 0) return;
    const all = new Map([...past, ...(await this.findPast(target))].map((file) => [pastKey(file), file]));
    await this.databases.writable('bases').setItem(`${target} past`, [...all.values()].slice(0, MOST_PAST));
  }

  async findPast(target: TargetId): Promise<readonly PastFile[]> {
    return (await this.databases.readable('bases').getItem<readonly PastFile[]>(`${target} past`)) ?? [];
  }
}

function chunksOf<T>(list: readonly T[], size: number): T[][] {
  const chunks: T[][] = [];
  for (let at = 0; at < list.length; at += size) chunks.push(list.slice(at, at + size));
  return chunks;
}
