import type { SourceId } from '$lib/core/items';
import { EARLIER_PLACES, type PlayerId, type TargetId } from '$lib/core/library';
import type { Databases } from '../databases';
import type { RunHistory } from '../run-history';

/** Sorts of targets that a player had when journals went by other names. */
const TARGETS_OF_5 = ['device', 'folder', 'zip'] as const;

/** Up to version 6 one folder was kept, for the only player there was. */
export async function moveHandle(databases: Databases, from: SourceId, to: SourceId): Promise<void> {
  const store = databases.writable('handles');
  const handle = await store.getItem(from);
  if (handle === null) return;
  await store.setItem(to, handle);
  await store.removeItem(from);
}

/** Journals of up to version 3 went by the names of places, and up to version 5 there was one of each target. */
export async function moveJournals(databases: Databases, runs: RunHistory, player: PlayerId): Promise<void> {
  const store = databases.writable('journals');
  const targetOf = (type: string) => `${player}.${type}` as TargetId;
  for (const key of await store.keys()) {
    const [place = '', ...rest] = key.split(':');
    const type = EARLIER_PLACES[place];
    if (!type) continue;
    await store.setItem([targetOf(type), ...rest].join(':'), await store.getItem(key));
    await store.removeItem(key);
  }
  for (const type of TARGETS_OF_5) await runs.adopt(targetOf(type));
}
