import type { Gathering } from '$lib/core/identify';
import { kindOf, titleOf, type Item, type ItemId } from '$lib/core/items';
import { WorkerError } from '$lib/workers/worker-client';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { Work } from '../work.svelte';

/** Milliseconds after an edit until items are gathered again. */
const SETTLE = 250;

/** What follows from what happens to sets. */
export interface SetsFollowed {
  /** Another set is on show, or none. */
  opened(): void;
  /** The key of the open set changed: what is known of it moves with it. */
  renamed(from: string, to: string): void;
  gathered(): Promise<void>;
}

/** The sets that items are gathered into, and the one on show. */
export class Sets {
  gatherings = $state.raw<readonly Gathering[]>([]);
  /** Key of the gathering whose line-up is on show; null shows all of them. */
  openKey = $state<string | null>(null);
  readonly gathering: Gathering | null = $derived(
    this.gatherings.find(({ key }) => key === this.openKey) ?? null,
  );
  /** Items of the one on show. */
  readonly items: readonly Item[] = $derived.by(() => {
    // Read first, so that the line-up follows every edit.
    void this.library.items;
    return this.gathering ? this.library.findAll(this.gathering.items) : [];
  });
  readonly waiting: readonly Gathering[] = $derived(this.gatherings.filter(({ state }) => state === 'waits'));
  /** Items that no line-up has touched, over all gatherings that wait. */
  readonly unmatched: number = $derived(this.waiting.reduce((sum, { waiting }) => sum + waiting, 0));
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly mirror: LibraryMirror,
    private readonly followed: SetsFollowed,
  ) {}

  /** Gathers soon, once edits have settled. */
  gatherSoon(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.gatherNow(), SETTLE);
  }

  async gatherNow(again = false): Promise<void> {
    this.timer = null;
    try {
      await this.gather();
    } catch (error) {
      if (!(error instanceof WorkerError)) throw error;
      // A worker that crashed is started again with all data, once.
      if (error.code === 'died' && !again) return this.gatherNow(true);
      if (error.code !== 'ended') this.work.say(`Files could not be grouped: ${error.message}`, true);
    }
  }

  end(): void {
    if (this.timer) clearTimeout(this.timer);
  }

  /** Shows a gathering's line-up, and looks it up if that was not done yet. */
  open(key: string | null): void {
    this.openKey = key;
    this.followed.opened();
  }

  /** Opens the next gathering that waits, or the one before. */
  step(by: 1 | -1): void {
    const { waiting } = this;
    if (waiting.length === 0) return;
    const at = waiting.findIndex(({ key }) => key === this.openKey);
    const next = at < 0 ? 0 : (at + by + waiting.length) % waiting.length;
    this.open(waiting[next]?.key ?? null);
  }

  /** Leaves the gathering's open items as they are: they no longer wait. */
  leaveAsTheyAre(gathering: Gathering): void {
    const items = this.library.findAll(gathering.items).filter(({ identity }) => identity === null);
    this.library.act(`Leave ${gathering.label} as it is`, items, (item) => ({
      ...item,
      identity: { type: 'left', at: Date.now() },
    }));
  }

  /** Lets matched or left items wait again. */
  reopen(gathering: Gathering): void {
    this.library.act(`Reopen ${gathering.label}`, this.library.findAll(gathering.items), (item) =>
      item.identity === null ? item : { ...item, identity: null },
    );
  }

  /** Makes these items a release of their own. */
  split(ids: readonly ItemId[]): void {
    const items = this.library.findAll(ids);
    const [first] = items;
    if (!first) return;
    const label = this.freeLabel(
      items.length === 1 ? titleOf(first) : `${this.gathering?.label ?? titleOf(first)}, part`,
    );
    this.library.act(`Split off ${items.length}`, items, (item) => ({ ...item, gathering: label }));
  }

  /** Adds items to the open gathering, whose files then form one release by hand. */
  join(ids: readonly ItemId[]): void {
    const { gathering } = this;
    if (!gathering) return;
    const own = this.library.findAll(gathering.items);
    const label = own[0]?.gathering ?? this.freeLabel(gathering.label);
    const kind = own[0] ? kindOf(own[0]) : null;
    const all = [...own, ...this.library.findAll(ids)];
    this.library.act(`Join ${ids.length} to ${gathering.label}`, all, (item) => ({
      ...item,
      gathering: label,
      settled: kindOf(item) === kind ? item.settled : kind,
    }));
  }

  private freeLabel(wanted: string): string {
    const taken = new Set(this.library.items.map(({ gathering }) => gathering));
    for (let count = 1; ; count++) {
      const label = count === 1 ? wanted : `${wanted} ${count}`;
      if (!taken.has(label)) return label;
    }
  }

  private async gather(): Promise<void> {
    const generation = await this.mirror.bring();
    const first = this.gathering?.items[0];
    this.gatherings = await this.mirror.client.gather(generation);
    if (first && !this.gatherings.some(({ key }) => key === this.openKey)) this.follow(first);
    await this.followed.gathered();
  }

  /**
   * Splitting, joining or another album changes the key of the open set: it stays open, with all that is known of it.
   */
  private follow(first: ItemId): void {
    const [from, to] = [this.openKey ?? '', this.gatherings.find(({ items }) => items.includes(first))?.key];
    if (to !== undefined) this.followed.renamed(from, to);
    this.openKey = to ?? null;
  }
}
