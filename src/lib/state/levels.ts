import { titleOf, type Item } from '$lib/core/items';
import type { Levels } from '$lib/core/sound';
import type { LibraryStorage } from '$lib/io/storage';
import { SoundClient } from '$lib/workers/sound-client';
import type { Work } from './work.svelte';

/** How loud an item is, or why that is not known. */
export type HeardItem =
  | { readonly type: 'heard'; readonly levels: Levels; readonly brokeOff: string | null }
  | { readonly type: 'deaf'; readonly reason: string };

/** Decodes items completely to draw their levels. Results are kept. */
export class LevelsDesk {
  private readonly going = new Map<string, Promise<HeardItem>>();
  private readonly clients = new Set<SoundClient>();

  constructor(
    private readonly storage: LibraryStorage,
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly work: Work,
  ) {}

  end(): void {
    for (const client of this.clients) client.end();
  }

  /** Never rejects. */
  of(item: Item): Promise<HeardItem> {
    const key = `${item.id} ${item.size} ${item.modified}`;
    let going = this.going.get(key);
    if (!going) {
      going = this.hear(item).finally(() => this.going.delete(key));
      this.going.set(key, going);
    }
    return going;
  }

  /** The stored result for its present file; null if there is none. */
  async known(item: Item): Promise<HeardItem | null> {
    const kept = await this.storage.levels.find(item.id).catch(() => null);
    const isSame = kept?.size === item.size && kept.modified === item.modified;
    return isSame ? { type: 'heard', levels: kept, brokeOff: null } : null;
  }

  private async hear(item: Item): Promise<HeardItem> {
    const known = await this.known(item);
    if (known) return known;
    // A separate worker, because decoding a book takes minutes and can be cancelled.
    const client = new SoundClient();
    this.clients.add(client);
    let cancelled = false;
    const { durationSeconds } = item.facts;
    const job = this.work.start(
      `Analyse ${titleOf(item)}`,
      durationSeconds && Math.round(durationSeconds),
      () => {
        cancelled = true;
        client.end();
      },
    );
    try {
      const file = await this.openFile(item);
      const { brokeOff, ...levels } = await client.levels(file, item.format, (seconds) =>
        job.progress(Math.round(seconds)),
      );
      job.finish(`Analysed ${titleOf(item)}`);
      if (brokeOff === null)
        await this.storage.levels
          .keep(item.id, { ...levels, size: item.size, modified: item.modified })
          // In a tab that looks on it is heard again next time.
          .catch(() => {});
      return { type: 'heard', levels, brokeOff };
    } catch (error) {
      job.end();
      const reason = error instanceof Error ? error.message : String(error);
      return { type: 'deaf', reason: cancelled ? 'listening was cancelled' : reason };
    } finally {
      client.end();
      this.clients.delete(client);
    }
  }
}
