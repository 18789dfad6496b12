import type { Item } from '../items';
import type { StandingRow, ItemEntry } from './entries';
import { FullnessTally } from './fullness';
import { releaseWords, type GroupName } from './group-names';
import type { GroupSorting } from './order';
import { SEVERAL_LEVELS, type GroupRow, type Level } from './rows';
import { Tally, type GapsOf } from './tally';

/** The entry of an item, and its row in one group. */
export type LaidItem = ItemEntry<Group>;
export type LaidRow = StandingRow<Group>;

export type ByGroup = (a: Group, b: Group) => number;
export const byName: ByGroup = (a, b) => (a.sort < b.sort ? -1 : 1);

export function comparingGroups({ by, down }: GroupSorting): ByGroup {
  const turn = down ? -1 : 1;
  if (by === 'name') return down ? (a, b) => -byName(a, b) : byName;
  const keyOf = ({ counts, fullness }: Group): number | null => {
    if (by === 'items') return counts.items;
    return by === 'full' ? (fullness?.share() ?? null) : (fullness?.shareOf(by) ?? null);
  };
  return (a, b) => {
    const [one, other] = [keyOf(a), keyOf(b)];
    // Groups that the aspect does not apply to come last in both directions.
    if (one === null || other === null) return Number(one === null) - Number(other === null) || byName(a, b);
    return (one - other) * turn || byName(a, b);
  };
}

/** How a tree of groups is built. */
export interface Grouping {
  readonly gapsOf: GapsOf;
  readonly levels: readonly Level[];
  /** Whether groups count which fields are filled. */
  readonly strips: boolean;
  /** The order of groups of the last level. */
  readonly byGroup: ByGroup;
}

/** A group of one level, with groups of the next level or, on the last one, rows of items in order. */
export class Group {
  readonly key: string;
  readonly sort: string;
  readonly label: string;
  readonly note: string;
  readonly level: Level;
  readonly depth: number;
  readonly groups = new Map<string, Group>();
  own: LaidRow[] = [];
  /** A list of only this group, shared by all items that are in no other group. */
  readonly alone: readonly Group[] = [this];
  private tally: Tally | null = null;
  private full: FullnessTally | null = null;
  /** Its groups, by label and note. */
  private readonly namesakes = new Map<string, Set<Group>>();
  private readonly byGroup: ByGroup;
  private ordered: Group[] | null = null;
  private all: readonly Item[] | null = null;
  private shown: ShownGroup | null = null;

  constructor(
    private readonly grouping: Grouping,
    name: GroupName | null,
    readonly above: Group | null,
  ) {
    const { levels, byGroup } = grouping;
    this.depth = above ? above.depth + 1 : -1;
    this.level = levels[this.depth] ?? 'none';
    this.sort = name?.sort ?? '';
    this.label = name?.label ?? '';
    this.note = name?.note ?? '';
    const inside = above && above.depth >= 0 ? `${above.key}\n` : '';
    this.key = above ? `${inside}${this.level}:${this.sort}` : '';
    // Only the last level is sorted as wanted. Levels above it stay in the order of names, where they can be found.
    this.byGroup = this.depth === levels.length - 2 ? byGroup : byName;
  }

  /** Counts over all items in it. Computed when first needed, because most groups are never in sight. */
  get counts(): Tally {
    if (this.tally === null) {
      const { gapsOf } = this.grouping;
      this.tally = new Tally(gapsOf);
      for (const one of this.each()) this.tally.count(one.counted(gapsOf), 1);
    }
    return this.tally;
  }

  get fullness(): FullnessTally | null {
    if (this.full === null && this.grouping.strips && this.above) {
      this.full = new FullnessTally();
      for (const one of this.each()) this.full.count(one.fullness, 1);
    }
    return this.full;
  }

  /** An item in it came or went. */
  took(item: LaidItem, by: 1 | -1): void {
    this.tally?.count(item.counted(this.grouping.gapsOf), by);
    this.full?.count(item.fullness, by);
    this.touch();
  }

  /** All items in it and in its groups, each once. */
  get items(): readonly Item[] {
    this.all ??= [...this.each()].map(({ item }) => item);
    return this.all;
  }

  private each(): Iterable<LaidItem> {
    const all: LaidItem[] = [];
    this.addTo(all);
    const { levels } = this.grouping;
    const isOnce = levels.every((level, depth) => depth <= this.depth || !SEVERAL_LEVELS.has(level));
    return isOnce ? all : new Set(all);
  }

  private addTo(all: LaidItem[]): void {
    if (this.groups.size === 0) for (const { entry } of this.own) all.push(entry);
    else for (const group of this.inOrder()) group.addTo(all);
  }

  get apart(): string {
    if (this.level !== 'release' || this.above?.hasNamesake(this) !== true) return '';
    const first = this.items[0];
    return first ? releaseWords(first) : '';
  }

  /** The group of a name in it, created if necessary. */
  inside(name: GroupName): Group {
    let group = this.groups.get(name.sort);
    if (!group) {
      group = new Group(this.grouping, name, this);
      this.groups.set(name.sort, group);
      this.touchGroups();
      const key = wordsOf(group);
      const alike = this.namesakes.get(key) ?? new Set();
      this.namesakes.set(key, alike.add(group));
      Group.touchNamesakes(alike);
    }
    return group;
  }

  private delete(group: Group): void {
    this.groups.delete(group.sort);
    this.touchGroups();
    const alike = this.namesakes.get(wordsOf(group));
    alike?.delete(group);
    if (alike?.size === 0) this.namesakes.delete(wordsOf(group));
    else if (alike) Group.touchNamesakes(alike);
  }

  /** Removes itself if it is empty, and then its parents likewise. */
  prune(): void {
    if (!this.above || this.own.length > 0 || this.groups.size > 0) return;
    this.above.delete(this);
    this.above.prune();
  }

  /** Groups of the same words show what distinguishes them. The first one starts to do so when a second one appears. */
  private static touchNamesakes(alike: ReadonlySet<Group>): void {
    if (alike.size <= 2) for (const group of alike) group.touch();
  }

  private hasNamesake(group: Group): boolean {
    return (this.namesakes.get(wordsOf(group))?.size ?? 0) > 1;
  }

  inOrder(): readonly Group[] {
    this.ordered ??= [...this.groups.values()].sort(this.byGroup);
    return this.ordered;
  }

  /** Its row has to be drawn again. */
  private touch(): void {
    // The order of names does not depend on the content of groups.
    if (this.byGroup !== byName) this.ordered = null;
    this.all = null;
    this.shown = null;
  }

  /** A group in it came or went. */
  private touchGroups(): void {
    this.ordered = null;
    this.touch();
  }

  /** Its row: a new object after every change, so that it is drawn again. */
  row(closed: boolean): GroupRow {
    if (this.shown?.closed !== closed) this.shown = new ShownGroup(this, closed);
    return this.shown;
  }
}

/** The row of a group, as it is shown. */
class ShownGroup implements GroupRow {
  readonly type = 'group';

  constructor(
    private readonly group: Group,
    readonly closed: boolean,
  ) {}

  get key() {
    return this.group.key;
  }
  get depth() {
    return this.group.depth;
  }
  get level() {
    return this.group.level;
  }
  get label() {
    return this.group.label;
  }
  get note() {
    return this.group.note;
  }
  get apart() {
    return this.group.apart;
  }
  get items() {
    return this.group.items;
  }
  get counts() {
    return this.group.counts;
  }
  get fullness() {
    return this.group.fullness;
  }
}

const wordsOf = ({ label, note }: Pick<GroupRow, 'label' | 'note'>): string => `${label}\n${note}`;
