import { FORMAT_ENDINGS, type Fields, type ItemId } from '../../items';
import { extensionOf } from '../../paths';
import { findPlace, missingAsks, refusalOf, type Place, type Refusal, type Rulebook } from '../../rulebooks';
import { withEdition } from './edition';
import type { PlanItem } from './plan-item';
import { AS_IS, type Recipe } from './recipe';

/** An item as every part of a plan knows it. What a part knows of it beside that, it keeps itself. */
export interface Planned {
  readonly id: ItemId;
  /** Rises from item to item, as they came. */
  readonly order: number;
  readonly known: ItemPlan;
  readonly item: PlanItem;
  /** Where the player has it, whatever the rulebook calls it. */
  readonly keptAt: string | null;
  /** What its file there says, where that counts. */
  readonly says: Fields | null;
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
  /** How its copy comes to be. */
  readonly recipe: Recipe;
  /** Ending of its copy's name, without a dot. */
  readonly extension: string;
  /** Changes when the outgoing bytes would change. */
  readonly signature: string;

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
    const id3 = id3For(item, this.fields, rulebook);
    this.recipe = recipeFor(item, id3);
    this.extension = extensionOf(item.path) || (FORMAT_ENDINGS[item.format][0] ?? item.format);
    this.signature = id3 === null ? item.outgoingHash : `${item.outgoingHash}|id3v2.3`;
  }
}

function recipeFor(item: PlanItem, id3: 3 | null): Recipe {
  const { format, outgoing: changes, outgoingFields: expect, outgoingKind: kind } = item;
  if (Object.keys(changes).length === 0 && id3 === null) return AS_IS;
  return { type: 'retag', format, changes, expect, kind, id3 };
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
