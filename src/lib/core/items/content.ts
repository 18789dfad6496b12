import { hash } from 'ohash';
import { sameValue, type FieldValue } from './field-types';
import { cleanValue, type Edits, type FieldName } from './fields';
import { PARTS, PART_NAMES, fieldOf, type Part, type ReadBack } from './parts';
import type { ChosenPicture } from './pictures';
import type { Content, Overlay, PartEdits, PartName, PutBack, Saying } from './saying';

type Made = { -readonly [P in PartName]?: PartEdits[P] };

/** An overlay made by applying a function to each of its parts; parts without a result are left out. */
function mapParts(
  overlay: Overlay,
  make: <P extends PartName>(part: Part<P>, edit: PartEdits[P], name: P) => PartEdits[P] | undefined,
): Overlay {
  const made: Made = {};
  const makePart = <P extends PartName>(name: P) => {
    const edit: PartEdits[P] | undefined = overlay[name];
    if (edit === undefined) return;
    const next = make<P>(PARTS[name], edit, name);
    if (next !== undefined) made[name] = next;
  };
  PART_NAMES.forEach(makePart);
  return made;
}

export function isEdited({ edits }: Pick<Saying, 'edits'>): boolean {
  for (const _ in edits) return true;
  return false;
}

/** An overlay as it is kept: clean, and without what equals the file. */
export const trimOverlay = (file: Content, overlay: Overlay): Overlay =>
  mapParts(overlay, (part, edit) => part.trim(file, edit));

/** Pictures kept in the library that an overlay uses. */
export const chosenPictures = (overlay: Overlay): readonly ChosenPicture[] =>
  saidParts(overlay).flatMap((name) => ofPart(overlay, name, (part, edit) => part.chosen(edit)) ?? []);

const saidParts = (overlay: Overlay): readonly PartName[] =>
  PART_NAMES.filter((name) => overlay[name] !== undefined);

function ofPart<P extends PartName, T>(
  overlay: Overlay,
  name: P,
  ask: (part: Part<P>, edit: PartEdits[P]) => T,
): T | null {
  const edit: PartEdits[P] | undefined = overlay[name];
  return edit === undefined ? null : ask(PARTS[name], edit);
}

const sameOverlay = (a: Overlay, b: Overlay): boolean => PART_NAMES.every((name) => samePart(name, a, b));

function samePart<P extends PartName>(name: P, a: Overlay, b: Overlay): boolean {
  const [one, other]: (PartEdits[P] | undefined)[] = [a[name], b[name]];
  if (one === other) return true;
  return one !== undefined && other !== undefined && PARTS[name].same(one, other);
}

/** One overlay laid over another: values of the second win. */
export const layOver = (under: Overlay, over: Overlay): Overlay => ({
  ...under,
  ...mapParts(over, (part, edit, name) => part.lay(under[name], edit)),
});

/** The overlay without these parts, as if they had never been edited. */
export const withoutParts = (overlay: Overlay, what: PutBack): Overlay =>
  mapParts(overlay, (part, edit, name) => {
    const less = what[name];
    return less === undefined ? edit : part.less(edit, less);
  });

/** The file's own values of everything that an overlay changes, as far as an overlay can hold them. */
export const inFile = (file: Content, overlay: Overlay): Overlay =>
  mapParts(overlay, (part, edit) => part.inFile(file, edit));

/**
 * The changes that the file's tags do not contain already, as far as tags can tell. Without this, values that a format
 * rounds or leaves out would be written again and again.
 */
export const unsaid = (file: Content, overlay: Overlay): Overlay =>
  mapParts(overlay, (part, edit) => part.unsaid(file, edit));

/** Parts that were written but read back differently. */
export const readOtherwise = (overlay: Overlay, found: ReadBack): readonly PartName[] =>
  saidParts(overlay).filter(
    (name) => ofPart(overlay, name, (part, edit) => part.isSaid(edit, found)) === false,
  );

/** The overlay that remains after this was written into the file. */
export const withoutWritten = (overlay: Overlay, written: Overlay): Overlay =>
  mapParts(overlay, (part, edit, name) => {
    const one = written[name];
    return one === undefined ? edit : part.written(edit, one);
  });

/** A change made to an earlier state of an item, applied to its present state, whose file may differ. */
export function carriedOver(current: Saying, before: Saying, after: Saying): Overlay {
  const made: Made = {};
  const carry = <P extends PartName>(name: P) => {
    const edit = PARTS[name].carry(current, before, after);
    if (edit !== undefined) made[name] = edit;
  };
  PART_NAMES.forEach(carry);
  return trimOverlay(current.file, made);
}

/** The item with this overlay added. The same object if nothing changes. */
export function editContent<S extends Saying>(item: S, over: Overlay): S {
  const edits = trimOverlay(item.file, layOver(item.edits, over));
  return sameOverlay(edits, item.edits) ? item : { ...item, edits };
}

/** The item with these fields changed. Other parts of its overlay are kept without being examined. */
export function editItem<S extends Saying>(item: S, fields: Edits): S {
  const { file, edits } = item;
  let next: Record<string, FieldValue> | null = null;
  for (const key in fields) {
    const name = key as FieldName;
    const value = fields[name];
    if (value === undefined) continue;
    const clean = cleanValue(value);
    if (sameValue(fieldOf(item, name), clean)) continue;
    next ??= { ...edits.fields };
    if (sameValue(file.fields[name], clean)) delete next[name];
    else next[name] = clean;
  }
  if (next === null) return item;
  const { fields: _, ...rest } = edits;
  for (const _name in next) return { ...item, edits: { ...rest, fields: next } };
  return { ...item, edits: rest };
}

/** The item with some parts as its file has them. */
export function putBack<S extends Saying>(item: S, parts: PutBack): S {
  return { ...item, edits: withoutParts(item.edits, parts) };
}

/**
 * A text that is equal for overlays that write the same, in whatever order they were made; empty if nothing is written.
 * For comparing only, never parsed.
 */
export function contentHash(overlay: Overlay): string {
  const parts = saidParts(overlay);
  if (parts.length === 0) return '';
  // Hashes recorded earlier named the pictures of every overlay.
  const keys = parts.map((name) => [name, ofPart(overlay, name, (part, edit) => part.key(edit))] as const);
  return hash({ pictures: {}, ...Object.fromEntries(keys) });
}
