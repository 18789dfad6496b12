import { gainsOf } from '$lib/core/checks';
import { editItem, type Item, type ItemId } from '$lib/core/items';
import { nameOf } from '$lib/core/paths';
import type { LoudnessBlocks } from '$lib/core/sound';
import type { Library } from './library.svelte';
import type { Listening } from './listening.svelte';
import type { Work } from './work.svelte';

/** Measures loudness and sets the gains of items. */
export class LoudnessDesk {
  busy = $state(false);

  constructor(
    private readonly library: Library,
    private readonly listening: Listening,
    private readonly work: Work,
  ) {}

  /** Measures items completely, as one act that can be undone. Results before cancelling count. */
  async measure(items: readonly Item[]): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      await this.hear(items);
    } finally {
      this.busy = false;
    }
  }

  private async hear(items: readonly Item[]): Promise<void> {
    let isCancelled = false;
    const seconds = items.reduce((sum, { facts }) => sum + (facts.durationSeconds ?? 0), 0);
    const job = this.work.start('Measure loudness', seconds, () => (isCancelled = true));
    const heard = new Map<ItemId, LoudnessBlocks>();
    const failures: string[] = [];
    let done = 0;
    for (const item of items) {
      if (isCancelled) break;
      try {
        const blocks = await this.listening.loudness(item, (some) => job.progress(done + some));
        heard.set(item.id, blocks);
      } catch (error) {
        failures.push(`${nameOf(item.path)}: ${error instanceof Error ? error.message : String(error)}`);
      }
      done += item.facts.durationSeconds ?? 0;
      job.progress(done);
    }
    const gains = gainsOf(items, heard);
    if (gains.size > 0)
      this.library.act(`loudness of ${gains.size}`, items, (item) =>
        editItem(item, gains.get(item.id) ?? {}),
      );
    const failed = failures.length > 0 ? `, ${failures.length} failed (${failures[0]})` : '';
    job.finish(`Loudness of ${gains.size} of ${items.length} measured${failed}`, failures.length > 0);
  }
}
