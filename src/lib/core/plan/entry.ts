import type { Fields, ItemId } from '../items';
import type { Kind } from '../kinds';
import { folderOf, withoutExtension } from '../paths';
import { findPlace, missingAsks, refusalOf, type Place, type Refusal, type Rulebook } from '../rulebooks';
import type { Drift } from './drift';
import { hasEditions, withEdition } from './edition';
import type { Named, Namer } from './namer';
import type { SourceFolder } from './neighbours';
import type { PathKeys } from './path-keys';
import type { PlanItem } from './plan-item';
import type { Release } from './releases';
import { NONE, type Remark } from './remark';
import type { TreeFile } from './showing';
import type { SpelledFolder } from './spelling';
import type { Want } from './want';

/** Remarks on an item, by what they follow from. */
export type Said = Readonly<Record<'name' | 'length' | 'claim' | 'place' | 'notes', readonly Remark[]>>;
const NOTHING_SAID: Said = { name: NONE, length: NONE, claim: NONE, place: NONE, notes: NONE };
const NOTHING_WANTED: readonly Want[] = [];

/** What a plan knows of one item. It stays for as long as the item does; what follows from the item is made anew. */
export class Entry {
  known: ItemPlan;
  /** Its item left the library. */
  gone = false;
  /** Its name by the rulebook; null where something is to be done about it first. */
  named: Named | null = null;
  folder: SpelledFolder | null = null;
  /** Where it would go, were nothing in the way; null where its name does not fit. */
  candidate: Outgoing | null = null;
  /** Where it goes. */
  out: Outgoing | null = null;
  /** What lies on the player by it, or is to: its copy and its sidecar, and pictures that are taken from it. */
  wants: readonly Want[] = NOTHING_WANTED;
  /** Its folder in its source, once it was put among its neighbours. */
  home: SourceFolder | null = null;
  held = false;
  /** What another hand did to its file there, while no side was chosen: nothing is done about it. */
  waits: Drift | null = null;
  /** Where the player has it, whatever the rulebook calls it. */
  keptAt: string | null = null;
  /** What its file there says, where that counts. */
  says: Fields | null = null;

  /** What is said of it, by what that follows from. */
  said: Said = NOTHING_SAID;

  /** @param order rises from item to item, as they came */
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

/** All that follows from one item and a rulebook, whatever else is planned. */
export class ItemPlan {
  /** As it goes out. */
  readonly item: PlanItem;
  /** Where the rulebook puts it; null where it has no place for its kind. */
  readonly place: Place | null;
  /** Why the player does not take it; null where it does. */
  readonly refusal: Refusal | 'bytes' | null;
  /** Fields that the place asks for and that are empty. */
  readonly missing: Place['asks'];
  /** What its copy will say. */
  readonly fields: Fields;
  /** The version of ID3v2 that its copy's tag gets, since the player reads none of the file's; null where it stays. */
  readonly id3: 3 | null;
  /** Changes when the outgoing bytes would change. */
  readonly signature: string;
  private name: Named | null = null;
  private short = false;
  private suffix = '';

  constructor(told: PlanItem, rulebook: Rulebook) {
    this.item = rulebook.tags.edition ? withEdition(told) : told;
    const { item } = this;
    const { kind } = item;
    const { largestFile } = rulebook.disk;
    this.place = findPlace(rulebook, kind);
    const tooLarge = largestFile !== null && item.size > largestFile;
    this.refusal =
      kind && this.place ? (refusalOf(rulebook, kind, item) ?? (tooLarge ? 'bytes' : null)) : null;
    this.missing = this.place ? missingAsks(this.place, item.fields) : [];
    this.fields = item.outgoingFields;
    this.id3 = id3For(item, this.fields, rulebook);
    this.signature = this.id3 === null ? item.recipe.hash : `${item.recipe.hash}|id3v2.3`;
  }

  /** Its name by the rulebook, before other items and the player have their say. */
  named(namer: Namer, kind: Kind, place: Place, short: boolean, suffix: string): Named {
    if (!this.name || this.short !== short || this.suffix !== suffix) {
      this.name = namer.path(this.item, kind, place, short, suffix);
      this.short = short;
      this.suffix = suffix;
    }
    return this.name;
  }
}

/**
 * The version of ID3v2 that the tag of an MP3 is written in, since the player reads none of those that are there: players
 * are known to read ID3v2, and what is said in ID3v1 or an APE tag alone gets a tag of it, too.
 */
function id3For({ writable, format, tagFormats }: PlanItem, fields: Fields, { tags }: Rulebook): 3 | null {
  if (!writable || format !== 'mp3' || !tags.id3.includes(3)) return null;
  const versions = tagFormats.flatMap((sort) => /^ID3v2\.([234])/.exec(sort)?.[1] ?? []);
  if (versions.includes('4')) return tags.id3.includes(4) ? null : 3;
  const saysSomething = Object.values(fields).some((value) => value !== null);
  return versions.length === 0 && saysSomething ? 3 : null;
}

/** What a copy of an item would be noted under on a player: it changes when the outgoing bytes would change. */
export const copySignature = (item: PlanItem, rulebook: Rulebook): string =>
  new ItemPlan(item, rulebook).signature;

/** An item with the path that it gets on the player, and what follows from that alone. */
export class Outgoing {
  readonly folder: string;
  /** The release that it belongs to, where the player shows any. */
  release: Release | null = null;
  readonly file: TreeFile;
  /** What no other item may have of its path, by the player's idea of equal ones. */
  readonly takes: string;
  readonly says: Fields | null;

  constructor(
    readonly entry: Entry,
    readonly known: ItemPlan,
    readonly kind: Kind,
    readonly place: Place,
    readonly path: string,
    /** Unsafe letters were mended by rule, so the name differs from its fields. */
    readonly mended: boolean,
    keys: PathKeys,
  ) {
    const { item, fields } = known;
    this.folder = folderOf(path);
    this.says = entry.says;
    this.file = { path, role: 'media', item: item.id, kind, fields: entry.says ?? fields, text: null };
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
