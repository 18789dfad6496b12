import type { Fields, ItemId } from '../items';
import type { Kind } from '../kinds';
import type { Place, Rulebook } from '../rulebooks';
import { NONE, type Remark } from './findings/remark';
import type { Named } from './names/namer';
import { Outgoing } from './names/outgoing';
import { ItemPlan, type Planned } from './outgoing/item-plan';
import type { PlanItem } from './outgoing/plan-item';
import type { PathKeys } from './path-keys';
import type { Drift } from './there/drift';

/** Why an item is not copied: a finding blocks it, its twin has not been made, or there is no room. */
export type HeldBy = 'finding' | 'twin' | 'room';

/** Remarks on an item, by the part of planning that made them. */
export type EntryRemarks = Readonly<
  Record<'name' | 'length' | 'claim' | 'place' | 'notes', readonly Remark[]>
>;
const NO_REMARKS: EntryRemarks = { name: NONE, length: NONE, claim: NONE, place: NONE, notes: NONE };

/** All that a plan knows of one item. It lives as long as the item and is updated when the item changes. */
export class Entry implements Planned {
  known: ItemPlan;
  /** The item was removed from the library. */
  gone = false;
  /** The name given by the rulebook; null while a finding has to be resolved first. */
  named: Named | null = null;
  /** Where it would be copied if nothing is in the way; null if its name does not fit. */
  candidate: Outgoing | null = null;
  /** Where it is copied. */
  out: Outgoing | null = null;
  held = false;
  /** A change on the player that awaits the curator's decision. Until then its file is left alone. */
  waits: Drift | null = null;
  keptAt: string | null = null;
  says: Fields | null = null;

  /** Remarks by the part of planning that made them. */
  said: EntryRemarks = NO_REMARKS;

  constructor(
    readonly id: ItemId,
    readonly order: number,
    item: PlanItem,
    rulebook: Rulebook,
    known = new ItemPlan(item, rulebook),
  ) {
    this.known = known;
  }

  get item(): PlanItem {
    return this.known.item;
  }

  /** The outgoing copy at this path. The same object as before if nothing about it changed. */
  at(path: string, kind: Kind, place: Place, mended: boolean, keys: PathKeys): Outgoing {
    const { candidate, known } = this;
    const isSame =
      candidate?.known === known &&
      candidate.path === path &&
      candidate.mended === mended &&
      candidate.says === this.says;
    if (isSame) return candidate;
    return new Outgoing(this, known, kind, place, path, mended, keys);
  }
}
