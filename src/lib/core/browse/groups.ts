import type { Item } from '../items';
import type { StandingRow, ItemEntry } from './entries';
import { FullnessTally } from './fullness';
import { releaseWords, type GroupName } from './group-names';
import type { GroupSorting } from './order';
import type { GroupRow, Level } from './rows';
import { Tally, type GapsOf } from './tally';

/** An item as it stands in groups, and its row in one of them. */
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
    // Who is not asked comes last in both directions.
    if (one === null || other === null) return Number(one === null) - Number(other === null) || byName(a, b);
    return (one - other) * turn || byName(a, b);
  };
}

/** How the groups of a tree are made. */
export interface Grouping {
  readonly gapsOf: GapsOf;
  readonly levels: readonly Level[];
  /** Levels of which an item may stand in several groups. */
  readonly several: ReadonlySet<Level>;
  /** Whether groups tell how full they are. */
  readonly strips: boolean;
  /** How those of the last level are put in order. */
  readonly byGroup: ByGroup;
}

/** A group of one level, with groups of the next one or, on the last, its items in order. The root is of no level. */
export class Group {
  readonly key: string;
  readonly sort: string;
  readonly label: string;
  readonly note: string;
  readonly level: Level;
  readonly depth: number;
  readonly groups = new Map<string, Group>();
  own: LaidRow[] = [];
  /** It alone, as most items stand in one group. */
  readonly alone: readonly Group[] = [this];
  private tally: Tally | null = null;
  private full: FullnessTally | null = null;
  /** Those of its groups that go by the same words. */
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
    // Only the last level is put in order by what is wanted: those above it stay where they are looked for.
    this.byGroup = this.depth === levels.length - 2 ? byGroup : byName;
  }

  /** Counts over all items in it: counted when they are first asked for, since most groups are never in sight. */
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

  /** Something in it came, went, or is another one. */
  took(item: LaidItem, by: 1 | -1): void {
    this.tally?.count(item.counted(this.grouping.gapsOf), by);
    this.full?.count(item.fullness, by);
    this.touch();
  }

  /** All items in it, those of its groups included, each once. */
  get items(): readonly Item[] {
    this.all ??= [...this.each()].map(({ item }) => item);
    return this.all;
  }

  private each(): Iterable<LaidItem> {
    const all: LaidItem[] = [];
    this.addTo(all);
    const { levels, several } = this.grouping;
    const isOnce = levels.every((level, depth) => depth <= this.depth || !several.has(level));
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

  /** The group of a name in it, which is made where there is none yet. */
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

  /** Goes where nothing is left in it, and so do those above it that only held it. */
  prune(): void {
    if (!this.above || this.own.length > 0 || this.groups.size > 0) return;
    this.above.delete(this);
    this.above.prune();
  }

  /** The first of them has to tell itself apart only once a second one is there, and no more once that goes. */
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

  /** What is shown of it is another matter. */
  private touch(): void {
    // By name groups stay where they are, whatever is in them.
    if (this.byGroup !== byName) this.ordered = null;
    this.all = null;
    this.shown = null;
  }

  /** A group in it came or went. */
  private touchGroups(): void {
    this.ordered = null;
    this.touch();
  }

  /** It as a row: another one once something in it has changed, so that what is shown of it is drawn anew. */
  row(closed: boolean): GroupRow {
    if (this.shown?.closed !== closed) this.shown = new ShownGroup(this, closed);
    return this.shown;
  }
}

/** A group as it was shown once. */
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
