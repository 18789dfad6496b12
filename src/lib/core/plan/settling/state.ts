import type { ItemId } from '../../items';
import type { ListId, PlayerList } from '../../lists';
import { firstLetters, namesIn, requirePattern } from '../../naming';
import { stemOf } from '../../paths';
import type { Rulebook } from '../../rulebooks';
import { NO_CHOICES, type PlayerChoices } from '../choices';
import { Entry, type EntryRemarks, type HeldBy } from '../entry';
import type { Remark } from '../findings/remark';
import { Namer } from '../names/namer';
import type { Outgoing } from '../names/outgoing';
import { itemsOfLists, ranksIn } from '../lists/player-list';
import { ItemPlan } from '../outgoing/item-plan';
import type { PlanItem } from '../outgoing/plan-item';
import { itemOf } from '../owner';
import { PathKeys } from '../path-keys';
import { SELECT_ALL, selectionTest } from '../selection';
import type { FailedStep } from '../step';
import type { ThereFile } from '../there/files';
import type { Agreed } from '../there/there';
import { makeParts, type Parts, type Seen } from './parts';

const NOTHING_FAILED: readonly FailedStep[] = [];
const NOBODY = '' as ItemId;
const NOTHING_SEEN: Seen = {
  there: [],
  placed: [],
  choices: NO_CHOICES,
  policy: 'ask',
  selection: SELECT_ALL,
  free: null,
  failed: NOTHING_FAILED,
  found: undefined,
  others: undefined,
  past: undefined,
};

/** The data of a plan, and the items that have to be looked at again. Every change opens the items that it affects. */
export class PlanState {
  readonly keys: PathKeys;
  readonly namer: Namer;
  readonly entries = new Map<ItemId, Entry>();
  /** Items that have to be looked at again. */
  readonly open = new Set<Entry>();
  /** Items whose paths are occupied. */
  readonly barredItems = new Set<Entry>();
  /** Items that are held back, with the reason. */
  readonly held = new Map<ItemId, HeldBy>();
  leftOut: ReadonlySet<ItemId> = new Set();
  /** Items whose names are shortened. */
  short: ReadonlySet<ItemId> = new Set();
  suffixes: ReadonlyMap<ItemId, string> = new Map();
  isSelected = selectionTest(SELECT_ALL);
  /** The player's lists. */
  private lists: readonly PlayerList[] = [];
  /** Items in these lists, and those in the list with priority. */
  private listed: ReadonlySet<ItemId> = new Set();
  /** Positions of items in the first list that contains them, as used in names. */
  private ranks: ReadonlyMap<ItemId, string> = new Map();
  private readonly isRanked: boolean;
  private firstItems: ReadonlySet<ItemId> = new Set();
  parts: Parts;
  private seen: Seen = NOTHING_SEEN;
  private order = 0;

  constructor(readonly rulebook: Rulebook) {
    this.keys = new PathKeys(rulebook);
    this.namer = new Namer(rulebook, (item) => this.ranks.get(item) ?? null);
    this.isRanked = rulebook.places.some(({ pattern }) => namesIn(requirePattern(pattern)).includes('place'));
    this.parts = this.newParts();
  }

  /** Bytes that may be written; null if unknown. */
  get free(): number | null {
    return this.seen.free;
  }

  /** Sets the files on the player, those that we put there, and the curator's decisions. */
  see(
    there: readonly ThereFile[],
    {
      placed,
      choices,
      policy,
      selection = SELECT_ALL,
      free = null,
      failed = NOTHING_FAILED,
      found,
      others,
      past,
    }: Agreed,
  ): void {
    const before = this.seen;
    this.seen = { there, placed, choices, policy, selection, free, failed, found, others, past };
    this.isSelected = selectionTest(selection, this.listed);
    const [leftOut, short, suffixes] = [this.leftOut, this.short, this.suffixes];
    this.leftOut = new Set(choices.leftOut);
    this.short = new Set(choices.shorten);
    this.suffixes = new Map(choices.suffixes.map(({ item, text }) => [item, text]));
    if (!isSameBut(before, this.seen) || !this.takeIn(before.choices, choices)) return this.begin();
    for (const id of [...leftOut, ...this.leftOut]) this.reopen(id, leftOut, this.leftOut);
    for (const id of [...short, ...this.short]) this.reopen(id, short, this.short);
    for (const id of [...suffixes.keys(), ...this.suffixes.keys()]) {
      const entry = this.entries.get(id);
      if (entry && suffixes.get(id) !== this.suffixes.get(id)) this.open.add(entry);
    }
  }

  /** Adds or updates items, and removes others. */
  change(changed: readonly PlanItem[], removed: readonly ItemId[]): void {
    for (const id of removed) {
      const entry = this.entries.get(id);
      if (!entry) continue;
      entry.gone = true;
      this.entries.delete(id);
      this.open.add(entry);
    }
    for (const item of changed) {
      let entry = this.entries.get(item.id);
      if (entry) entry.known = new ItemPlan(item, this.rulebook);
      else this.entries.set(item.id, (entry = new Entry(item.id, this.order++, item, this.rulebook)));
      this.open.add(entry);
    }
  }

  /** Reopens items that want the files at these keys or find them in the way. */
  reopenAt(keys: ReadonlySet<string>): void {
    if (keys.size === 0) return;
    for (const { owner } of this.parts.world.wantedAt(keys)) {
      const entry = this.entries.get(itemOf(owner) ?? NOBODY);
      if (entry) this.open.add(entry);
    }
    const isTouched = ({ code, places }: Remark) =>
      code === 'folderThere' || places.some((path) => keys.has(this.keys.of(path)));
    for (const entry of this.barredItems) if (entry.said.place.some(isTouched)) this.open.add(entry);
  }

  /** Replaces the remarks that one part of planning made about an item. */
  say(entry: Entry, about: keyof EntryRemarks, next: readonly Remark[]): void {
    const before = entry.said[about];
    if (before.length === 0 && next.length === 0) return;
    entry.said = { ...entry.said, [about]: this.parts.findings.exchange(before, next) };
  }

  /** The part of its name that the player displays, with its folder; null if names are displayed in full. */
  shownAs(out: Outgoing | null): string | null {
    const { shownLetters } = this.rulebook.disk;
    if (!out || shownLetters === null) return null;
    return this.keys.of(`${out.folder}/${firstLetters(stemOf(out.path), shownLetters)}`);
  }

  /**
   * Applies decisions about single files, at the cost of what they touch.
   * @returns whether that was possible; if decisions were withdrawn or touch too much, everything is planned again
   */
  private takeIn(before: PlayerChoices, choices: PlayerChoices): boolean {
    const same = ({ renames, removes, pictures }: PlayerChoices) =>
      JSON.stringify([renames, removes, pictures]);
    if (same(before) !== same(choices)) return false;
    const sides = addedTo(before.sides, choices.sides);
    const replace = addedTo(before.replace, choices.replace);
    if (!sides || !replace) return false;
    if (sides.length + replace.length === 0) return true;
    const { world, spelling, pictures, lists } = this.parts;
    const decided = world.there.decide({ sides, replace });
    if (!decided) return false;
    world.takeIn(decided);
    spelling?.release(decided.unfixed);
    pictures.lookAgain(decided.keys);
    lists.lookAgain();
    for (const item of decided.items) {
      const entry = this.entries.get(item);
      if (entry) this.open.add(entry);
    }
    this.reopenAt(decided.keys);
    return true;
  }

  /** Sets the player's lists, in their order. @param taken as in `ListFiles.know` */
  know(lists: readonly PlayerList[], taken?: ReadonlySet<ListId>): void {
    const { selection } = this.seen;
    const [listed, firstItems] = [this.listed, this.firstItems];
    this.lists = lists;
    this.listed = itemsOfLists(lists);
    this.firstItems = itemsOfLists(lists.filter(({ id }) => id === selection.firstList));
    this.isSelected = selectionTest(selection, this.listed);
    if (selection.onlyListed)
      for (const id of new Set([...listed, ...this.listed])) this.reopen(id, listed, this.listed);
    if (this.isRanked) this.rank(lists);
    for (const id of new Set([...firstItems, ...this.firstItems]))
      this.reopen(id, firstItems, this.firstItems);
    this.parts.lists.know(lists, taken);
  }

  private rank(lists: readonly PlayerList[]): void {
    const before = this.ranks;
    this.ranks = ranksIn(lists, this.rulebook.disk.numberWidth);
    for (const id of new Set([...before.keys(), ...this.ranks.keys()])) {
      const entry = this.entries.get(id);
      if (entry && before.get(id) !== this.ranks.get(id)) this.open.add(entry);
    }
  }

  private newParts(): Parts {
    const isFirst = (item: ItemId) => this.firstItems.has(item);
    return makeParts(this.rulebook, this.keys, this.namer, this.seen, isFirst);
  }

  /** Starts again, except for what follows from single items. */
  private begin(): void {
    this.open.clear();
    this.parts = this.newParts();
    this.parts.lists.know(this.lists);
    this.held.clear();
    this.barredItems.clear();
    for (const [id, { order, known }] of this.entries) {
      const entry = new Entry(id, order, known.item, this.rulebook, known);
      this.entries.set(id, entry);
      this.open.add(entry);
    }
  }

  private reopen(id: ItemId, before: ReadonlySet<ItemId>, after: ReadonlySet<ItemId>): void {
    const entry = this.entries.get(id);
    if (entry && before.has(id) !== after.has(id)) this.open.add(entry);
  }
}

/** Whether a player is as it was seen before, apart from decisions. */
function isSameBut(a: Seen, b: Seen): boolean {
  return (
    a.there === b.there &&
    a.placed === b.placed &&
    a.policy === b.policy &&
    a.free === b.free &&
    a.found === b.found &&
    a.others === b.others &&
    a.past === b.past &&
    JSON.stringify(a.failed) === JSON.stringify(b.failed) &&
    JSON.stringify(a.selection) === JSON.stringify(b.selection)
  );
}

/** The decisions that were added; null if any was withdrawn or changed. */
function addedTo<T extends { readonly path: string }>(
  before: readonly T[],
  after: readonly T[],
): readonly T[] | null {
  if (before === after) return [];
  const known = new Set(before.map((one) => JSON.stringify(one)));
  const added = after.filter((one) => !known.delete(JSON.stringify(one)));
  const paths = new Set(before.map(({ path }) => path));
  return known.size === 0 && added.every(({ path }) => !paths.has(path)) ? added : null;
}
