import { titleOf, type Item, type ItemId } from '$lib/core/items';
import { codecFacts, recipeKey, type SoundRecipe, type TwinId, type WantedTwin } from '$lib/core/twins';
import { newId } from '$lib/io/new-id';
import type { KeptMaking } from '$lib/io/storage';
import { dropTwinFile } from '$lib/io/twin-files';
import { ConvertClient } from '$lib/workers/convert-client';
import type { ConvertFailure } from '$lib/workers/convert-protocol';
import { WorkerError } from '$lib/workers/worker-client';
import type { Library } from '../library.svelte';
import type { Job, Work } from '../work.svelte';
import type { TwinShelf } from './twin-shelf.svelte';

/** One twin that waits, is being made, or could not be made. */
export class TwinJob {
  state = $state<'waiting' | 'running' | 'failed'>('waiting');
  /** Seconds of its sound that are through. */
  heard = $state(0);
  failure = $state.raw<{ readonly code: ConvertFailure | 'unreadable'; readonly detail: string } | null>(
    null,
  );

  constructor(
    readonly item: ItemId,
    readonly title: string,
    readonly seconds: number,
    readonly recipe: SoundRecipe,
  ) {}

  get key(): string {
    return `${this.item} ${recipeKey(this.recipe)}`;
  }
}

/** Makes twins in workers, as many at once as the machine has cores, less one. */
export class TwinMaking {
  /** What waits and what is under way, in its order; what failed stays until it is tried again or let go. */
  jobs = $state.raw<readonly TwinJob[]>([]);
  isPaused = $state(false);
  speeds = $state.raw<KeptMaking['speeds']>({});
  private readonly clients = new Map<TwinJob, ConvertClient>();
  private readonly idle: ConvertClient[] = [];
  private readonly atOnce = Math.max(1, (globalThis.navigator?.hardwareConcurrency ?? 2) - 1);
  private job: Job | null = null;
  /** Nothing is begun before what an earlier page left was looked for: it would be taken for a part of that. */
  private isOpen = false;
  private made = 0;
  private failed = 0;

  constructor(
    private readonly library: Library,
    private readonly shelf: TwinShelf,
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly work: Work,
  ) {}

  /** Goes on with what a page that was closed had not made yet. */
  async open(): Promise<void> {
    const kept = await this.library.storage.making.find('queue');
    this.isOpen = true;
    this.goOn();
    if (!kept) return;
    this.speeds = kept.speeds;
    const wanted = kept.jobs.flatMap(({ item: id, recipe }) => {
      const item = this.library.find(id);
      return item ? [{ item, recipe }] : [];
    });
    this.add(wanted);
  }

  get waiting(): readonly TwinJob[] {
    return this.jobs.filter(({ state }) => state !== 'failed');
  }

  /** Has twins made, those alone that do not wait already; what failed before is tried again. */
  add(wanted: readonly WantedTwin[]): void {
    if (!this.library.mayWrite || wanted.length === 0) return;
    const asked = wanted.map(
      ({ item, recipe }) => new TwinJob(item.id, titleOf(item), item.facts.durationSeconds ?? 0, recipe),
    );
    const known = new Map(this.jobs.map((job) => [job.key, job]));
    const fresh = asked.filter(({ key }) => (known.get(key)?.state ?? 'failed') === 'failed');
    const again = new Set(fresh.map(({ key }) => key));
    this.jobs = [...this.jobs.filter(({ key }) => !again.has(key)), ...fresh];
    this.keepSoon();
    this.goOn();
  }

  pause(): void {
    this.isPaused = true;
  }

  resume(): void {
    this.isPaused = false;
    this.goOn();
  }

  /** Lets go of all that waits, and of what is under way. */
  cancel(): void {
    const { made, waiting } = this;
    const left = waiting.length;
    this.jobs = this.jobs.filter(({ state }) => state === 'failed');
    for (const client of this.clients.values()) client.end();
    this.clients.clear();
    this.isPaused = false;
    this.keepSoon();
    if (left > 0) this.finish(`${made} of ${made + left} twins made before it was cancelled`, false);
  }

  /** Lets go of what failed. */
  forgetFailed(): void {
    this.jobs = this.jobs.filter(({ state }) => state !== 'failed');
  }

  /** Whether an encoder takes a recipe here. @throws {WorkerError} */
  async canEncode(recipe: SoundRecipe): Promise<boolean> {
    const client = this.idle.pop() ?? new ConvertClient();
    try {
      return await client.canEncode(recipe);
    } finally {
      this.idle.push(client);
    }
  }

  /** Seconds that it takes to make as much; null while nothing is measured here. */
  secondsFor(wanted: readonly WantedTwin[]): number | null {
    let sum = 0;
    for (const { item, recipe } of wanted) {
      const speed = this.speeds[recipe.codec];
      if (speed === undefined) return null;
      sum += (item.facts.durationSeconds ?? 0) / speed;
    }
    return sum / this.atOnce;
  }

  end(): void {
    for (const client of [...this.clients.values(), ...this.idle]) client.end();
  }

  private goOn(): void {
    const { waiting } = this;
    if (waiting.length === 0 || !this.isOpen) return;
    this.job ??= this.work.start('Make twins', waiting.length, () => this.cancel());
    for (const job of waiting) {
      if (this.isPaused || this.clients.size >= this.atOnce) break;
      if (job.state === 'waiting') void this.make(job);
    }
    this.tell();
  }

  private async make(job: TwinJob): Promise<void> {
    const client = this.idle.pop() ?? new ConvertClient();
    this.clients.set(job, client);
    job.state = 'running';
    const begun = performance.now();
    const twin = newId() as TwinId;
    let failure: TwinJob['failure'];
    try {
      failure = await this.convert(job, twin, client, begun);
    } catch (error) {
      await dropTwinFile(this.library.storage.library, twin);
      // Its worker was ended: it was cancelled, or the library was closed.
      if (error instanceof WorkerError && error.code === 'ended') return;
      failure = { code: 'failed', detail: error instanceof Error ? error.message : String(error) };
    }
    if (failure) {
      job.failure = failure;
      job.state = 'failed';
      this.failed++;
    } else {
      this.made++;
      this.measure(job, begun);
      this.jobs = this.jobs.filter((one) => one !== job);
    }
    this.clients.delete(job);
    this.idle.push(client);
    this.keepSoon();
    if (this.waiting.length > 0) this.goOn();
    else this.finish(this.summary(), this.failed > 0);
  }

  /** @returns what went wrong, or null @throws {WorkerError} where it was ended */
  private async convert(
    job: TwinJob,
    id: TwinId,
    client: ConvertClient,
    begun: number,
  ): Promise<TwinJob['failure']> {
    const { recipe, seconds } = job;
    const item = this.library.find(job.item);
    if (!item) return { code: 'unreadable', detail: 'it is no item of the library any more' };
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
        this.measureFirst(job, heard, begun);
        this.tell();
      },
    );
    if (result.type === 'failed') return result;
    const { facts } = result;
    await this.shelf.keep(
      {
        id,
        item: item.id,
        recipe,
        from: { size, modified },
        format: codecFacts(recipe.codec).format,
        size: result.size,
        facts,
        madeAt: Date.now(),
      },
      (twin) => recipeKey(twin.recipe),
    );
    return null;
  }

  /** The first second of the first one says how fast it goes, until one is through. */
  private measureFirst({ recipe }: TwinJob, heard: number, begun: number): void {
    const took = (performance.now() - begun) / 1000;
    if (took >= 1 && heard > 0 && this.speeds[recipe.codec] === undefined)
      this.speeds = { ...this.speeds, [recipe.codec]: heard / took };
  }

  /** How fast this machine makes what it made, the last time counting for a third. */
  private measure({ seconds, recipe }: TwinJob, begun: number): void {
    const took = (performance.now() - begun) / 1000;
    if (seconds < 1 || took <= 0) return;
    const before = this.speeds[recipe.codec];
    const now = seconds / took;
    this.speeds = { ...this.speeds, [recipe.codec]: before === undefined ? now : (2 * before + now) / 3 };
  }

  private tell(): void {
    const { waiting, made, failed } = this;
    const under = waiting.reduce(
      (sum, { state, heard, seconds }) => sum + (state === 'running' && seconds > 0 ? heard / seconds : 0),
      0,
    );
    this.job?.progress(Math.floor(made + failed + under), made + failed + waiting.length);
  }

  private summary(): string {
    const { made, failed } = this;
    const done = `${made} ${made === 1 ? 'twin' : 'twins'} made and checked`;
    return failed === 0 ? done : `${done}, ${failed} could not be made`;
  }

  private finish(text: string, isFailed: boolean): void {
    this.job?.finish(text, isFailed);
    this.job = null;
    this.made = this.failed = 0;
    const isAway = globalThis.document?.hidden === true;
    if (isAway && globalThis.Notification?.permission === 'granted')
      new Notification('Lectorum', { body: text });
  }

  private keepSoon(): void {
    const jobs = this.waiting.map(({ item, recipe }) => ({ item, recipe }));
    const { speeds } = this;
    void this.library.storage.making.keep('queue', { jobs, speeds }).catch(() => {
      // A tab that the library was taken from keeps nothing of it.
    });
  }
}
