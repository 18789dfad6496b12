import { ASKING, type GroupRow } from '$lib/core/browse';
import { FORMAT_NAMES, codecName, kindOf, type Item, type ItemId } from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';
import type { PlayerId } from '$lib/core/library';
import type { ListId } from '$lib/core/lists';
import { selectionTestBy, unheldBy, type Unheld } from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import {
  countPlayability,
  toMakeOf,
  playabilityOf,
  type ToMake,
  type Playability,
  type PlayabilityCounts,
  type Twin,
  type WantedTwin,
} from '$lib/core/twins';
import { outgoingOf } from '$lib/formats';
import { inSlices } from '../in-slices';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { PlayerDesk } from '../player/desk.svelte';
import type { Players } from '../player/players.svelte';
import type { ScopeState } from '../scope.svelte';
import type { Work } from '../work.svelte';
import { TwinMaking } from './twin-making.svelte';
import { TwinShelf } from './twin-shelf.svelte';

/** A group of items, with how they play on each player. */
export interface PrepareRow {
  readonly key: string;
  readonly label: string;
  readonly note: string;
  readonly items: readonly Item[];
  readonly kind: Kind | null;
  /** The formats of its files, the most frequent first. */
  readonly formats: string;
  readonly cells: ReadonlyMap<PlayerId, PlayabilityCounts>;
}

/** Items of a group that are looked at before the page has its turn. */
const AT_ONCE = 200;
/** Rows that are shown before all are counted. */
const FIRST = 60;
const NOTHING: ToMake = { wanted: [], seconds: 0, bytes: 0 };
const ABSENT: Playability = { type: 'absent' };

/** What is known of an item's playability, and what that follows from. */
interface Known {
  readonly rulebook: Rulebook;
  readonly twins: readonly Twin[];
  readonly playability: Playability;
}

/** What plays where, and what has to be converted first. */
export class PrepareDesk {
  readonly shelf: TwinShelf;
  readonly making: TwinMaking;
  rows = $state.raw<readonly PrepareRow[]>([]);
  /** What is missing on each player, for everything in scope. */
  totals = $state.raw<ReadonlyMap<PlayerId, ToMake>>(new Map());
  /** Groups of which all plays everywhere are shown, too. */
  showsAll = $state(false);
  building = $state(true);
  /** What is worked on in place of the board; null for the board itself. */
  panel = $state<'recipes' | 'tracks' | 'cut' | null>(null);
  private readonly known = new WeakMap<Item, Map<PlayerId, Known>>();
  private counted: readonly unknown[] = [];
  private stop: () => void = () => {};

  constructor(
    library: Library,
    mirror: LibraryMirror,
    openFile: (item: Item) => Promise<Blob>,
    work: Work,
    private readonly players: Players,
    private readonly scope: ScopeState,
    private readonly itemsOfLists: (ids: readonly ListId[]) => ReadonlySet<ItemId>,
  ) {
    this.shelf = new TwinShelf(library, mirror, () => players.planSoon());
    this.making = new TwinMaking(library, this.shelf, openFile, work);
  }

  async open(): Promise<void> {
    await this.shelf.open();
    await this.making.open();
  }

  /** Counts rows again if anything they depend on changed, in slices. Results of unchanged items are kept. */
  build(): void {
    const grounds = this.grounds();
    if (grounds.length === this.counted.length && grounds.every((one, at) => one === this.counted[at]))
      return;
    this.counted = grounds;
    this.stop();
    this.building = true;
    this.stop = inSlices(this.count(), (rows) => {
      this.building = false;
      this.rows = rows;
    });
  }

  /** Everything that rows are counted by. */
  private grounds(): readonly unknown[] {
    const ofDesk = ({ rulebook, player, target }: PlayerDesk) => {
      const { lists = [], onlyListed } = player.selection;
      return [rulebook, player, target, onlyListed ? [...this.itemsOfLists(lists)].join() : ''];
    };
    return [this.scope.rows, this.shelf.version, this.showsAll, ...this.players.list.flatMap(ofDesk)];
  }

  private *count(): Generator<void, readonly PrepareRow[]> {
    const desks = this.players.list;
    const tests = new Map(desks.map((desk) => [desk.id, wantsOf(desk, this.itemsOfLists)]));
    const wanted = new Map<PlayerId, WantedTwin[]>(desks.map(({ id }) => [id, []]));
    const rows: PrepareRow[] = [];
    let drawn = false;
    for (const row of this.scope.rows) {
      if (row.type !== 'group') continue;
      const { items } = row;
      // What is known of each item is looked up in slices: one group may hold the whole library.
      for (let at = 0; at < items.length; at += AT_ONCE) {
        yield;
        for (const item of items.slice(at, at + AT_ONCE))
          for (const desk of desks) this.playability(item, desk);
      }
      const cells = new Map<PlayerId, PlayabilityCounts>();
      for (const desk of desks) {
        const wants = tests.get(desk.id)!;
        const all = items.map((item) => (wants(item) ? this.playability(item, desk) : ABSENT));
        const cell = countPlayability(items, all);
        cells.set(desk.id, cell);
        for (const one of cell.wanted) wanted.get(desk.id)!.push(one);
      }
      if (this.showsAll || [...cells.values()].some(needsSomething)) rows.push(rowOf(row, items, cells));
      // What is in sight is shown before the rest is counted.
      if (rows.length === FIRST && !drawn) {
        drawn = true;
        this.rows = [...rows];
      }
    }
    this.totals = new Map([...wanted].map(([id, all]) => [id, toMakeOf(all)]));
    return rows;
  }

  /** How an item plays on a player, whatever the player's selection. */
  playability(item: Item, { id, rulebook }: Pick<PlayerDesk, 'id' | 'rulebook'>): Playability {
    const twins = this.shelf.of(item.id);
    let own = this.known.get(item);
    if (!own) this.known.set(item, (own = new Map()));
    const known = own.get(id);
    if (known?.rulebook === rulebook && known.twins === twins) return known.playability;
    const playability = playabilityOf(item, twins, rulebook);
    own.set(id, { rulebook, twins, playability });
    return playability;
  }

  /** How items play on a player, in order; items outside its selection are absent. */
  playabilities(items: readonly Item[], desk: PlayerDesk): readonly Playability[] {
    const wants = wantsOf(desk, this.itemsOfLists);
    return items.map((item) => (wants(item) ? this.playability(item, desk) : ABSENT));
  }

  /** Twins that a player needs of some items. */
  makingFor(items: readonly Item[], desk: PlayerDesk): ToMake {
    const all = this.playabilities(items, desk);
    return toMakeOf(countPlayability(items, all).wanted);
  }

  /** The parts of descriptions that twins cannot store, with the number of items. */
  losses(wanted: readonly WantedTwin[]): ReadonlyMap<Unheld, number> {
    const counts = new Map<Unheld, number>();
    for (const { item, recipe } of wanted)
      for (const part of unheldBy(item, recipe, outgoingOf)) counts.set(part, (counts.get(part) ?? 0) + 1);
    return counts;
  }

  /** What has to be converted for a player, of everything in scope. */
  totalFor(id: PlayerId): ToMake {
    return this.totals.get(id) ?? NOTHING;
  }

  end(): void {
    this.stop();
    this.making.end();
  }
}

const needsSomething = ({ missing, stale, cannot, ready }: PlayabilityCounts): boolean =>
  missing + stale + cannot + ready > 0;

/** Whether a player gets an item, by its selection and exclusions. */
function wantsOf(
  { player, target }: PlayerDesk,
  itemsOfLists: (ids: readonly ListId[]) => ReadonlySet<ItemId>,
): (item: Item) => boolean {
  const { selection } = player;
  const listed = itemsOfLists(selection.onlyListed ? (selection.lists ?? []) : []);
  const isSelected = selectionTestBy(selection, ASKING, kindOf, listed);
  const out = new Set<ItemId>(target.choices.leftOut);
  return (item) => !out.has(item.id) && isSelected(item);
}

function rowOf(row: GroupRow, items: readonly Item[], cells: PrepareRow['cells']): PrepareRow {
  const { key, label, note } = row;
  const [first] = [...row.counts.kinds].sort((a, b) => b[1] - a[1]);
  const kind = first && first[0] !== 'open' ? first[0] : null;
  return { key, label, note, items, kind, formats: formatsOf(items), cells };
}

/** What files are, by their formats and what is in them: FLAC 96 kHz, 1 Opus. */
function formatsOf(items: readonly Item[]): string {
  const counts = new Map<string, number>();
  for (const { format, facts } of items) {
    const { streams } = facts;
    const sound = streams.find(({ type }) => type === 'sound');
    const picture = streams.find(({ type }) => type === 'picture');
    const name = FORMAT_NAMES[format];
    const inside = [picture, sound].flatMap((one) => (one?.codec ? codecName(one.codec) : []));
    const isOther = (format === 'mp4' || format === 'matroska') && inside.length > 0 && inside[0] !== name;
    const rate = sound?.sampleRate && sound.sampleRate > 48_000 ? ` ${sound.sampleRate / 1000} kHz` : '';
    const text = `${name}${isOther ? ` with ${inside.join(' and ')}` : ''}${rate}`;
    counts.set(text, (counts.get(text) ?? 0) + 1);
  }
  const [first, ...rest] = [...counts].sort((a, b) => b[1] - a[1]);
  if (!first) return '';
  return [first[0], ...rest.map(([name, count]) => `${count} ${name}`)].join(', ');
}
