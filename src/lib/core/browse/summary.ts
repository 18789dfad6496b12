import {
  FIELDS,
  kindOf,
  valueKey,
  type FieldName,
  type FieldValue,
  type FormatId,
  type Item,
} from '../items';
import type { Kind } from '../kinds';
import { frontPicture, type PlanPicture } from '../plan';

/** One field over a selection: a shared value, or how the items differ. */
export type SharedValue =
  | { readonly type: 'same'; readonly value: FieldValue }
  | {
      readonly type: 'differs';
      /** The value most items have, and its count. */
      readonly usual: FieldValue;
      readonly usualCount: number;
      readonly different: number;
      readonly empty: number;
    };

export interface FieldSummary {
  readonly shared: SharedValue;
  /** Items of which it is said otherwise than their files do, and those of them whose tags are not written. */
  readonly edited: number;
  readonly unwritten: number;
}

/** A picture that stands for some items of a selection. */
export interface SharedPicture {
  readonly picture: PlanPicture;
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

/** Items looked at before others get their turn. */
const AT_ONCE = 250;

/** Sums a selection up in steps, each of them short. @param isWritten whether tags of a format are written */
export function* summarySteps(
  items: readonly Item[],
  isWritten: (format: FormatId) => boolean,
): Generator<void, Summary> {
  const summing = new Summing(isWritten);
  for (let at = 0; at < items.length; at++) {
    summing.add(items[at] as Item);
    if (at % AT_ONCE === AT_ONCE - 1) yield;
  }
  return summing.summary();
}

/** The same at once, for a selection that is soon looked through. */
export function summarize(items: readonly Item[], isWritten: (format: FormatId) => boolean): Summary {
  const summing = new Summing(isWritten);
  for (const item of items) summing.add(item);
  return summing.summary();
}

interface Sum {
  /** By the key of each value: the value, and how many have it. */
  readonly values: Map<string, { readonly value: FieldValue; count: number }>;
  edited: number;
  unwritten: number;
}

class Summing {
  private readonly sums: readonly (readonly [FieldName, Sum])[] = FIELDS.map(({ name }) => [
    name,
    { values: new Map(), edited: 0, unwritten: 0 },
  ]);
  private readonly kinds = new Map<Kind | null, number>();
  private readonly pictures = new Map<string, { picture: PlanPicture; first: Item; count: number }>();
  private seconds = 0;
  private bytes = 0;
  private withoutPicture = 0;
  private chosenPicture = 0;

  constructor(private readonly isWritten: (format: FormatId) => boolean) {}

  add(item: Item): void {
    const { fields } = item.file;
    const edits = item.edits.fields;
    const written = this.isWritten(item.format);
    for (const [name, sum] of this.sums) {
      const own = edits?.[name];
      if (own !== undefined) {
        sum.edited++;
        if (!written) sum.unwritten++;
      }
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
        this.sums.map(([name, { values, edited, unwritten }]) => [
          name,
          { shared: sharedOf([...values.values()]), edited, unwritten },
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

function sharedOf(values: readonly { readonly value: FieldValue; readonly count: number }[]): SharedValue {
  const [first] = values;
  if (!first || values.length === 1) return { type: 'same', value: first?.value ?? null };
  let usual = first;
  let empty = 0;
  for (const one of values) {
    // An empty value never stands for filled ones.
    if (one.value === null) empty = one.count;
    else if (usual.value === null || one.count > usual.count) usual = one;
  }
  return {
    type: 'differs',
    usual: usual.value,
    usualCount: usual.count,
    different: values.length,
    empty,
  };
}
