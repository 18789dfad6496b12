import type { Fields, Item } from '../items';

/** What is said of an item beside its file: by the curator, or by the way it came. Of what is left out nothing is said. */
export type Said = Partial<Pick<Item, 'settled' | 'edits' | 'gone' | 'identity' | 'gathering'>>;
/** What an item is and its file says, with what was guessed from that: no edit changes it. */
export type Unedited = Omit<Item, keyof Said>;
/** The same as it is kept: fields that say nothing are left out, since most of them say nothing. */
export type KeptUnedited = Omit<Unedited, 'file' | 'made'> & {
  readonly made?: Item['made'];
  readonly file: Omit<Item['file'], 'fields'> & { readonly fields: Partial<Fields> };
};

const NO_EDITS: Item['edits'] = {};

export function originalOf(item: Item): KeptUnedited {
  const { settled: _, edits: __, gone: ___, identity: ____, gathering: _____, made, ...original } = item;
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

/** What is said of an item; null where nothing is. */
export function saidOf(item: Item): Said | null {
  if (!saysAnything(item)) return null;
  const { settled, edits, gone, identity, gathering } = item;
  const isEdited = Object.keys(edits).length > 0;
  return {
    ...(settled !== null && { settled }),
    ...(isEdited && { edits }),
    ...(gone !== null && { gone }),
    ...(identity !== null && { identity }),
    ...(gathering !== null && { gathering }),
  };
}

export function saysAnything({ settled, edits, gone, identity, gathering }: Item): boolean {
  if (settled !== null || gone !== null || identity !== null || gathering !== null) return true;
  for (const _ in edits) return true;
  return false;
}

/** Both together. What lies with the original, as earlier versions kept it, counts where nothing lies apart. */
export function joinKept(original: Unedited & Said, said: Said | null): Item {
  const {
    settled = null,
    edits = NO_EDITS,
    gone = null,
    identity = null,
    gathering = null,
  } = said ?? original;
  const { id, arrival, source, path, size, modified, format, facts, native, file, guess, beside, made } =
    original;
  // Told one by one, an item is one piece in memory: of a hundred thousand that is a tenth of the page.
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
  };
}

/** Whether an item that was kept holds what is said of it with itself, as earlier versions kept it. */
export const holdsSaid = (kept: object): boolean => 'edits' in kept;

/**
 * Whether a change left what is kept of the original as it was. Items never change in place. Name by name, since an edit
 * of a whole library passes here for every item.
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
    a.gathering === b.gathering
  );
}
