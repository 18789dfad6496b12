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

/** What keeps an item back: a finding that somebody has to mend, a twin that is to be made, or room. */
export type HeldBy = 'finding' | 'twin' | 'room';

/** Remarks on an item, by what they follow from. */
export type EntryRemarks = Readonly<
  Record<'name' | 'length' | 'claim' | 'place' | 'notes', readonly Remark[]>
>;
const NO_REMARKS: EntryRemarks = { name: NONE, length: NONE, claim: NONE, place: NONE, notes: NONE };

/** What a plan knows of one item. It stays for as long as the item does; what follows from the item is made anew. */
export class Entry implements Planned {
  known: ItemPlan;
  /** Its item left the library. */
  gone = false;
  /** Its name by the rulebook; null where something is to be done about it first. */
  named: Named | null = null;
  /** Where it would go, were nothing in the way; null where its name does not fit. */
  candidate: Outgoing | null = null;
  /** Where it goes. */
  out: Outgoing | null = null;
  held = false;
  /** What another hand did to its file there, while no side was chosen: nothing is done about it. */
  waits: Drift | null = null;
  keptAt: string | null = null;
  says: Fields | null = null;

  /** What is said of it, by what that follows from. */
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

  /** The item as it would go to this path: the same one as before, where nothing of it changed. */
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
