import {
  abilitiesOf,
  ofItems,
  type PlaceAbilities,
  type PastRun,
  type Player,
  type PlayerId,
  type Target,
  type TargetId,
} from '$lib/core/library';
import { kindOf, type Item, type ItemId } from '$lib/core/items';
import {
  NO_CHOICES,
  type TopFolderPicture,
  type FailedStep,
  type Finding,
  type FindingLine,
  type ItemOfFinding,
  type PlacedFile,
  type PlanAbout,
  type PlanDigest,
  type Proof,
  type Severity,
  type SidesOf,
  type Some,
  type StepType,
  type ThereFile,
  type ShownNode,
} from '$lib/core/plan';
import {
  type PlaceRoom,
  JOURNAL_VERSION,
  isUnfinished,
  placedAfter,
  totalsOf,
  type Journal,
} from '$lib/core/run';
import { refusalOf, type Rulebook } from '$lib/core/rulebooks';
import { rulebookOf } from '$lib/rulebooks';
import { newId } from '$lib/io/new-id';
import { findZip } from '$lib/io/stores/zip-store';
import type { LibraryClient } from '$lib/workers/library-client';
import { storeOf } from '$lib/io/stores/store-of';
import { RunClient } from '$lib/workers/run-client';
import type { RunResult } from '$lib/workers/run-protocol';
import type { PlaceAddress } from '$lib/io/stores/store-of';
import { WorkerError } from '$lib/workers/worker-client';
import { EarlierRehearsal, type MadeFrom } from './earlier-rehearsal';
import { FromPlayer } from './from-player';
import { PlayerDecisions } from './player-decisions';
import type { Intake } from './intake.svelte';
import type { LibraryMirror } from './library-mirror';
import { placeKey } from './library-records';
import type { Library } from './library.svelte';
import type { Work } from './work.svelte';

/** Milliseconds after an edit until the plan is made anew. */
const SETTLE = 40;
const SETTLE_OTHERS = 250;
/** One player: what it lists, the plan and rehearsal for it, runs, and the proof afterwards. */
export class PlayerDesk {
  readonly player: Player = $derived.by(() => this.library.playerOf(this.id, this.id));
  readonly rulebook: Rulebook = $derived.by(() => rulebookOf(this.player));
  readonly name: string = $derived.by(() => this.player.name ?? this.rulebook.name);
  targetId = $state<TargetId | null>(null);
  /** What a screen shows of the plan; the plan itself stays in its worker. */
  plan = $state.raw<PlanDigest | null>(null);
  planning = $state(false);
  /** Milliseconds since 1970 of the rehearsal on show. */
  plannedAt = $state<number | null>(null);
  /** Why the player could not be looked at. */
  trouble = $state<string | null>(null);
  /** When it last answered, in milliseconds since 1970, while it does not; null where it never did. */
  seenAt = $state<number | null>(null);
  journal = $state.raw<Journal | null>(null);
  /** Runs before the last one, the latest first. */
  past = $state.raw<readonly PastRun[]>([]);
  proof = $state.raw<Proof | null>(null);
  running = $state(false);
  /** Steps of the run under way that have ended, and all of them. */
  progress = $state.raw<{ readonly done: number; readonly total: number } | null>(null);
  /** Bytes of its disk, as it told at the last look; null for a place that tells of none. */
  disk = $state.raw<PlaceRoom | null>(null);
  folder = $state.raw<FileSystemDirectoryHandle | null>(null);
  zip = $state.raw<File | null>(null);
  /** Names the plan on show: a run is of that one or of none. */
  private token = '';
  /** The start of the worker that knows what lies at the place, and what it was told of our own files there. */
  private lookedAt = 0;
  /** Since when the place is as it was listed, in milliseconds since 1970. */
  private since: number | null = null;
  /** What is on show was rehearsed before, of the same library and place: the plan itself is still to be made. */
  private isEarlier = false;
  /** Resolves when that is so no more. */
  private arriving: Promise<void> = Promise.resolve();
  private arrive = () => {};
  private base: { readonly placed: readonly PlacedFile[]; readonly generation: number } | null = null;

  readonly decisions: PlayerDecisions;
  private starting = false;
  /** The run before, where the one under way tries again what failed then. */
  private retryOf: Journal | null = null;
  private readonly fromPlayer: FromPlayer;
  private readonly earlier: EarlierRehearsal;
  private readonly runner: RunClient;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private turn = 0;
  /** Counts the looks at a target: of two at a time the later one holds. */
  private greeting = 0;
  private making: Promise<unknown> = Promise.resolve();

  constructor(
    readonly id: PlayerId,
    private readonly library: Library,
    private readonly work: Work,
    private readonly mirror: LibraryMirror,
    intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
    runner = new RunClient(),
  ) {
    this.runner = runner;
    this.fromPlayer = new FromPlayer(library, intake);
    this.earlier = new EarlierRehearsal(library);
    this.decisions = new PlayerDecisions(library, this);
  }

  private get zipName(): string {
    return `${this.id}.zip`;
  }

  private get planner(): LibraryClient {
    return this.mirror.client;
  }

  /** Where the next run writes: the device itself until another one is chosen. */
  get target(): Target {
    const { targets } = this.player;
    return targets.find(({ id }) => id === this.targetId) ?? (targets[0] as Target);
  }

  /** What the place of that target can do. */
  get place(): PlaceAbilities {
    return abilitiesOf(this.target);
  }

  /** Looks at a target afresh: what lies there, and the journal of the last run. */
  async open(target: TargetId = this.target.id): Promise<void> {
    if (await this.greet(target)) await this.planNow();
  }

  /**
   * Lists a target, and shows what was last rehearsed for it, if that holds: a plan of a large library takes seconds.
   * @returns false where another look at a target began in the meantime, which then says all there is to say
   */
  async greet(target: TargetId = this.target.id): Promise<boolean> {
    const { storage } = this.library;
    const greeting = ++this.greeting;
    const isLatest = () => greeting === this.greeting;
    if (target !== this.target.id) {
      this.journal = null;
      this.past = [];
    }
    this.targetId = target;
    this.proof = null;
    this.plan = null;
    const folder = await storage.findHandle(placeKey(this.id));
    const zip = this.place.isSaved ? await findZip(this.zipName) : null;
    const journal = await storage.runs.latest(target);
    const past = await this.loadPast(target);
    // What is known of one target says nothing of the one that was chosen since.
    if (!isLatest()) return false;
    this.folder = folder;
    this.zip = zip;
    this.journal = journal;
    this.past = past;
    this.keepPlaced();
    this.lookedAt = 0;
    // One after the other: a place that answers late must not be taken for the one that is looked at now.
    const listing = this.making.then(() => (isLatest() ? this.listAndRecall(isLatest) : undefined));
    this.making = listing;
    await listing;
    return isLatest();
  }

  private async listAndRecall(isLatest: () => boolean): Promise<void> {
    try {
      await this.tellPlace(this.planner.generation);
      const plan = await this.earlier.find(this.madeFrom(), this.isChosen);
      if (!isLatest()) return;
      this.plan = plan;
      this.isEarlier = plan !== null;
      this.plannedAt = Date.now();
      if (this.isEarlier) this.arriving = new Promise((resolve) => (this.arrive = resolve));
    } catch {
      // Whatever it is, it comes up again where the plan is made, and is told there.
    }
  }

  private madeFrom(): MadeFrom {
    const { journal, since, target } = this;
    const run = journal && `${journal.id} ${journal.state} ${journal.endedAt}`;
    return { target: target.id, since, run };
  }

  /** Bytes that its files may take in all; null where that is not known. */
  get limit(): number | null {
    const { disk, place, rulebook } = this;
    if (place.isUnlimited) return null;
    return place.tellsRoom && disk ? disk.room - disk.others : rulebook.disk.room;
  }

  /** Something is to be run, decided or mended before it is as planned. */
  get isBehind(): boolean {
    return this.plan !== null && (hasToDo(this.plan) || this.plan.held > 0);
  }

  /** A run that was cut off, cancelled or half taken back comes before anything else at its place. */
  get unfinished(): boolean {
    return this.journal !== null && isUnfinished(this.journal);
  }

  /** Lists the player and rehearses again. */
  async look(): Promise<void> {
    this.lookedAt = 0;
    this.proof = null;
    await this.planNow();
  }

  /** It is the one that is looked at: all of its plan is told, and of others only what a list shows. */
  isChosen = false;

  /** Plans soon, once edits have settled. Others wait until the one that is looked at is through. */
  planSoon(): void {
    // What is on show is out of date from now on, and must not be run.
    this.planning = true;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.planNow(), this.isChosen ? SETTLE : SETTLE_OTHERS);
  }

  /** One run at a time, and none in a tab that only looks on. */
  private get mayStart(): boolean {
    return !this.running && this.library.mayWrite;
  }

  /** What lies there by our hand. The journal knows it at every point of a run, the record after it. */
  private readonly placed: readonly PlacedFile[] = $derived.by(() => {
    if (!this.place.lists) return [];
    return this.journal ? placedBy(this.journal) : this.library.baseOf(this.target.id);
  });

  /** Brings the record up to what the journal says: the page may have gone while its run went on. */
  private keepPlaced(): void {
    const { placed, target } = this;
    const base = this.library.baseOf(target.id);
    if (!this.place.lists || placed === base || JSON.stringify(placed) === JSON.stringify(base)) return;
    this.library.setBase(target.id, placed);
    // A run that came to its end did what was decided; what it could not do is asked again.
    if (this.journal?.state === 'finished' && target.choices.sides.length > 0)
      this.library.setChoices(this.player, target, { ...target.choices, sides: [] });
  }

  /** Writes to this folder from now on. What runs put into another one says nothing of it. */
  async useFolder(handle: FileSystemDirectoryHandle): Promise<void> {
    const { storage } = this.library;
    const target = this.player.targets.find((one) => abilitiesOf(one).isChosen);
    if (!this.mayStart || !target) return;
    const isSame = this.folder !== null && (await this.folder.isSameEntry(handle));
    if (!isSame) {
      if (this.unfinished) {
        this.work.say('The last run into the folder is unfinished: resume it or take it back first', true);
        return;
      }
      await storage.runs.drop(target.id);
      // What was decided of items stands; what was decided of files was of those of the folder before.
      this.library.setChoices(this.player, target, { ...NO_CHOICES, ...ofItems(target.choices) });
      this.library.setBase(target.id, []);
    }
    await storage.keepHandle(placeKey(this.id), handle);
    await this.open(target.id);
  }

  /** Applies the plan on show, if the place is still as it was rehearsed for. */
  async run(): Promise<void> {
    await this.startOnce(() => this.lookAndRun());
  }

  private async lookAndRun(): Promise<void> {
    const seen = this.plan;
    if (!this.mayRun(seen)) return;
    await this.look();
    const { plan, trouble } = this;
    if (trouble !== null) return this.work.say(`${this.name} does not answer: ${trouble}`, true);
    if (!this.mayRun(plan)) return;
    if (JSON.stringify(plan) !== JSON.stringify(seen)) {
      return this.sayAnew();
    }
    await this.carryOut(plan, false);
  }

  private sayAnew(): void {
    this.work.say(`${this.name} is not as it was any more: this is a new rehearsal, look at it first`, true);
  }

  /** Brings the player up to date as far as nobody has to decide anything and nothing is removed there. */
  async runBySelf(): Promise<void> {
    await this.startOnce(async () => {
      const { plan } = this;
      // A run that has nothing to do would end the taking back of the one before for nothing.
      if (this.mayRun(plan) && this.trouble === null && doesMore(plan)) await this.carryOut(plan, true);
    });
  }

  /** What is being started is not started once more: looking and keeping come before a run counts as under way. */
  private async startOnce(start: () => Promise<void>): Promise<void> {
    if (this.starting) return;
    this.starting = true;
    try {
      await start();
    } finally {
      this.starting = false;
    }
  }

  private mayRun(plan: PlanDigest | null): plan is PlanDigest {
    return this.mayStart && plan !== null && !this.planning && !this.unfinished && hasToDo(plan);
  }

  private async carryOut(plan: PlanDigest, isMild: boolean): Promise<void> {
    await this.library.flush();
    const last = this.journal;
    // What failed is tried again: the run before can be taken back until something of this one is done.
    const isRetry = last !== null && plan.stepCount > 0 && plan.stepCount <= totalsOf(last).failed;
    if (last && !isRetry && !(await this.releaseLast(last))) return;
    this.retryOf = isRetry ? last : null;
    const start = { id: newId(), startedAt: Date.now(), ...(isMild && { isMild: true as const }) };
    try {
      const comes = plan.comes.edits + plan.comes.files > 0 && this.place.lists;
      if (comes) await this.take(await this.noteComing(start));
      else await this.begin(start);
    } catch (error) {
      this.work.say(`${this.name}: the run did not begin, ${wordsOf(error)}`, true);
    }
  }

  /** Notes what comes from the player before any of it is done: the journal covers both halves of a sync. */
  private async noteComing(start: Pick<Journal, 'id' | 'startedAt' | 'isMild'>): Promise<Journal> {
    const coming = await this.planner.comes(this.id);
    const journal: Journal = {
      ...start,
      version: JOURNAL_VERSION,
      endedAt: null,
      state: 'taking',
      reason: null,
      steps: [],
      outcomes: [],
      placedBefore: this.placed,
      took: await this.fromPlayer.plan(this, coming, this.placed),
    };
    await this.library.storage.runs.start(this.target.id, journal);
    this.journal = journal;
    return journal;
  }

  /** The first half: the steps are those of a library that has what comes from the player. */
  private async take(journal: Journal): Promise<void> {
    const at = this.whereabouts();
    if (!journal.took) return;
    this.running = true;
    try {
      const took = await this.fromPlayer.take(this, journal.took, storeOf(at));
      const taken: Journal = { ...journal, took };
      if (took.placed.length > 0)
        this.library.setBase(this.target.id, [...journal.placedBefore, ...took.placed]);
      await this.library.flush();
      await this.library.storage.runs.saveHead(this.target.id, taken);
      this.journal = taken;
      await this.planNow();
      await this.begin(taken);
    } finally {
      this.running = false;
    }
  }

  /** A run that did nothing is none: the one before stays the last, and can be taken back. */
  private async endRetry(last: Journal): Promise<void> {
    const { journal, target } = this;
    this.retryOf = null;
    if (!journal || journal.id === last.id || this.unfinished) return;
    if (totalsOf(journal).done > 0 || journal.took) {
      await this.releaseLast(last);
      return;
    }
    await this.library.storage.runs.remove(target.id, journal.id);
    this.journal = last;
  }

  /** The second half, in the journal of the first. */
  private async begin({
    id,
    startedAt,
    took,
    isMild,
  }: Pick<Journal, 'id' | 'startedAt' | 'took' | 'isMild'>) {
    const steps = await this.planner.begin({
      isMild: isMild ?? false,
      player: this.id,
      token: this.token,
      library: this.library.name,
      target: this.target.id,
      journal: { id, startedAt, ...(took && { took }) },
    });
    if (steps > 0 || took) await this.apply(steps);
  }

  /** Goes on with a run that was cancelled, stopped, or cut off by a reload. */
  async resume(): Promise<void> {
    const { journal } = this;
    if (!this.mayStart || !journal || !this.unfinished || journal.state === 'takingBack') return;
    if (journal.state !== 'taking') return this.apply(journal.steps.length);
    await this.startOnce(async () => {
      const seen = this.plan;
      await this.look();
      if (this.trouble !== null) return this.work.say(`${this.name} does not answer: ${this.trouble}`, true);
      if (JSON.stringify(this.plan) !== JSON.stringify(seen)) return this.sayAnew();
      try {
        await this.take(journal);
      } catch (error) {
        this.work.say(`${this.name}: the run did not go on, ${wordsOf(error)}`, true);
      }
    });
  }

  async takeBack(): Promise<void> {
    const journal = this.journal;
    if (!journal || !this.mayStart) return;
    const { took } = journal;
    const { runs } = this.library.storage;
    const { id } = this.target;
    if (took) {
      // Noted first, as all that follows: whatever is cut from here on is taken up again from this end.
      await runs.saveHead(id, { ...journal, state: 'takingBack' });
      const kept = await this.fromPlayer.giveBack(this.name, took);
      await this.library.flush();
      if (kept > 0) this.work.say(`${kept} items were changed since the run and stay as they are`, true);
    }
    const isHalf = journal.steps.length === 0;
    if (isHalf) await runs.saveHead(id, { ...journal, state: 'takenBack', endedAt: Date.now() });
    const result: RunResult = isHalf
      ? { type: 'takenBack', undone: 0, left: [] }
      : await this.inWorker('Take the run back', journal.outcomes.length, 'takeBack');
    this.journal = await runs.latest(id);
    this.keepPlaced();
    this.proof = null;
    if (result.type !== 'takenBack') return this.failed(result);
    this.work.say(
      result.left.length === 0
        ? `Run taken back: ${result.undone} ${result.undone === 1 ? 'step' : 'steps'} undone`
        : `Run taken back but for ${result.left.length} files that were changed since: ${result.left[0]?.path}`,
      result.left.length > 0,
    );
    await this.refresh();
  }

  cancel(): void {
    this.runner.cancel();
  }

  /** Ends the workers, with the library. A run under way is found in its journal when it is opened again. */
  end(): void {
    if (this.timer) clearTimeout(this.timer);
    this.earlier.end();
    this.arrive();
    this.runner.end();
  }

  /** What an earlier run held aside goes for good before a new run begins; its taking back ends here. */
  private async releaseLast(journal: Journal): Promise<boolean> {
    const holds = journal.outcomes.some(
      (outcome) =>
        (outcome.type === 'done' && outcome.was !== null) ||
        (outcome.type === 'failed' && outcome.hold !== null),
    );
    if (!holds) return true;
    const result = await this.inWorker('Clear what the last run held', null, 'takeAsGood', journal.id);
    if (result.type === 'good') return true;
    this.failed(result);
    return false;
  }

  /** @param steps how many the run has */
  private async apply(steps: number): Promise<void> {
    const result = await this.inWorker(`${this.name} run`, steps, 'apply');
    const after = await this.library.storage.runs.latest(this.target.id);
    this.journal = after;
    this.keepPlaced();
    await this.library.flush();
    if (result.type !== 'applied' || !after) return this.failed(result);
    // Before it is said: what is said to be over can be taken back at once.
    if (this.retryOf) await this.endRetry(this.retryOf);
    this.work.say(inWords(this.name, after), result.state === 'stopped' || totalsOf(after).failed > 0);
    await this.refresh();
    if (this.place.scansItself && result.state === 'finished') await this.readProof();
  }

  private async refresh(): Promise<void> {
    this.journal = await this.library.storage.runs.latest(this.target.id);
    this.past = await this.loadPast(this.target.id);
    this.zip = this.place.isSaved ? await findZip(this.zipName) : null;
    await this.look();
  }

  /** Reads the player's own scan and holds it against the rehearsal. */
  async readProof(): Promise<void> {
    const { device } = this.player;
    if (!this.plan || device === null) return;
    try {
      this.proof = await (await this.planned()).prove(this.id, device);
    } catch (error) {
      this.trouble = wordsOf(error);
    }
  }

  /** The planner, once it has made the plan that is on show. */
  private async planned(): Promise<LibraryClient> {
    await this.arriving;
    return this.planner;
  }

  /** What a shelf of the showing holds. */
  async nodesOf(shelf: string): Promise<readonly ShownNode[]> {
    return (await this.planned()).nodes(this.id, shelf);
  }

  /** Whether it plays an item as it is. */
  takes(item: Item): boolean {
    const kind = kindOf(item);
    return kind !== null && refusalOf(this.rulebook, kind, { ...item, ...item.facts }) === null;
  }

  /** What the plan on show means for some items. */
  async about(items: readonly ItemId[]): Promise<PlanAbout | null> {
    return (await this.planned()).about(this.id, items);
  }

  /** Findings of the plan on show, of a severity or of all: those of one stretch, the gravest first. */
  async findings(severity: Severity | null, from: number, to: number): Promise<readonly FindingLine[]> {
    return (await this.planned()).findings(this.id, severity, from, to);
  }

  /** A finding of the plan on show, with all its items and with what mends them. */
  async finding(id: string): Promise<Finding | null> {
    return (await this.planned()).finding(this.id, id);
  }

  /** The first items that a finding is about, and how many there are. */
  async itemsOf(id: string, most: number): Promise<Some<ItemOfFinding> | null> {
    return (await this.planned()).itemsOf(this.id, id, most);
  }

  /** Top folders that are to have a picture of their own. */
  async topFolders(): Promise<readonly TopFolderPicture[]> {
    return (await this.planned()).topFolders(this.id);
  }

  /** Both sides of what a finding is about. */
  async sides(id: string): Promise<readonly SidesOf[]> {
    return (await this.planned()).sides(this.id, id);
  }

  /** All that lay there before the last run, as it was listed then. */
  thereBefore(): Promise<readonly ThereFile[]> {
    return this.journal
      ? this.library.storage.runs.thereBefore(this.target.id, this.journal.id)
      : Promise.resolve([]);
  }

  private async loadPast(target: TargetId): Promise<readonly PastRun[]> {
    const [, ...past] = await this.library.storage.runs.list(target);
    return past;
  }

  /** A run that is over; null where its counts alone are kept. */
  journalOf(run: string): Promise<Journal | null> {
    return this.library.storage.runs.load(this.target.id, run);
  }

  private async inWorker(
    label: string,
    total: number | null,
    type: 'apply' | 'takeBack' | 'takeAsGood',
    run?: string,
  ): Promise<RunResult> {
    this.running = true;
    const job = this.work.start(label, total, type === 'apply' ? () => this.cancel() : null);
    try {
      const { name: library } = this.library;
      const at = this.whereabouts();
      const request = { type, library, target: this.target.id, at, ...(run && { run }) };
      return await this.runner.do(request, (ended) => {
        job.progress(ended);
        this.progress = { done: ended, total: total ?? 0 };
      });
    } finally {
      job.end();
      this.progress = null;
      this.running = false;
    }
  }

  private whereabouts(): PlaceAddress {
    const { type } = this.target;
    const { device } = this.player;
    if (type === 'device' && device !== null) return { type: 'device', device };
    if (type === 'zip') return { type: 'zip', name: this.zipName };
    if (!this.folder) throw new RangeError('no folder is chosen');
    return { type: 'folder', handle: this.folder };
  }

  private failed(result: RunResult): void {
    // A fault is told by its words alone: its code says nothing to anybody.
    const known = result.type === 'failed' && result.code !== 'fault' ? `${result.code}: ` : '';
    const detail = result.type === 'failed' ? known + result.detail : result.type;
    this.work.say(
      `${this.name}: the run stopped, ${detail}${this.unfinished ? '; it can be resumed' : ''}`,
      true,
    );
  }

  /** Plans and rehearses for what was listed last. */
  async planNow(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const turn = ++this.turn;
    const { id } = this.target;
    this.planning = !this.isEarlier;
    // One after the other: a plan must not be made while the place is still being listed for the one before.
    const making = this.making.then(() => (turn === this.turn ? this.makePlan() : null));
    this.making = making;
    const plan = await making;
    if (turn !== this.turn || id !== this.target.id) return;
    this.plan = plan;
    this.isEarlier = false;
    this.arrive();
    this.plannedAt = Date.now();
    // An edit made in the meantime is planned for next.
    this.planning = this.timer !== null;
  }

  private async makePlan(again = false): Promise<PlanDigest | null> {
    const { stamp } = this.library;
    try {
      const generation = await this.mirror.bring();
      await this.tellPlace(generation);
      const { rulebook } = this;
      const { choices } = this.target;
      const madeFrom = this.madeFrom();
      const { policy, selection } = this.player;
      this.token = newId();
      const isBrief = !this.isChosen;
      const failed = this.journal ? failedSteps(this.journal) : [];
      const wishes = { rulebook, choices, policy, selection, failed, isBrief, token: this.token };
      const digest = await this.planner.plan(this.id, wishes, generation);
      this.earlier.keepSoon(madeFrom, { digest, isBrief }, stamp);
      return digest;
    } catch (error) {
      if (error instanceof WorkerError && error.code === 'ended') return null;
      // A planner that fell over is started anew and told everything, and a plan that broke off is made anew, once.
      if (error instanceof WorkerError && error.code !== 'late' && !again) return this.makePlan(true);
      this.trouble = `the rehearsal failed: ${wordsOf(error)}`;
      return null;
    }
  }

  /** Has the worker list the place, where it has not since `look`, and tells it what lies there by our hand. */
  private async tellPlace(generation: number): Promise<void> {
    const { placed } = this;
    if (this.base?.placed !== placed || this.base.generation !== generation) {
      await this.planner.base(this.id, placed, this.journal?.endedAt ?? null, generation);
      this.base = { placed, generation };
    }
    if (this.lookedAt === generation) return;
    this.lookedAt = generation;
    const unchosen = this.place.isChosen && !this.folder;
    const { name: library, mayWrite } = this.library;
    const kept = { library, target: this.target.id, mayWrite };
    const { replace, renames } = this.target.choices;
    const permissions = [...replace, ...renames];
    const at = unchosen ? null : this.whereabouts();
    const look = await this.planner.look({ player: this.id, target: at, kept, permissions }, generation);
    // A place that does not answer is taken to be as it was when it last did, and says so.
    this.trouble = look.type === 'away' ? look.why : null;
    this.seenAt = look.type === 'away' ? look.seenAt : null;
    this.since = look.type === 'listed' ? look.since : this.seenAt;
    this.disk = look.type === 'unchosen' ? null : look.room;
  }
}

/** What lies on a player by our hand, as the journal of its last run says. */
function placedBy(journal: Journal): readonly PlacedFile[] {
  return journal.state === 'takenBack' ? journal.placedBefore : placedAfter(journal);
}

/** Whether a run of a plan would do anything, there or here. */
export const hasToDo = ({ stepCount, comes }: PlanDigest): boolean =>
  stepCount + comes.edits + comes.files > 0;

/** Whether a run that removes nothing has anything to do. */
function doesMore({ stepCount, steps, comes }: PlanDigest): boolean {
  return stepCount - steps.remove - steps.agree - steps.makeFolder + comes.edits + comes.files > 0;
}

/** What a run could not write or move, but for what only went with another file. */
function failedSteps({ state, steps, outcomes }: Journal): readonly FailedStep[] {
  if (state !== 'finished') return [];
  return outcomes.flatMap((outcome, index): FailedStep[] => {
    const step = steps[index];
    if (outcome.type !== 'failed' || !step || !TOLD_AGAIN.has(step.type)) return [];
    if (outcome.code === 'itemFailed' || outcome.code === 'changedSince') return [];
    return [{ path: step.path, code: outcome.code, detail: outcome.detail }];
  });
}

const TOLD_AGAIN: ReadonlySet<StepType> = new Set(['copy', 'writePicture', 'writeText', 'move']);

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

function inWords(player: string, journal: Journal): string {
  const { done, failed, left } = totalsOf(journal);
  const steps = done === 1 ? '1 step' : `${done} steps`;
  if (journal.state === 'cancelled') return `${player} run cancelled: ${steps} done, ${left} left`;
  if (journal.state === 'stopped')
    return `${player} run stopped, it can be resumed: ${steps} done, ${left + failed} left`;
  return `${player} run finished: ${steps}, ${failed === 0 ? 'none' : failed} failed`;
}
