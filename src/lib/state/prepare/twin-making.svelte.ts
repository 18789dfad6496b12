import { titleOf, type Item, type ItemId } from '$lib/core/items';
import { effortOf, fileOf, recipeKey, type TwinId, type TwinRecipe, type WantedTwin } from '$lib/core/twins';
import { newId } from '$lib/io/new-id';
import type { KeptMaking } from '$lib/io/storage';
import { dropTwinFile } from '$lib/io/twin-files';
import { ConvertClient } from '$lib/workers/convert-client';
import type { ConvertFailure } from '$lib/workers/convert-protocol';
import { WorkerError } from '$lib/workers/worker-client';
import type { Library } from '../library.svelte';
import type { Job, Work } from '../work.svelte';
import { WriteBehind } from '../write-behind';
import type { TwinShelf } from './twin-shelf.svelte';

/** One twin that waits, is being made, or could not be made. */
export class TwinJob {
  /** Seconds of it that are done. */
  heard = $state(0);
  /** How many were when the first word of them came, and when that was, in milliseconds since the page began. */
  first: { readonly heard: number; readonly at: number } | null = null;
  /** Why it could not be made; null before that. */
  failure: { readonly code: ConvertFailure | 'unreadable'; readonly detail: string } | null = null;

  constructor(
    readonly item: ItemId,
    readonly title: string,
    readonly seconds: number,
    readonly recipe: TwinRecipe,
  ) {}

  get key(): string {
    return `${this.item} ${recipeKey(this.recipe)}`;
  }
}

/** Makes twins in workers, as many at once as the machine has cores, less one. */
export class TwinMaking {
  /** What waits for its turn, in order. */
  waiting = $state.raw<readonly TwinJob[]>([]);
  running = $state.raw<readonly TwinJob[]>([]);
  /** What could not be made, until it is tried again or taken off the list. */
  failures = $state.raw<readonly TwinJob[]>([]);
  isPaused = $state(false);
  speeds = $state.raw<KeptMaking['speeds']>({});
  private readonly clients = new Map<TwinJob, ConvertClient>();
  private readonly idle: ConvertClient[] = [];
  private readonly atOnce = Math.max(1, (globalThis.navigator?.hardwareConcurrency ?? 2) - 1);
  private job: Job | null = null;
  /** Nothing starts before leftovers of an earlier page were found: it would be taken for one of them. */
  private isOpen = false;
  private made = 0;
  private failed = 0;
  /** A long queue is not written again for each twin. */
  private readonly keeping: WriteBehind<'queue'>;

  constructor(
    private readonly library: Library,
    private readonly shelf: TwinShelf,
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly work: Work,
  ) {
    // A tab that lost the library stores nothing, and the next page makes the twin again.
    this.keeping = new WriteBehind(
      () => this.keep(),
      () => {},
    );
    this.keeping.busy = true;
  }

  /** How many are not made yet. */
  get left(): number {
    return this.waiting.length + this.running.length;
  }

  /** Continues with what an earlier page had not made yet. */
  async open(): Promise<void> {
    const kept = await this.library.storage.making.find('queue');
    this.isOpen = true;
    this.goOn();
    if (!kept) return;
    this.speeds = kept.speeds;
    const wanted = kept.jobs.flatMap(({ item: id, recipe }) => {
      const item = this.library.find(id);
      // The queue is written now and then: some of it may have been made since.
      return item && !this.shelf.has(item, recipe) ? [{ item, recipe }] : [];
    });
    this.add(wanted);
  }

  /** Queues twins that are not queued already; failed ones are tried again. */
  add(wanted: readonly WantedTwin[]): void {
    if (!this.library.mayWrite) return;
    const queued = new Set([...this.waiting, ...this.running].map(({ key }) => key));
    const fresh = wanted
      .map(({ item, recipe }) => new TwinJob(item.id, titleOf(item), item.facts.durationSeconds ?? 0, recipe))
      .filter(({ key }) => !queued.has(key));
    if (fresh.length === 0) return;
    const again = new Set(fresh.map(({ key }) => key));
    this.failures = this.failures.filter(({ key }) => !again.has(key));
    this.waiting = [...this.waiting, ...fresh];
    this.keepNow();
    this.goOn();
  }

  pause(): void {
    this.isPaused = true;
  }

  resume(): void {
    this.isPaused = false;
    this.goOn();
  }

  /** Empties the queue, and stops what is being made. */
  cancel(): void {
    const { made, left } = this;
    this.waiting = this.running = [];
    for (const client of this.clients.values()) client.end();
    this.clients.clear();
    this.isPaused = false;
    this.keepNow();
    if (left > 0) this.finish(`${made} of ${twins(made + left)} made before you cancelled`, false);
  }

  /** Takes what failed off the list. */
  forgetFailures(): void {
    this.failures = [];
  }

  /** Whether an encoder accepts a recipe here. @throws {WorkerError} */
  async canEncode(recipe: TwinRecipe): Promise<boolean> {
    const client = this.idle.pop() ?? new ConvertClient();
    try {
      return await client.canEncode(recipe);
    } finally {
      this.idle.push(client);
    }
  }

  /** The expected seconds for these twins; null before anything was measured. */
  secondsFor(wanted: readonly WantedTwin[]): number | null {
    let sum = 0;
    for (const { item, recipe } of wanted) {
      const speed = this.speeds[effortOf(recipe)];
      if (speed === undefined) return null;
      sum += (item.facts.durationSeconds ?? 0) / speed;
    }
    return sum / this.atOnce;
  }

  end(): void {
    for (const client of [...this.clients.values(), ...this.idle]) client.end();
  }

  private goOn(): void {
    if (this.left === 0 || !this.isOpen) return;
    this.job ??= this.work.start('Make twins', this.left, () => this.cancel());
    while (!this.isPaused && this.running.length < this.atOnce && this.waiting.length > 0) {
      const [next, ...rest] = this.waiting as [TwinJob, ...TwinJob[]];
      this.waiting = rest;
      this.running = [...this.running, next];
      void this.make(next);
    }
    this.tell();
  }

  private async make(job: TwinJob): Promise<void> {
    const client = this.idle.pop() ?? new ConvertClient();
    this.clients.set(job, client);
    const begun = performance.now();
    const twin = newId() as TwinId;
    let failure: TwinJob['failure'];
    try {
      failure = await this.convert(job, twin, client);
    } catch (error) {
      await dropTwinFile(this.library.storage.library, twin);
      // Its worker was ended: it was cancelled, or the library was closed.
      if (error instanceof WorkerError && error.code === 'ended') return;
      failure = { code: 'failed', detail: error instanceof Error ? error.message : String(error) };
    }
    this.running = this.running.filter((one) => one !== job);
    if (failure) {
      job.failure = failure;
      this.failures = [...this.failures, job];
      this.failed++;
    } else {
      this.made++;
      this.measure(job, begun);
    }
    this.clients.delete(job);
    this.idle.push(client);
    this.keeping.mark('queue');
    if (this.left > 0) this.goOn();
    else this.finish(this.summary(), this.failed > 0);
  }

  /** @returns what went wrong, or null @throws {WorkerError} if it was ended */
  private async convert(job: TwinJob, id: TwinId, client: ConvertClient): Promise<TwinJob['failure']> {
    const { recipe, seconds } = job;
    const item = this.library.find(job.item);
    if (!item) return { code: 'unreadable', detail: 'it is no longer in the library' };
    const file = await this.openFile(item).catch((error: unknown) => String(error));
    if (typeof file === 'string') return { code: 'unreadable', detail: file };
    const { library } = this.library.storage;
    const { format, size, modified } = item;
    const { durationSeconds, isAbout, isCut } = item.facts;
    const isWhole = durationSeconds !== null && !isAbout && !isCut;
    const result = await client.make(
      { library, twin: id, file, format, recipe, seconds, isWhole },
      (heard) => {
        job.heard = heard;
        this.measureFirst(job, heard);
        this.tell();
      },
    );
    if (result.type === 'failed') return result;
    const { facts, tracks } = result;
    await this.shelf.keep({
      id,
      item: item.id,
      recipe,
      from: { size, modified },
      format: fileOf(recipe).format,
      size: result.size,
      facts,
      ...(tracks && { tracks }),
      madeAt: Date.now(),
    });
    return null;
  }

  /**
   * One second of the first twin gives the speed until a twin is complete, without the second in which its encoder is
   * loaded.
   */
  private measureFirst(job: TwinJob, heard: number): void {
    if (this.speeds[effortOf(job.recipe)] !== undefined) return;
    const now = performance.now();
    job.first ??= { heard, at: now };
    const took = (now - job.first.at) / 1000;
    if (took >= 1 && heard > job.first.heard)
      this.speeds = { ...this.speeds, [effortOf(job.recipe)]: (heard - job.first.heard) / took };
  }

  /** The speed of this machine, with the last twin weighted by a third. */
  private measure({ seconds, recipe }: TwinJob, begun: number): void {
    const took = (performance.now() - begun) / 1000;
    if (seconds < 1 || took <= 0) return;
    const before = this.speeds[effortOf(recipe)];
    const now = seconds / took;
    this.speeds = { ...this.speeds, [effortOf(recipe)]: before === undefined ? now : (2 * before + now) / 3 };
  }

  private tell(): void {
    const { left, made, failed, running } = this;
    const under = running.reduce((sum, { heard, seconds }) => sum + (seconds > 0 ? heard / seconds : 0), 0);
    this.job?.progress(Math.floor(made + failed + under), made + failed + left);
  }

  private summary(): string {
    const { made, failed } = this;
    const done = `${twins(made)} made and checked`;
    return failed === 0 ? done : `${done}, ${failed} failed`;
  }

  private finish(text: string, isFailed: boolean): void {
    this.job?.finish(text, isFailed);
    this.job = null;
    this.made = this.failed = 0;
    const isAway = globalThis.document?.hidden === true;
    if (isAway && globalThis.Notification?.permission === 'granted')
      new Notification('Lectorum', { body: text });
  }

  /** Stored at once, in case the page is closed. */
  private keepNow(): void {
    this.keeping.mark('queue');
    void this.keeping.flush();
  }

  private async keep(): Promise<void> {
    const jobs = [...this.running, ...this.waiting].map(({ item, recipe }) => ({ item, recipe }));
    await this.library.storage.making.keep('queue', { jobs, speeds: this.speeds });
  }
}

const twins = (count: number): string => `${count.toLocaleString('en')} ${count === 1 ? 'twin' : 'twins'}`;
