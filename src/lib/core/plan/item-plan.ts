import { releaseKey, type Fields } from '../items';
import type { Kind } from '../kinds';
import { pathKey } from '../naming';
import { folderOf, withoutExtension } from '../paths';
import { findPlace, missingAsks, refusalOf, type Place, type Refusal, type Rulebook } from '../rulebooks';
import type { Namer } from './namer';
import { outgoingFields, type PlanItem } from './plan-item';
import { groupKey, type TreeFile } from './showing';
import type { Wanted } from './world';

/** An item with the path that it gets on the player, and what follows from that alone. */
export class Outgoing {
  /** By which the player groups it, as its copy will say. */
  readonly group: string;
  readonly file: TreeFile;
  readonly folder: string;
  /** Nothing is to be said of it; null until that was looked into. */
  isQuiet: boolean | null = null;
  /** The copy that is to lie there, once it was asked for. */
  copy: Wanted | null = null;

  constructor(
    readonly item: PlanItem,
    readonly kind: Kind,
    readonly place: Place,
    readonly path: string,
    /** Unsafe letters were mended by rule, so the name differs from its fields. */
    readonly mended: boolean,
    fields: Fields,
  ) {
    this.folder = folderOf(path);
    this.group = groupKey(kind, fields, place, path);
    this.file = { path, role: 'media', item: item.id, kind, fields, text: null };
  }
}

interface Named {
  readonly short: boolean;
  readonly path: string;
  readonly folder: string;
  readonly mended: boolean;
}

/** All that follows from one item and a rulebook, whatever else is planned. */
export class ItemPlan {
  /** Where the rulebook puts it; null where it has no place for its kind. */
  readonly place: Place | null;
  /** Why the player does not take it; null where it does. */
  readonly refusal: Refusal | 'bytes' | null;
  /** Fields that the place asks for and that are empty. */
  readonly missing: Place['asks'];
  /** What its copy will say. */
  readonly fields: Fields;
  private name: Named | null = null;
  private out: Outgoing | null = null;
  private key = '';
  private releaseOf: string | null = null;

  constructor(
    readonly item: PlanItem,
    private readonly rulebook: Rulebook,
    private readonly namer: Namer,
  ) {
    const { kind } = item;
    const { largestFile } = rulebook.disk;
    this.place = findPlace(rulebook, kind);
    const tooLarge = largestFile !== null && item.size > largestFile;
    this.refusal =
      kind && this.place ? (refusalOf(rulebook, kind, item) ?? (tooLarge ? 'bytes' : null)) : null;
    this.missing = this.place ? missingAsks(this.place, item.fields) : [];
    this.fields = outgoingFields(item);
  }

  /** The release that it belongs to. */
  get release(): string {
    return (this.releaseOf ??= `${this.item.kind}\n${releaseKey(this.item.path, this.item.fields)}`);
  }

  /** Its name by the rulebook, before other items and the player have their say. */
  named(kind: Kind, place: Place, short: boolean): Named {
    if (this.name?.short !== short) {
      const named = this.namer.path(this.item, kind, place, short);
      this.name = { short, folder: folderOf(named.path), ...named };
    }
    return this.name;
  }

  /** The item at this path: the same one as before, where it had that before. */
  at(path: string, kind: Kind, place: Place, mended: boolean): Outgoing {
    if (this.out?.path !== path || this.out.mended !== mended) {
      this.out = new Outgoing(this.item, kind, place, path, mended, this.fields);
      // A sidecar takes the same stem: two items alike but for their extension collide too.
      this.key = pathKey(place.alike ? withoutExtension(path) : path, this.rulebook.disk);
    }
    return this.out;
  }

  /** What no other item may have of the path that it was last put at, by the player's idea of equal ones. */
  get takes(): string {
    return this.key;
  }
}
