import { findingsOf, isFresh, type CheckFinding, type Checked } from '$lib/core/checks';
import { titleOf, type Item, type ItemId } from '$lib/core/items';
import { guessAround } from './guess-around';
import type { Session } from './session.svelte';

/** Checks whether items decode, how long they are, and which exist twice. */
export class CheckDesk {
  /** Grows in place: a copy for each of a hundred thousand files would take longer than the last of them. */
  private known = new Map<ItemId, Checked>();
  private changes = $state(0);
  findings = $state.raw<readonly CheckFinding[]>([]);
  running = $state(false);

  constructor(private readonly session: Pick<Session, 'doubles' | 'library' | 'listening' | 'work'>) {}

  get checks(): ReadonlyMap<ItemId, Checked> {
    void this.changes;
    return this.known;
  }

  /** Loads the results of earlier checks from the browser's storage. */
  async load(): Promise<void> {
    this.known = await this.session.library.storage.checks.all();
    this.changes++;
    this.weigh();
  }

  /** Items of these that were not checked since they last changed. */
  unchecked(items: readonly Item[]): readonly Item[] {
    const { checks } = this;
    return items.filter((item) => {
      const checked = checks.get(item.id);
      return !checked || !isFresh(checked, item);
    });
  }

  /** Checks items without a result. After cancelling, finished results are kept. */
  async run(items: readonly Item[]): Promise<void> {
    if (this.running) return;
    const { work, library } = this.session;
    const todo = this.unchecked(items);
    let cancelled = false;
    this.running = true;
    const job = work.start('Check', todo.length, () => (cancelled = true));
    const speech = new Map<ItemId, number | null>();
    let done = 0;
    try {
      for (const item of todo) {
        if (cancelled) break;
        const checked = await this.check(item);
        this.known.set(item.id, checked);
        this.changes++;
        await library.storage.checks.keep(item.id, checked);
        if (item.settled === null && (item.guess.certainty === 'open' || item.guess.certainty === 'guess'))
          speech.set(item.id, checked.speech);
        job.progress(++done);
      }
      // The share of speech settles kinds that nothing else did.
      library.put(await guessAround(library, speech.keys(), speech));
      this.weigh();
    } finally {
      // A tab that lost the library stores nothing.
      this.running = false;
      job.end();
    }
    const trouble = this.findings.length;
    job.finish(
      `${done} of ${todo.length} checked${cancelled ? ' before you cancelled' : ''}, ${trouble} to review`,
      trouble > 0,
    );
  }

  /** Compares all results with the present library. */
  weigh(): void {
    const { library } = this.session;
    this.findings = findingsOf(library.items, this.checks);
    const doubles = new Map<ItemId, string>();
    for (const finding of this.findings) {
      if (finding.type !== 'doubles') continue;
      const own = library.findAll(finding.items);
      for (const item of own) {
        const other = own.find(({ id }) => id !== item.id);
        if (other) doubles.set(item.id, titleOf(other));
      }
    }
    this.session.doubles = doubles;
  }

  private async check(item: Item): Promise<Checked> {
    const { listening } = this.session;
    const heard = await listening.hear(item, true);
    const base = { size: item.size, modified: item.modified, digest: await listening.digest(item) };
    if (heard.type === 'deaf')
      return {
        ...base,
        decodes: 'no',
        reason: heard.reason,
        decodedSeconds: null,
        fingerprint: null,
        speech: null,
      };
    const { fingerprint, speech, decodedSeconds, brokeOff } = heard.listened;
    return {
      ...base,
      decodes: brokeOff === null ? 'whole' : 'part',
      reason: brokeOff,
      decodedSeconds,
      fingerprint,
      speech,
    };
  }
}
