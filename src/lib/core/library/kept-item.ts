import type { Fields, Item } from '../items';

/**
 * The description of an item apart from its file, by the curator or by what came with it. Absent parts have no value.
 */
export type Said = Partial<
  Pick<Item, 'settled' | 'edits' | 'gone' | 'identity' | 'gathering' | 'foundBeside'>
>;
/** The parts of an item that no edit changes: its file, the file's content, and guesses. */
export type Unedited = Omit<Item, keyof Said>;
/** The same as it is kept: without empty fields, because most are empty. */
export type KeptUnedited = Omit<Unedited, 'file' | 'made'> & {
  readonly made?: Item['made'];
  readonly file: Omit<Item['file'], 'fields'> & { readonly fields: Partial<Fields> };
};

const NO_EDITS: Item['edits'] = {};

export function originalOf(item: Item): KeptUnedited {
  const {
    settled: _,
    edits: __,
    gone: ___,
    identity: ____,
    gathering: _____,
    foundBeside: ______,
    made,
    ...original
  } = item;
  return {
    ...original,
    ...(made && { made }),
    file: { ...original.file, fields: sparse(original.file.fields) },
  };
}

function sparse(fields: Fields): Partial<Fields> {
  const said: Record<string, unknown> = {};
  for (const name in fields) {
    const value = fields[name as keyof Fields];
    if (value !== null) said[name] = value;
  }
  return said;
}

/** The description of an item; null if there is none. */
export function saidOf(item: Item): Said | null {
  if (!saysAnything(item)) return null;
  const { settled, edits, gone, identity, gathering, foundBeside } = item;
  const isEdited = Object.keys(edits).length > 0;
  return {
    ...(settled !== null && { settled }),
    ...(isEdited && { edits }),
    ...(gone !== null && { gone }),
    ...(identity !== null && { identity }),
    ...(gathering !== null && { gathering }),
    ...(foundBeside !== null && { foundBeside }),
  };
}

export function saysAnything({ settled, edits, gone, identity, gathering, foundBeside }: Item): boolean {
  if (settled !== null || gone !== null || identity !== null) return true;
  if (gathering !== null || foundBeside !== null) return true;
  for (const _ in edits) return true;
  return false;
}

/** Joins both. Earlier versions kept the description with the original; it counts if there is no separate one. */
export function joinKept(original: Unedited & Said, said: Said | null): Item {
  const {
    settled = null,
    edits = NO_EDITS,
    gone = null,
    identity = null,
    gathering = null,
    foundBeside = null,
  } = said ?? original;
  const { id, arrival, source, path, size, modified, format, facts, native, file, guess, beside, made } =
    original;
  // Listing the names makes an item a single object in memory, which saves a tenth of the page's memory for a hundred
  // thousand.
  return {
    id,
    arrival,
    source,
    path,
    size,
    modified,
    format,
    facts,
    native,
    file,
    guess,
    settled,
    edits,
    beside,
    gone,
    identity,
    gathering,
    made,
    foundBeside,
  };
}

/** Whether a kept item contains its own description, as in earlier versions. */
export const holdsSaid = (kept: object): boolean => 'edits' in kept;

/**
 * Whether a change left the kept original as it was. Items never change in place. Compares by name, because an edit of
 * a whole library calls this for every item.
 */
export function sameOriginal(a: Item, b: Item): boolean {
  return (
    a.file === b.file &&
    a.facts === b.facts &&
    a.guess === b.guess &&
    a.size === b.size &&
    a.modified === b.modified &&
    a.path === b.path &&
    a.native === b.native &&
    a.beside === b.beside &&
    a.format === b.format &&
    a.arrival === b.arrival &&
    a.source === b.source &&
    a.made === b.made &&
    a.id === b.id
  );
}

export function sameSaid(a: Item, b: Item): boolean {
  return (
    a.edits === b.edits &&
    a.settled === b.settled &&
    a.gone === b.gone &&
    a.identity === b.identity &&
    a.gathering === b.gathering &&
    a.foundBeside === b.foundBeside
  );
}
