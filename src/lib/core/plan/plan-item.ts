import {
  fieldsOf,
  kindOf,
  type ChosenPicture,
  type Edits,
  type Fields,
  type FormatId,
  type Item,
  type ItemId,
  type PictureId,
  type SourceId,
} from '../items';
import type { Certainty, Kind } from '../kinds';

/** The picture that stands for an item: chosen by the curator, or the file's own front picture. */
export interface PlanPicture {
  /** Equal for equal pictures. */
  readonly key: string;
  readonly chosen: PictureId | null;
  /** Place among the file's pictures, when not chosen. */
  readonly index: number;
  readonly mime: string;
  readonly width: number | null;
  readonly height: number | null;
}

/** What planning needs of an item, small enough to send to a worker by the hundred thousand. */
export interface PlanItem {
  readonly id: ItemId;
  readonly source: SourceId;
  readonly path: string;
  readonly size: number;
  readonly format: FormatId;
  readonly kind: Kind | null;
  readonly settled: boolean;
  readonly certainty: Certainty;
  readonly nextKind: Kind | null;
  readonly fields: Fields;
  readonly fileFields: Fields;
  readonly edits: Edits;
  readonly chosen: ChosenPicture | null;
  /** There is something to write into its copy. */
  readonly edited: boolean;
  /** Its tags can be written: its format's can, and nothing in the file stands against it. */
  readonly writable: boolean;
  /** What stands against it; null when nothing does. */
  readonly locked: NonNullable<Item['facts']['locked']> | null;
  readonly picture: PlanPicture | null;
  readonly durationSeconds: number | null;
  /** Changes when the outgoing bytes would change. */
  readonly signature: string;
  readonly beside: readonly string[];
}

/** The picture that stands for an item, or null. */
export function frontPicture(item: Item): PlanPicture | null {
  if (item.picture) {
    const { id, mime, width, height } = item.picture;
    return { key: `chosen:${id}`, chosen: id, index: 0, mime, width, height };
  }
  const pictures = item.facts.pictures;
  const index = Math.max(
    0,
    pictures.findIndex((picture) => /front/i.test(picture.role)),
  );
  const own = pictures[index];
  if (!own) return null;
  return {
    key: `own:${own.hash}:${own.bytes}`,
    chosen: null,
    index,
    mime: own.mime,
    width: own.width,
    height: own.height,
  };
}

/** Edits as one text, in whatever order they were made. */
function editsKey(edits: Edits): string {
  const names = Object.keys(edits).sort() as (keyof Edits)[];
  return JSON.stringify(edits, names);
}

/** @param writable formats whose tags can be written */
export function toPlanItem(item: Item, writable: ReadonlySet<FormatId>): PlanItem {
  const edited = item.picture !== null || Object.keys(item.edits).length > 0;
  const canWrite = writable.has(item.format) && !item.facts.locked;
  const writes = canWrite && edited ? `${editsKey(item.edits)}|${item.picture?.id ?? ''}` : '';
  return {
    id: item.id,
    source: item.source,
    path: item.path,
    size: item.size,
    format: item.format,
    kind: kindOf(item),
    settled: item.settled !== null,
    certainty: item.guess.certainty,
    nextKind: item.guess.next,
    fields: fieldsOf(item),
    fileFields: item.fileFields,
    edits: item.edits,
    chosen: item.picture,
    edited,
    writable: canWrite,
    locked: item.facts.locked ?? null,
    picture: frontPicture(item),
    durationSeconds: item.facts.durationSeconds,
    signature: `${item.id}|${item.size}|${item.modified}|${writes}`,
    beside: item.beside,
  };
}

/** The fields that the item's copy will carry: its format decides whether edits reach it. */
export function outgoingFields(item: PlanItem): Fields {
  return item.writable ? item.fields : item.fileFields;
}
