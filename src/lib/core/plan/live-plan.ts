import type { Edits, ItemId } from '../items';
import type { ListId, PlayerList } from '../lists';
import type { Rulebook } from '../rulebooks';
import { MOST_ABOUT, cutNodes, digestOf, type PlanAbout, type PlanDigest, type Some } from './digest';
import type { Entry } from './entry';
import type { Finding, Severity } from './findings/finding';
import type { ComingList } from './lists/list-drift';
import { toldLists, type LeftOutWhy } from './lists/told-list';
import type { FindingLine } from './findings/findings';
import type { Remark } from './findings/remark';
import type { Outgoing } from './names/outgoing';
import type { PlanItem } from './outgoing/plan-item';
import { isSameOwner, itemOf } from './owner';
import type { Plan, PlannedPath } from './plan';
import { Settling } from './settling/phases';
import { PlanState } from './settling/state';
import type { ShownNode, Showing, TreeFile } from './shown/showing';
import type { Step } from './step';
import type { TopFolderPicture } from './steps/folder-pictures';
import { stepFor } from './steps/want';
import { sidesOf, type SidesOf } from './there/drift';
import type { ThereFile } from './there/files';
import type { Agreed } from './there/there';

/**
 * A plan that is updated as items change: the steps that bring a player up to date, and what the player would then
 * show. A change costs only what it touches, and the result equals that of planning from scratch.
 */
export class LivePlan {
  private readonly state: PlanState;
  private readonly settling: Settling;

  constructor(readonly rulebook: Rulebook) {
    this.state = new PlanState(rulebook);
    this.settling = new Settling(this.state);
  }

  /** Sets the files on the player, those that we put there, and the curator's decisions. */
  see(there: readonly ThereFile[], agreed: Agreed): void {
    this.state.see(there, agreed);
  }

  /**
   * Sets the player's lists, in their order, with their current content.
   * @param taken lists into which changes from the player were already merged
   */
  know(lists: readonly PlayerList[], taken?: ReadonlySet<ListId>): void {
    this.state.know(lists, taken);
  }

  /** Adds or updates items, and removes others. */
  change(changed: readonly PlanItem[], removed: readonly ItemId[]): void {
    this.state.change(changed, removed);
  }

  /** The part of the plan that a screen shows. @param isBrief only the counts that a table of several players needs */
  digest(isBrief = false): PlanDigest {
    this.settling.run();
    const { world, shelves, findings, lengths, lists, room } = this.state.parts;
    const { free } = this.state;
    return digestOf({
      world,
      shelves,
      findings,
      lengths,
      held: this.state.held.values(),
      free,
      missing: room.missing,
      comingLists: lists.comes().length,
      lists: isBrief ? [] : toldLists(lists, (item) => this.whyOut(item)),
      isBrief,
    });
  }

  /** The steps of a run. @param token a name that is unique to the run */
  steps(token: string): readonly Step[] {
    this.settling.run();
    return this.state.parts.world.steps(token);
  }

  /** Everything that the player would show. */
  showing(): Showing {
    this.settling.run();
    const { world, shelves } = this.state.parts;
    const own = this.goes().map(({ file }) => file);
    return shelves.whole([...own, ...world.stayingFiles().filter(({ role }) => role === 'media')]);
  }

  /** The key under which the player treats paths as equal. */
  keyOf(path: string): string {
    return this.state.keys.of(path);
  }

  /** The paths of all copies, in the order of their items. */
  paths(): PlannedPath[] {
    this.settling.run();
    return this.goes().map(({ item, path }) => ({ item: item.id, from: item.path, path }));
  }

  /** The content of an outermost node of the showing. */
  nodesOf(key: string): readonly ShownNode[] {
    this.settling.run();
    const orderOf = ({ item }: TreeFile) =>
      item === null ? Infinity : (this.state.entries.get(item)?.order ?? Infinity);
    return cutNodes(this.state.parts.shelves.nodesOf(key, orderOf));
  }

  /** A range of the findings, of one severity or of all, the most severe first. */
  findings(severity: Severity | null, from: number, to: number): readonly FindingLine[] {
    this.settling.run();
    return this.state.parts.findings.range(severity, from, to);
  }

  finding(id: string): Finding | null {
    this.settling.run();
    return this.state.parts.findings.find(id);
  }

  /** The first items of a finding, with the values that its remedy would write into each. */
  itemsOf(id: string, most: number): Some<ItemOfFinding> {
    const { items = [], remedy = null } = this.finding(id) ?? {};
    const edits = new Map(
      remedy?.type === 'edit' ? remedy.changes.map(({ item, edits: own }) => [item, own]) : [],
    );
    const first = items.slice(0, most).map((item) => ({ item, edits: edits.get(item) ?? null }));
    return { count: items.length, first };
  }

  /** What the plan does with some items. */
  about(ids: readonly ItemId[]): PlanAbout {
    this.settling.run();
    const entries = ids.flatMap((id) => this.state.entries.get(id) ?? []).sort((a, b) => a.order - b.order);
    const goes = entries.flatMap(({ out }) => out ?? []);
    const remarks = entries.flatMap((entry) => this.remarksOn(entry));
    return {
      goes: goes.length,
      path: goes[0]?.path ?? null,
      findings: this.state.parts.findings.ofShare(remarks, MOST_ABOUT),
      unselected: entries.flatMap(({ id, item }) => (this.state.isSelected(item) ? [] : [id])),
      leftOut: entries.flatMap(({ id }) => (this.state.leftOut.has(id) ? [id] : [])),
    };
  }

  /** Files that occupy a wanted path and that no known run wrote. Each may already be the wanted file. */
  unclaimed(): readonly Unclaimed[] {
    this.settling.run();
    const { there } = this.state.parts.world;
    const wanted = [
      ...[...this.state.barredItems].flatMap(({ candidate }) =>
        candidate ? this.settling.placing.wantedFor(candidate) : [],
      ),
      ...this.state.parts.pictures.barred(),
      ...this.state.parts.lists.barred(),
    ];
    return wanted.flatMap((want) => {
      const file = there.files.get(want.key);
      const drift = there.changedAt(want.key);
      const isOther = file?.path === want.path && !there.ours.has(want.key);
      if (!isOther || (drift && !isSameOwner(drift.placed?.owner ?? null, want.owner))) return [];
      return [{ step: stepFor(want, null), file }];
    });
  }

  /** Top folders that get a picture of their own. */
  topFolders(): readonly TopFolderPicture[] {
    this.settling.run();
    return this.state.parts.pictures.topFolders();
  }

  /** Changes that are taken from the player before a run: edited tags, and files that were added there. */
  comes(): Incoming {
    this.settling.run();
    const edits: { item: ItemId; edits: Edits }[] = [];
    const files: ThereFile[] = [];
    for (const [{ type, placed, file }, { side, edits: own }] of this.state.parts.world.allDrifts()) {
      if (type === 'added' && side === 'there' && file) files.push(file);
      const item = itemOf(placed?.owner);
      if (own && item !== null) edits.push({ item, edits: own });
    }
    return { edits, files, lists: this.state.parts.lists.comes() };
  }

  /** Both versions of the files of a finding, where the curator has to choose one. */
  sides(id: string): readonly SidesOf[] {
    this.settling.run();
    const { world, findings, lists } = this.state.parts;
    const remedy = findings.find(id)?.remedy;
    if (remedy?.type !== 'decide') return [];
    return remedy.files.slice(0, MOST_SIDES).flatMap(({ path }) => {
      const drift = world.there.drifts.get(this.state.keys.of(path));
      if (!drift) return [];
      const own = sidesOf(drift, world.allDrifts().get(drift)?.wanted ?? null);
      const entries = lists.sidesAt(drift.key);
      return [entries ? { ...own, entries } : own];
    });
  }

  whole(token: string): Plan {
    this.settling.run();
    const { world, findings } = this.state.parts;
    return {
      steps: this.steps(token),
      findings: findings.all(),
      showing: this.showing(),
      paths: this.paths(),
      held: [...this.state.entries.keys()].filter((id) => this.state.held.has(id)),
      current: world.current,
      foreign: world.foreignCount(),
    };
  }

  /** Why an item is not copied to the player; null if it is. */
  private whyOut(id: ItemId): LeftOutWhy | null {
    const entry = this.state.entries.get(id);
    if (!entry) return 'open';
    if (entry.out) return null;
    if (this.state.leftOut.has(id)) return 'leftOut';
    if (!this.state.isSelected(entry.item)) return 'unselected';
    return this.state.held.get(id) ?? 'noPlace';
  }

  private goes(): Outgoing[] {
    return [...this.state.entries.values()].flatMap(({ out }) => out ?? []);
  }

  private remarksOn({ id, said, out }: Entry): readonly Remark[] {
    const { releases, pictures } = this.state.parts;
    const shared = out
      ? [...releases.about(out), ...pictures.about(out)].filter(({ item }) => item === id)
      : [];
    return [...Object.values(said).flat(), ...shared];
  }
}

/** The most files whose two versions are shown at once. */
const MOST_SIDES = 100;

/** An item of a finding. */
export interface ItemOfFinding {
  readonly item: ItemId;
  /** The values that the remedy would write into this item; null if none. */
  readonly edits: Edits | null;
}

/** A file that occupies a wanted path, and the step that would write there. */
export interface Unclaimed {
  readonly step: Extract<Step, { type: 'copy' | 'writePicture' | 'writeText' }>;
  readonly file: ThereFile;
}

/** Changes that are taken from a player: edited tags, added files, and lists. */
export interface Incoming {
  readonly edits: readonly { readonly item: ItemId; readonly edits: Edits }[];
  /** Files that were added on the player and will be taken in. */
  readonly files: readonly ThereFile[];
  readonly lists: readonly ComingList[];
}
