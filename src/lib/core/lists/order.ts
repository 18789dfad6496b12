import {
  columnValueOf,
  compareKeys,
  compareOwn,
  ownOrderOf,
  type OrderValue,
  type OwnOrder,
} from '../browse';
import type { ItemId } from '../items';
import type { Asked, QueryWorld } from '../query';
import type { ListOrder, ListOrderKey } from './list';

/** The sort keys of an item in a rule list. */
export interface OrderKeys {
  readonly id: ItemId;
  readonly path: string;
  readonly values: readonly OrderValue[];
  readonly own: OwnOrder;
}

/** How the items of a rule list are put in order. Their own order, by disc and track or path, decides between equals. */
export class ListOrdering {
  private readonly turns: readonly (1 | -1)[];

  constructor(private readonly order: ListOrder) {
    this.turns = order.type === 'shuffled' ? [1] : order.terms.map(({ down }) => (down ? -1 : 1));
  }

  /** @param own the result of `ownOrderOf`, if known */
  keysOf(asked: Asked, world: QueryWorld, own = ownOrderOf(asked)): OrderKeys {
    const { order } = this;
    const values =
      order.type === 'shuffled'
        ? [shuffled(order.seed, asked.id)]
        : order.terms.map(({ by }) => valueOf(asked, by, world));
    return { id: asked.id, path: asked.path, values, own };
  }

  readonly compare = (a: OrderKeys, b: OrderKeys): number => {
    for (let index = 0; index < this.turns.length; index++) {
      const [one, other] = [a.values[index] as OrderValue, b.values[index] as OrderValue];
      const order = compareKeys(one, other, this.turns[index] as 1 | -1);
      if (order !== 0) return order;
    }
    return compareOwn(a.own, b.own) || compareTexts(a.path, b.path) || compareTexts(a.id, b.id);
  };
}

function valueOf(asked: Asked, by: ListOrderKey, world: QueryWorld): OrderValue {
  if (by === 'added') return world.addedAt(asked.arrival);
  if (by === 'played') return world.playsOf(asked.id)?.count ?? 0;
  if (by === 'last played') return world.playsOf(asked.id)?.at ?? null;
  return by === 'changed' ? asked.modified : columnValueOf(asked, by);
}

const compareTexts = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/**
 * The position of an item in a shuffled order: a number computed only from its id and the seed, so that it does not
 * change as others come and go. FNV-1a over both, with the final mixing of MurmurHash3.
 */
function shuffled(seed: number, id: string): number {
  let hash = (0x811c9dc5 ^ seed) >>> 0;
  for (let at = 0; at < id.length; at++) hash = Math.imul(hash ^ id.charCodeAt(at), 0x01000193) >>> 0;
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b) >>> 0;
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35) >>> 0;
  return (hash ^ (hash >>> 16)) >>> 0;
}
