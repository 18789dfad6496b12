import type { Fields } from '../../items';
import type { Kind } from '../../kinds';
import { folderOf, withoutExtension } from '../../paths';
import type { Place } from '../../rulebooks';
import { hasEditions } from '../outgoing/edition';
import type { ItemPlan, Planned } from '../outgoing/item-plan';
import type { PlanItem } from '../outgoing/plan-item';
import type { PathKeys } from '../path-keys';
import type { TreeFile } from '../shown/showing';

/** An item with its path on the player, and what follows from that alone. */
export class Outgoing {
  readonly folder: string;
  readonly file: TreeFile;
  /** The key that no other item may share. */
  readonly takes: string;
  readonly says: Fields | null;

  constructor(
    readonly entry: Planned,
    readonly known: ItemPlan,
    readonly kind: Kind,
    readonly place: Place,
    readonly path: string,
    /** Unsafe letters were replaced by rule, so the name differs from the fields. */
    readonly mended: boolean,
    keys: PathKeys,
  ) {
    const { item, copyFields } = known;
    this.folder = folderOf(path);
    this.says = entry.says;
    this.file = { path, role: 'media', item: item.id, kind, fields: entry.says ?? copyFields, text: null };
    // A sidecar has the same stem, so two items whose names differ only by extension collide too.
    this.takes = keys.of(place.alike ? withoutExtension(path) : path);
  }

  /** The part of its path that the same title in another edition and format shares; null if there are no editions. */
  get stem(): string | null {
    return hasEditions(this.kind) ? withoutExtension(this.takes) : null;
  }

  get item(): PlanItem {
    return this.known.item;
  }

  get order(): number {
    return this.entry.order;
  }
}
