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

/** An item as all parts of a plan share it. Each part keeps its own data elsewhere. */
export interface Planned {
  readonly id: ItemId;
  /** Rises with arrival. */
  readonly order: number;
  readonly known: ItemPlan;
  readonly item: PlanItem;
  /** Its path on the player if that is kept, whatever the rulebook says. */
  readonly keptAt: string | null;
  /** The tags of its file on the player, if that side won. */
  readonly says: Fields | null;
}

/** Everything that follows from one item and a rulebook alone. */
export class ItemPlan {
  /** The item as it will be written. */
  readonly item: PlanItem;
  /** The file that the copy is made from. */
  readonly original: OriginalFile;
  /** The place that the rulebook gives it; null if there is none for its kind. */
  readonly place: Place | null;
  /** Why the player does not take it, unless a suitable twin exists; null if it does take it. */
  readonly refusal: Refusal | null;
  /** How a twin would be made if it is refused, or why that is impossible; null if it is not refused. */
  readonly twin: TwinRecipe | Unmakeable | null;
  /** Empty fields that the place requires. */
  readonly missing: Place['asks'];
  /** The fields of its copy, as this player reads them. */
  readonly copyFields: Fields;
  /** How its copy is made. */
  readonly recipe: Recipe;
  /** Extension of its copy's name, without a dot. */
  readonly extension: string;
  /** Changes when the bytes of the copy would change. */
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

/** The item with the twin that a recipe made; null if it does not exist. */
function byTwin(item: PlanItem, recipe: TwinRecipe | Unmakeable): PlanItem | null {
  if (typeof recipe === 'string' || item.twins.length === 0) return null;
  const key = recipeKey(recipe);
  const twin = item.twins.find(({ by }) => recipeKey(by.twin.recipe) === key);
  return twin ? { ...item, ...twin } : null;
}

/** The extension of its name, or another one of its format if that is too long for the player. */
function endingFor({ path, format, by }: PlanItem, most: number | null): string {
  const own = by ? fileOf(by.twin.recipe).ending : extensionOf(path) || (FORMAT_ENDINGS[format][0] ?? format);
  if (most === null || own.length <= most) return own;
  return FORMAT_ENDINGS[format].find(({ length }) => length <= most) ?? own;
}

/** What a player requires of a copy's tags, apart from the values. */
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

/** The text encoding to write if the player reads only one: that of the existing tag is unknown. */
function encodingFor({ writable, format, outgoingFields }: PlanItem, { tags }: Rulebook): 'latin1' | null {
  const isAsked = writable && format === 'mp3' && tags.encoding === 'latin1';
  return isAsked && Object.values(outgoingFields).some((value) => value !== null) ? 'latin1' : null;
}

/** Replaces letters that have no usual transliteration in the encoding of the tags. */
const UNSPELLED = '?';

/** Values that ISO 8859-1 can represent; the same object if all of them are. */
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

/** Pictures in its tags that exceed the player's limits; null if none does or tags are not written. */
function smallerPictures(
  { writable, file, outgoing, pictureRoles, by }: PlanItem,
  limits: PictureLimits,
): SmallerPictures | null {
  const { pixels, bytes } = limits;
  if (!writable || (pixels === null && bytes === null)) return null;
  const passes = (one: Pick<PictureFact, 'bytes' | 'width' | 'height'>) =>
    Math.max(one.width ?? 0, one.height ?? 0) > (pixels ?? Infinity) || one.bytes > (bytes ?? Infinity);
  const chosen = Object.entries(outgoing.pictures ?? {}).filter(([, picture]) => picture && passes(picture));
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
 * The ID3v2 version that the tag of an MP3 is written in because the player reads none of the existing ones. All
 * players read ID3v2, so files with only ID3v1 or APE tags get an ID3v2 tag as well.
 */
function id3For({ writable, format, tagFormats }: PlanItem, fields: Fields, { tags }: Rulebook): 3 | null {
  if (!writable || format !== 'mp3' || !tags.id3.includes(3)) return null;
  const versions = tagFormats.flatMap((sort) => /^ID3v2\.([234])/.exec(sort)?.[1] ?? []);
  if (versions.includes('4')) return tags.id3.includes(4) ? null : 3;
  const saysSomething = Object.values(fields).some((value) => value !== null);
  return versions.length === 0 && saysSomething ? 3 : null;
}

/**
 * The signature under which a copy of an item is recorded on a player: it changes when the bytes of the copy would
 * change.
 */
export const copySignature = (item: PlanItem, rulebook: Rulebook): string =>
  new ItemPlan(item, rulebook).signature;
