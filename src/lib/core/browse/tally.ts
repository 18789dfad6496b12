import { kindOf, waits, type Item } from '../items';
import type { Certainty, Kind } from '../kinds';

/** An item before and after something happened to it; null where it was not or is not there. */
export interface ItemChange {
  readonly before: Item | null;
  readonly after: Item | null;
}

/** Counts over some items. */
export interface Counts {
  readonly items: number;
  readonly bytes: number;
  /** Of items whose kind the curator has yet to confirm: how certain their guess is. */
  readonly waiting: number;
  readonly likely: number;
  readonly guesses: number;
  /** Waiting, without any kind. */
  readonly open: number;
  /** Fields that the player asks for and that are empty. */
  readonly gaps: number;
  /** Items whose file was the same as another one's when they came. */
  readonly doubles: number;
  readonly kinds: ReadonlyMap<Kind | 'open', number>;
}

/** What an item lacks of what its player asks for. */
export type GapsOf = (item: Item) => number;

/** What one item counts for. */
export interface Counted {
  readonly kind: Kind | 'open';
  readonly bytes: number;
  readonly gaps: number;
  readonly isDouble: boolean;
  readonly waits: boolean;
  readonly isOpen: boolean;
  readonly certainty: Certainty;
}

export function countedOf(item: Item, gapsOf: GapsOf): Counted {
  return {
    kind: kindOf(item) ?? 'open',
    bytes: item.size,
    gaps: gapsOf(item),
    isDouble: item.facts.sameAs !== undefined,
    waits: waits(item),
    isOpen: item.guess.kind === null,
    certainty: item.guess.certainty,
  };
}

const NAMES: Readonly<Partial<Record<Certainty, 'likely' | 'guesses'>>> = {
  likely: 'likely',
  guess: 'guesses',
};

/** Counts that are kept as items come and go: an edit of one never counts the others. */
export class Tally implements Counts {
  items = 0;
  bytes = 0;
  waiting = 0;
  likely = 0;
  guesses = 0;
  open = 0;
  gaps = 0;
  doubles = 0;
  readonly kinds = new Map<Kind | 'open', number>();

  constructor(private readonly gapsOf: GapsOf) {}

  /** Counts all of these, in steps. */
  *build(items: readonly Item[], atOnce = 1500): Generator<void> {
    for (let at = 0; at < items.length; at++) {
      this.add(items[at] as Item, 1);
      if (at % atOnce === atOnce - 1) yield;
    }
  }

  change(changes: readonly ItemChange[]): void {
    for (const { before, after } of changes) {
      if (before) this.add(before, -1);
      if (after) this.add(after, 1);
    }
  }

  /** The counts as they stand, which do not change any more. */
  counts(): Counts {
    return Object.assign(Object.create(Tally.prototype) as Tally, this, { kinds: new Map(this.kinds) });
  }

  add(item: Item, by: 1 | -1): void {
    this.count(countedOf(item, this.gapsOf), by);
  }

  count({ kind, bytes, gaps, isDouble, waits, isOpen, certainty }: Counted, by: 1 | -1): void {
    const count = (this.kinds.get(kind) ?? 0) + by;
    if (count === 0) this.kinds.delete(kind);
    else this.kinds.set(kind, count);
    this.items += by;
    this.bytes += by * bytes;
    this.gaps += by * gaps;
    if (isDouble) this.doubles += by;
    if (!waits) return;
    this.waiting += by;
    const name = NAMES[certainty];
    if (name) this[name] += by;
    if (isOpen) this.open += by;
  }
}
