import {
  FIELDS,
  editedFrontRoles,
  frontPicture,
  kindOf,
  valueKey,
  type FieldName,
  type FieldValue,
  type FrontPicture,
  type Item,
} from '../items';
import type { Kind } from '../kinds';

/** One field over a selection: a shared value, or how the items differ. */
export type SharedValue =
  | { readonly type: 'same'; readonly value: FieldValue }
  | {
      readonly type: 'differs';
      /** The value most items have, and its count. */
      readonly usual: FieldValue;
      readonly usualCount: number;
      /** Items that have another one, and those that have none. */
      readonly others: number;
      readonly empty: number;
      /** Each item has a value of its own. */
      readonly isOwn: boolean;
      /** Those that most have, the most frequent first; an empty one is not among them. */
      readonly values: readonly ValueCount[];
    };

export interface ValueCount {
  readonly value: FieldValue;
  readonly count: number;
}

/** The fields that the tags of an item's copy have a place for: the same object for items of which that is the same. */
type PlacesOf = (item: Item) => ReadonlySet<FieldName>;

export interface FieldSummary {
  readonly shared: SharedValue;
  /** Items of which it is said otherwise than their files do. */
  readonly edited: number;
  /** Items whose copies have no place for it. */
  readonly unheld: number;
}

/** A picture that stands for some items of a selection. */
export interface SharedPicture {
  readonly picture: FrontPicture;
  readonly first: Item;
  readonly count: number;
}

/** What the card says of a selection as a whole. */
export interface Summary {
  readonly fields: ReadonlyMap<FieldName, FieldSummary>;
  readonly kinds: ReadonlyMap<Kind | null, number>;
  readonly seconds: number;
  readonly bytes: number;
  /** The pictures that most have first. */
  readonly pictures: readonly SharedPicture[];
  readonly withoutPicture: number;
  /** Items whose picture was chosen here, or removed. */
  readonly chosenPicture: number;
}

/** Values of a field that are told one by one. */
const MOST_VALUES = 4;
/** Items looked at before others get their turn. */
const AT_ONCE = 500;

/** Sums a selection up in steps, each of them short. */
export function* summarySteps(items: readonly Item[], placesOf: PlacesOf): Generator<void, Summary> {
  const summing = new Summing(placesOf);
  for (let at = 0; at < items.length; at++) {
    summing.add(items[at] as Item);
    if (at % AT_ONCE === AT_ONCE - 1) yield;
  }
  return summing.summary();
}

/** The same at once, for a selection that is soon looked through. */
export function summarize(items: readonly Item[], placesOf: PlacesOf): Summary {
  const summing = new Summing(placesOf);
  for (const item of items) summing.add(item);
  return summing.summary();
}

interface Counter {
  readonly value: FieldValue;
  count: number;
}

interface Sum {
  /** How many have each value, by the value itself, or by its key if it is a list. */
  readonly values: Map<FieldValue, Counter>;
  /** The counter of the item before: songs of an album share most values, as the same objects. */
  last: Counter | null;
  empty: number;
  edited: number;
}

class Summing {
  private readonly sums: readonly (readonly [FieldName, Sum])[] = FIELDS.map(({ name }) => [
    name,
    { values: new Map(), last: null, empty: 0, edited: 0 },
  ]);
  private readonly kinds = new Map<Kind | null, number>();
  private readonly pictures = new Map<string, { picture: FrontPicture; first: Item; count: number }>();
  /** How many items have each set of places. */
  private readonly places = new Map<ReadonlySet<FieldName>, number>();
  private seconds = 0;
  private bytes = 0;
  private withoutPicture = 0;
  private chosenPicture = 0;

  constructor(private readonly placesOf: PlacesOf) {}

  add(item: Item): void {
    const { fields } = item.file;
    const edits = item.edits.fields;
    const places = this.placesOf(item);
    this.places.set(places, (this.places.get(places) ?? 0) + 1);
    for (const [name, sum] of this.sums) {
      const own = edits?.[name];
      if (own !== undefined) sum.edited++;
      const value: FieldValue = own === undefined ? fields[name] : own;
      // Most fields of most items say nothing.
      if (value === null) {
        sum.empty++;
        continue;
      }
      if (sum.last?.value === value) {
        sum.last.count++;
        continue;
      }
      const key = typeof value === 'object' ? valueKey(value) : value;
      sum.last = sum.values.get(key) ?? null;
      if (sum.last) sum.last.count++;
      else sum.values.set(key, (sum.last = { value, count: 1 }));
    }
    const kind = kindOf(item);
    this.kinds.set(kind, (this.kinds.get(kind) ?? 0) + 1);
    this.seconds += item.facts.durationSeconds ?? 0;
    this.bytes += item.size;
    this.addPicture(item);
  }

  summary(): Summary {
    const { kinds, seconds, bytes, withoutPicture, chosenPicture } = this;
    return {
      fields: new Map(
        this.sums.map(([name, { values, empty, edited }]) => [
          name,
          { shared: sharedOf([...values.values()], empty), edited, unheld: this.unheld(name) },
        ]),
      ),
      kinds,
      seconds,
      bytes,
      pictures: [...this.pictures.values()].sort((a, b) => b.count - a.count),
      withoutPicture,
      chosenPicture,
    };
  }

  private unheld(name: FieldName): number {
    let count = 0;
    for (const [places, items] of this.places) if (!places.has(name)) count += items;
    return count;
  }

  private addPicture(item: Item): void {
    const picture = frontPicture(item);
    if (editedFrontRoles(item).length > 0) this.chosenPicture++;
    if (!picture) {
      this.withoutPicture++;
      return;
    }
    const known = this.pictures.get(picture.key);
    if (known) known.count++;
    else this.pictures.set(picture.key, { picture, first: item, count: 1 });
  }
}

/** @param empty how many say nothing: an empty value never stands for filled ones */
function sharedOf(values: readonly ValueCount[], empty: number): SharedValue {
  const [first] = values;
  if (!first || (values.length === 1 && empty === 0)) return { type: 'same', value: first?.value ?? null };
  const told = values.reduce((sum, { count }) => sum + count, 0);
  const most = mostCounted(values);
  const usual = most[0] as ValueCount;
  return {
    type: 'differs',
    usual: usual.value,
    usualCount: usual.count,
    others: told - usual.count,
    empty,
    isOwn: empty === 0 && values.length === told,
    values: most,
  };
}

/** The few that most have, the first of equals first: sorting all of a hundred thousand titles takes its time. */
function mostCounted(values: readonly ValueCount[]): readonly ValueCount[] {
  const most: ValueCount[] = [];
  for (const value of values) {
    if (most.length === MOST_VALUES && value.count <= (most.at(-1) as ValueCount).count) continue;
    const place = most.findIndex(({ count }) => count < value.count);
    most.splice(place < 0 ? most.length : place, 0, value);
    if (most.length > MOST_VALUES) most.pop();
  }
  return most;
}
