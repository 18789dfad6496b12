import type { ItemId } from '$lib/core/items';
import type {
  Finding,
  FindingLine,
  ItemOfFinding,
  PlanAbout,
  PlanDigest,
  Proof,
  Severity,
  ShownNode,
  SidesOf,
  Some,
  TopFolderPicture,
} from '$lib/core/plan';
import { newId } from '$lib/io/new-id';
import type { LibraryClient } from '$lib/workers/library-client';
import { WorkerError } from '$lib/workers/worker-client';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import { wordsOf } from './words-of';
import { EarlierRehearsal, type MadeFrom } from './earlier-rehearsal';
import type { OfPlayer } from './owner';
import type { PlayerPlace } from './place.svelte';
import type { RunRecord } from './run-record.svelte';

/** Milliseconds after an edit until planning starts again. */
const SETTLE = 40;
const SETTLE_OTHERS = 250;

/** What is on show. `earlier`: it was rehearsed before, of the same library and place; its plan is still to be made. */
type Shown =
  | { readonly type: 'none' }
  | { readonly type: 'failed'; readonly why: string }
  | { readonly type: 'made'; readonly plan: PlanDigest }
  /** @property of identifies the state that it was made from */
  | { readonly type: 'earlier'; readonly plan: PlanDigest; readonly of: string };

/** The plan for a player, and what it would show after a run. The plan itself is in the worker. */
export class Rehearsal {
  /** Another plan is being made, or soon will be: the one shown must not be run. */
  isPlanning = $state(false);
  /** Milliseconds since 1970 of what is on show. */
  at = $state<number | null>(null);
  /** This player is selected: all of its plan is loaded, and only a summary of the others. */
  isChosen = false;
  /** Identifies the plan on the screen: a run applies exactly that plan. */
  token = '';
  private shown = $state.raw<Shown>({ type: 'none' });
  /** Resolves once the plan of what is on show is made. */
  private arriving: Promise<void> = Promise.resolve();
  private arrive = () => {};
  private readonly earlier: EarlierRehearsal;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private turn = 0;
  private making: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly of: OfPlayer,
    private readonly place: PlayerPlace,
    private readonly record: RunRecord,
    private readonly library: Library,
    private readonly mirror: LibraryMirror,
    private readonly tellLists: () => Promise<void>,
  ) {
    this.earlier = new EarlierRehearsal(library);
  }

  /** The plan on the screen. */
  get plan(): PlanDigest | null {
    return this.shown.type === 'made' || this.shown.type === 'earlier' ? this.shown.plan : null;
  }

  /** Why planning failed; null if it did not. */
  get trouble(): string | null {
    return this.shown.type === 'failed' ? this.shown.why : null;
  }

  /** Shows nothing until a plan is made. */
  clear(): void {
    this.shown = { type: 'none' };
  }

  /**
   * Lists the place, and shows the last rehearsal if it still applies: planning a large library takes seconds.
   * @param isLatest whether the place is still the selected one
   */
  async recall(isLatest: () => boolean): Promise<void> {
    // One after the other: a place that answers late must not be taken for the one that is looked at now.
    const recalling = this.making.then(() => (isLatest() ? this.listAndRecall(isLatest) : undefined));
    this.making = recalling;
    await recalling;
  }

  private async listAndRecall(isLatest: () => boolean): Promise<void> {
    try {
      await this.place.tell(this.mirror.client.generation, this.record.base);
      const plan = await this.earlier.find(this.madeFrom(), this.isChosen);
      if (!isLatest()) return;
      this.shown = plan ? { type: 'earlier', plan, of: this.grounds() } : { type: 'none' };
      this.at = Date.now();
      if (plan) this.arriving = new Promise((resolve) => (this.arrive = resolve));
    } catch {
      // The error occurs again when the plan is made, and is reported there.
    }
  }

  private madeFrom(): MadeFrom {
    const { target, since } = this.place;
    const { selection } = this.of.player;
    // "In the last month", and the content of rule lists, depend on the date.
    const isOfDay = selection.text !== '' || selection.lists !== undefined;
    return {
      target: target.id,
      since,
      run: this.record.stamp,
      day: isOfDay ? new Date().toDateString() : null,
    };
  }

  /** Names the library and the place as they are. */
  private grounds(): string {
    return JSON.stringify([this.library.stamp, this.madeFrom()]);
  }

  /** Plans soon, once edits have settled. Others wait until the one that is looked at is through. */
  planSoon(): void {
    this.isPlanning = true;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.planNow(), this.isChosen ? SETTLE : SETTLE_OTHERS);
  }

  /** Plans for the place as last listed. */
  async planNow(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const turn = ++this.turn;
    const { id } = this.place.target;
    this.isPlanning = this.shown.type !== 'earlier' || this.shown.of !== this.grounds();
    // One after the other: a plan must not be made while the place is still being listed for the one before.
    const making = this.making.then(() => (turn === this.turn ? this.makePlan() : null));
    this.making = making;
    const made = await making;
    if (turn !== this.turn || id !== this.place.target.id) return;
    this.shown = made ?? { type: 'none' };
    this.arrive();
    this.at = Date.now();
    // An edit made in the meantime is planned for next.
    this.isPlanning = this.timer !== null;
  }

  private async makePlan(again = false): Promise<Shown | null> {
    const { stamp } = this.library;
    try {
      const generation = await this.mirror.bring();
      await this.place.tell(generation, this.record.base);
      const { rulebook, player } = this.of;
      const { choices } = this.place.target;
      const madeFrom = this.madeFrom();
      const { policy, selection } = player;
      if (selection.lists) await this.tellLists();
      this.token = newId();
      const isBrief = !this.isChosen;
      const { failed } = this.record;
      const wishes = { rulebook, choices, policy, selection, failed, isBrief, token: this.token };
      const plan = await this.mirror.client.plan(this.of.id, wishes, generation);
      this.earlier.keepSoon(madeFrom, { digest: plan, isBrief }, stamp);
      return { type: 'made', plan };
    } catch (error) {
      if (error instanceof WorkerError && error.code === 'ended') return null;
      // A worker that crashed is restarted with all data, and an interrupted plan is made again, once.
      if (error instanceof WorkerError && error.code !== 'late' && !again) return this.makePlan(true);
      return { type: 'failed', why: `the rehearsal failed: ${wordsOf(error)}` };
    }
  }

  end(): void {
    if (this.timer) clearTimeout(this.timer);
    this.earlier.end();
    this.arrive();
  }

  /** The planner, once it has made the plan that is on show. */
  private async planned(): Promise<LibraryClient> {
    await this.arriving;
    return this.mirror.client;
  }

  /** A device's own scan, held against it. */
  async prove(device: string): Promise<Proof> {
    return (await this.planned()).prove(this.of.id, device);
  }

  /** The content of a shelf. */
  async nodesOf(shelf: string): Promise<readonly ShownNode[]> {
    return (await this.planned()).nodes(this.of.id, shelf);
  }

  /** What the plan on show means for some items. */
  async about(items: readonly ItemId[]): Promise<PlanAbout | null> {
    return (await this.planned()).about(this.of.id, items);
  }

  /** A range of the findings, of one severity or of all, the most severe first. */
  async findings(severity: Severity | null, from: number, to: number): Promise<readonly FindingLine[]> {
    return (await this.planned()).findings(this.of.id, severity, from, to);
  }

  /** A finding of the plan on show, with all its items and with what mends them. */
  async finding(id: string): Promise<Finding | null> {
    return (await this.planned()).finding(this.of.id, id);
  }

  /** The first items that a finding is about, and how many there are. */
  async itemsOf(id: string, most: number): Promise<Some<ItemOfFinding> | null> {
    return (await this.planned()).itemsOf(this.of.id, id, most);
  }

  /** Top folders that get a picture of their own. */
  async topFolders(): Promise<readonly TopFolderPicture[]> {
    return (await this.planned()).topFolders(this.of.id);
  }

  /** Both versions of the files of a finding. */
  async sides(id: string): Promise<readonly SidesOf[]> {
    return (await this.planned()).sides(this.of.id, id);
  }
}

/** Whether a run of a plan would do anything, there or here. */
export const hasToDo = (plan: PlanDigest): boolean => plan.stepCount + comingOf(plan) > 0;

/** How many things come from the player into the library first. */
export const comingOf = ({ comes: { edits, files, lists } }: Pick<PlanDigest, 'comes'>): number =>
  edits + files + lists;
