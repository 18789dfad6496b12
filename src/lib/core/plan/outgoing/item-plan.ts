import {
  FORMAT_ENDINGS,
  sameValue,
  toTexts,
  type Edits,
  type FieldName,
  type Fields,
  type FieldValue,
  type ItemId,
  type PictureFact,
  type PictureRole,
} from '../../items';
import { toAlphabet } from '../../naming';
import { extensionOf } from '../../paths';
import { findPlace, missingAsks, refusalOf, type Place, type Refusal, type Rulebook } from '../../rulebooks';
import { fileOf, recipeForPlayer, recipeKey, type TwinRecipe, type Unmakeable } from '../../twins';
import type { OriginalFile } from '../step';
import { withEdition } from './edition';
import type { PlanItem } from './plan-item';
import { AS_IS, type PictureLimits, type Recipe, type SmallerPictures } from './recipe';

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
  /** What it is made from. */
  readonly original: OriginalFile;
  /** Where the rulebook puts it; null where it has no place for its kind. */
  readonly place: Place | null;
  /** Why the player does not take it, where no twin of it is there that it takes; null where it does. */
  readonly refusal: Refusal | null;
  /** What its twin would be made by where it is refused, or why there can be none; null where it is not refused. */
  readonly twin: TwinRecipe | Unmakeable | null;
  /** Fields that the place asks for and that are empty. */
  readonly missing: Place['asks'];
  /** What its copy will say, as this player reads it. */
  readonly copyFields: Fields;
  /** How its copy comes to be. */
  readonly recipe: Recipe;
  /** Ending of its copy's name, without a dot. */
  readonly extension: string;
  /** Changes when the outgoing bytes would change. */
  readonly signature: string;

  constructor(told: PlanItem, rulebook: Rulebook) {
    const { kind, source, path, size } = told;
    this.original = { source, path, size };
    this.place = findPlace(rulebook, kind);
    const refusal = kind && this.place ? refusalOf(rulebook, kind, told) : null;
    this.twin = kind && refusal ? recipeForPlayer(rulebook, kind, told) : null;
    const twin = this.twin ? byTwin(told, this.twin) : null;
    this.refusal = twin ? null : refusal;
    this.item = rulebook.tags.edition ? withEdition(twin ?? told) : (twin ?? told);
    const { item } = this;
    this.missing = this.place ? missingAsks(this.place, item.fields) : [];
    const id3 = id3For(item, item.outgoingFields, rulebook);
    const encoding = encodingFor(item, rulebook);
    const smaller = smallerPictures(item, rulebook.tags.picture);
    this.copyFields = encoding ? spelledFields(item.outgoingFields) : item.outgoingFields;
    this.recipe = recipeFor(item, { expect: this.copyFields, id3, encoding, smaller });
    this.extension = endingFor(item, rulebook.disk.maxEnding);
    this.signature = [
      item.outgoingHash,
      ...(id3 === null ? [] : ['id3v2.3']),
      ...(encoding ? [encoding] : []),
      ...(smaller ? [`pictures ${smaller.limits.pixels ?? ''}/${smaller.limits.bytes ?? ''}`] : []),
    ].join('|');
  }
}

/** The item as it goes out by the twin that a recipe made of it; null where there is none. */
function byTwin(item: PlanItem, recipe: TwinRecipe | Unmakeable): PlanItem | null {
  if (typeof recipe === 'string' || item.twins.length === 0) return null;
  const key = recipeKey(recipe);
  const twin = item.twins.find(({ by }) => recipeKey(by.twin.recipe) === key);
  return twin ? { ...item, ...twin } : null;
}

/** The ending of its name, else another one of its format where that is too long for the player. */
function endingFor({ path, format, by }: PlanItem, most: number | null): string {
  const own = by ? fileOf(by.twin.recipe).ending : extensionOf(path) || (FORMAT_ENDINGS[format][0] ?? format);
  if (most === null || own.length <= most) return own;
  return FORMAT_ENDINGS[format].find(({ length }) => length <= most) ?? own;
}

/** What a player asks of a copy's tags beside what the library says of it. */
interface Asked {
  readonly expect: Fields;
  readonly id3: 3 | null;
  readonly encoding: 'latin1' | null;
  readonly smaller: SmallerPictures | null;
}

function recipeFor(item: PlanItem, { expect, id3, encoding, smaller }: Asked): Recipe {
  const { format, outgoing, outgoingKind: kind, by } = item;
  if (!by && Object.keys(outgoing).length === 0 && id3 === null && !encoding && !smaller) return AS_IS;
  const changes = encoding ? { ...outgoing, fields: { ...outgoing.fields, ...said(expect) } } : outgoing;
  return {
    ...(by
      ? {
          type: 'twin',
          twin: by.twin.id,
          size: item.size,
          pictures: by.pictures.map(({ index, role }) => ({ index, role })),
        }
      : { type: 'retag' }),
    format,
    changes,
    expect,
    kind,
    id3,
    ...(encoding && { encoding }),
    ...(smaller && { smaller }),
  };
}

const said = (fields: Fields): Edits =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== null));

/** What its texts are written in, where the player reads no more than that: nobody knows what they are written in now. */
function encodingFor({ writable, format, outgoingFields }: PlanItem, { tags }: Rulebook): 'latin1' | null {
  const isAsked = writable && format === 'mp3' && tags.encoding === 'latin1';
  return isAsked && Object.values(outgoingFields).some((value) => value !== null) ? 'latin1' : null;
}

/** Stands for letters that have no usual spelling in what tags are written in. */
const UNSPELLED = '?';

/** Values as they can be written in ISO 8859-1; the very fields where all of them can. */
function spelledFields(fields: Fields): Fields {
  const spell = (text: string) => toAlphabet(text, 'latin1', UNSPELLED);
  let spelled: Record<string, FieldValue> | null = null;
  for (const [name, value] of Object.entries(fields) as [FieldName, FieldValue][]) {
    const next =
      typeof value === 'string' ? spell(value) : Array.isArray(value) ? toTexts(value.map(spell)) : value;
    if (!sameValue(value, next)) (spelled ??= { ...fields })[name] = next;
  }
  return (spelled as Fields | null) ?? fields;
}

/** Pictures that go out in its tags and pass the player's limits; null where none does, or tags are not written. */
function smallerPictures(
  { writable, file, outgoing, pictureRoles, by }: PlanItem,
  limits: PictureLimits,
): SmallerPictures | null {
  const { pixels, bytes } = limits;
  if (!writable || (pixels === null && bytes === null)) return null;
  const passes = (one: Pick<PictureFact, 'bytes' | 'width' | 'height'>) =>
    Math.max(one.width ?? 0, one.height ?? 0) > (pixels ?? Infinity) || one.bytes > (bytes ?? Infinity);
  const chosen = Object.entries(outgoing.pictures ?? {}).filter(([, picture]) => passes(picture));
  const isReplaced = (role: PictureRole) => outgoing.pictures?.[role] !== undefined;
  const isWritten = (role: PictureRole) => pictureRoles === null || pictureRoles.includes(role);
  const own = (by?.pictures ?? file.pictures.map((picture, index) => ({ ...picture, index }))).flatMap(
    (picture) =>
      passes(picture) && isWritten(picture.role) && !isReplaced(picture.role)
        ? [{ index: picture.index, role: picture.role }]
        : [],
  );
  if (chosen.length + own.length === 0) return null;
  return { limits, own, chosen: chosen.map(([role]) => role as PictureRole) };
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
