import type { Fields } from '../../items';
import type { Kind } from '../../kinds';
import { folderOf, withoutExtension } from '../../paths';
import type { Place } from '../../rulebooks';
import { hasEditions } from '../outgoing/edition';
import type { ItemPlan, Planned } from '../outgoing/item-plan';
import type { PlanItem } from '../outgoing/plan-item';
import type { PathKeys } from '../path-keys';
import type { TreeFile } from '../shown/showing';

/** An item with the path that it gets on the player, and what follows from that alone. */
export class Outgoing {
  readonly folder: string;
  readonly file: TreeFile;
  /** What no other item may have of its path, by the player's idea of equal ones. */
  readonly takes: string;
  readonly says: Fields | null;

  constructor(
    readonly entry: Planned,
    readonly known: ItemPlan,
    readonly kind: Kind,
    readonly place: Place,
    readonly path: string,
    /** Unsafe letters were mended by rule, so the name differs from its fields. */
    readonly mended: boolean,
    keys: PathKeys,
  ) {
    const { item, copyFields } = known;
    this.folder = folderOf(path);
    this.says = entry.says;
    this.file = { path, role: 'media', item: item.id, kind, fields: entry.says ?? copyFields, text: null };
    // A sidecar takes the same stem: two items alike but for their extension collide too.
    this.takes = keys.of(place.alike ? withoutExtension(path) : path);
  }

  /** What its path shares with the same title of another edition in another format; null for what has no editions. */
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
