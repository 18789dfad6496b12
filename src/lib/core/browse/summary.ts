import {
  FIELDS,
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

type HasPlace = (item: Item, field: FieldName) => boolean;

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
  /** Items whose picture was chosen here. */
  readonly chosenPicture: number;
}

/** Values of a field that are told one by one. */
const MOST_VALUES = 4;
/** Items looked at before others get their turn. */
const AT_ONCE = 250;

/** Sums a selection up in steps, each of them short. @param hasPlace whether the tags of a copy have a place for a field */
export function* summarySteps(items: readonly Item[], hasPlace: HasPlace): Generator<void, Summary> {
  const summing = new Summing(hasPlace);
  for (let at = 0; at < items.length; at++) {
    summing.add(items[at] as Item);
    if (at % AT_ONCE === AT_ONCE - 1) yield;
  }
  return summing.summary();
}

/** The same at once, for a selection that is soon looked through. */
export function summarize(items: readonly Item[], hasPlace: HasPlace): Summary {
  const summing = new Summing(hasPlace);
  for (const item of items) summing.add(item);
  return summing.summary();
}

interface Sum {
  /** By the key of each value: the value, and how many have it. */
  readonly values: Map<string, { readonly value: FieldValue; count: number }>;
  edited: number;
  unheld: number;
}

class Summing {
  private readonly sums: readonly (readonly [FieldName, Sum])[] = FIELDS.map(({ name }) => [
    name,
    { values: new Map(), edited: 0, unheld: 0 },
  ]);
  private readonly kinds = new Map<Kind | null, number>();
  private readonly pictures = new Map<string, { picture: FrontPicture; first: Item; count: number }>();
  private seconds = 0;
  private bytes = 0;
  private withoutPicture = 0;
  private chosenPicture = 0;

  constructor(private readonly hasPlace: HasPlace) {}

  add(item: Item): void {
    const { fields } = item.file;
    const edits = item.edits.fields;
    for (const [name, sum] of this.sums) {
      const own = edits?.[name];
      if (own !== undefined) sum.edited++;
      if (!this.hasPlace(item, name)) sum.unheld++;
      const value: FieldValue = own === undefined ? fields[name] : own;
      const key = valueKey(value);
      const known = sum.values.get(key);
      if (known) known.count++;
      else sum.values.set(key, { value, count: 1 });
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
        this.sums.map(([name, { values, edited, unheld }]) => [
          name,
          { shared: sharedOf([...values.values()]), edited, unheld },
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

  private addPicture(item: Item): void {
    const picture = frontPicture(item);
    if (!picture) {
      this.withoutPicture++;
      return;
    }
    if (picture.chosen) this.chosenPicture++;
    const known = this.pictures.get(picture.key);
    if (known) known.count++;
    else this.pictures.set(picture.key, { picture, first: item, count: 1 });
  }
}

function sharedOf(values: readonly ValueCount[]): SharedValue {
  const [first] = values;
  if (!first || values.length === 1) return { type: 'same', value: first?.value ?? null };
  // An empty value never stands for filled ones.
  const filled = values.filter(({ value }) => value !== null).sort((a, b) => b.count - a.count);
  const total = values.reduce((sum, { count }) => sum + count, 0);
  const told = filled.reduce((sum, { count }) => sum + count, 0);
  const usual = filled[0] as ValueCount;
  return {
    type: 'differs',
    usual: usual.value,
    usualCount: usual.count,
    others: told - usual.count,
    empty: total - told,
    isOwn: filled.length === total,
    values: filled.slice(0, MOST_VALUES),
  };
}
