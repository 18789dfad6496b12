import { valueKey, yearOf, type Edits, type FieldName, type Fields, type FieldValue } from '../../items';
import { pathKey } from '../../naming';
import { joins, shelfOf, wholeOf, type Binding } from '../shown/binding';
import type { Outgoing } from '../names/outgoing';
import type { Namer } from '../names/namer';

const BLIND = { caseSensitive: false, unicode: 'NFC' } as const;

type Usual = Partial<Fields>;

/** Equal for items that belong together, and that come from one source if their folder decides that. */
export function wholeKey(binding: Binding, { kind, item }: Outgoing, fields: Fields): string {
  const source = binding.by === 'album' ? item.source : '';
  return `${kind}\n${source}\n${wholeOf(binding, item.path, fields)}`;
}

/** The fields of its copy, with the plain album title: editions of a release have different marks after it. */
export const plainOf = ({ known, item }: Outgoing): Fields =>
  item.fields.edition ? { ...known.copyFields, album: item.fields.album } : known.copyFields;

/**
 * Joins the parts of a release or show that are on several shelves. The most frequent value wins; of two spellings of
 * one value the tidier. An edit is offered only if the player would then show the item with the others, and never
 * changes the artist of the song.
 */
export class Joining {
  /** The values that all should have; unknown fields are left out. */
  readonly usual: Usual;
  /** Items that are not on the common shelf. */
  readonly apart: readonly Outgoing[];
  /** The common shelf; null if unknown. */
  private readonly wanted: string | null;
  private readonly edits = new Map<Outgoing, Edits>();
  /** Names that members have or would get: no two may become equal. */
  private readonly taken = new Map<string, Outgoing>();

  /** @param shelves at least two, each with its members */
  constructor(
    private readonly binding: Binding,
    shelves: readonly (readonly Outgoing[])[],
    private readonly namer: Namer,
  ) {
    const main = mainOf(shelves, (members) => members[0] && plainOf(members[0]));
    const all = shelves.flat();
    this.usual = known(usualOf(binding, (main ?? all).map(plainOf)));
    for (const out of all) this.taken.set(this.nameWith(out, {}), out);
    const model = main?.[0] ?? all[0];
    this.wanted = model ? this.shelfWith(model, main ? {} : this.usual) : null;
    const inOrder = [...all].sort((a, b) => a.order - b.order);
    const apart = inOrder.filter((out) =>
      main ? !main.includes(out) : this.shelfWith(out, {}) !== this.wanted,
    );
    // If the values agree and the items are still apart, the first shelf is the common one.
    this.apart = apart.length > 0 ? apart : inOrder.filter((out) => !shelves[0]?.includes(out));
    for (const out of this.apart) {
      const edits = this.fewest(out);
      if (edits) this.edits.set(out, edits);
    }
    // A single item on an empty shelf would join nothing.
    if (all.length - this.apart.length + this.edits.size < 2) this.edits.clear();
  }

  /** Whether an edit of it could change its shelf at all. */
  isMendable({ item, entry }: Outgoing): boolean {
    return entry.keptAt === null && (item.writable || this.binding.byFolders);
  }

  /** The edits that join it; null if none do. */
  editsFor(out: Outgoing): Edits | null {
    return this.edits.get(out) ?? null;
  }

  /** The fewest fields that join it; null if none do. */
  private fewest(out: Outgoing): Edits | null {
    if (this.wanted === null || !this.isMendable(out)) return null;
    const { fields } = out.item;
    const open = this.binding.fields.filter(
      (field) =>
        field in this.usual &&
        !joins(field, fields, this.usual) &&
        // Shelves do not depend on who performs or narrates.
        (field !== 'artist' || fields.artist === null),
    );
    for (const names of subsets(open)) {
      const edits = Object.fromEntries(names.map((field) => [field, this.usual[field] ?? null])) as Edits;
      if (this.shelfWith(out, edits) !== this.wanted || !this.staysPart(out, edits)) continue;
      const name = this.nameWith(out, edits);
      if ((this.taken.get(name) ?? out) !== out) continue;
      this.taken.set(name, out);
      return edits;
    }
    return null;
  }

  /** The edits must not take it out of its release, because then nothing would report that it is separate. */
  private staysPart(out: Outgoing, edits: Edits): boolean {
    const { fields } = out.item;
    return wholeKey(this.binding, out, { ...fields, ...edits }) === wholeKey(this.binding, out, fields);
  }

  private shelfWith(out: Outgoing, edits: Edits): string {
    const { item, kind, place } = out;
    const said = item.writable ? { ...plainOf(out), ...edits } : plainOf(out);
    const path = this.binding.byFolders ? this.pathWith(out, edits) : out.path;
    return shelfOf(this.binding, kind, said, place, path);
  }

  private pathWith({ item, known: { extension }, kind, place }: Outgoing, edits: Edits): string {
    const edited = { ...item, fields: { ...item.fields, ...edits } };
    return this.namer.path({ item: edited, extension }, kind, place, false).path;
  }

  private nameWith(out: Outgoing, edits: Edits): string {
    return pathKey(this.pathWith(out, edits), BLIND);
  }
}

/**
 * The shelf with the most items; of equally large ones the one with the tidier spelling; null if that does not decide.
 */
function mainOf(
  shelves: readonly (readonly Outgoing[])[],
  fieldsOf: (members: readonly Outgoing[]) => Fields | undefined,
): readonly Outgoing[] | null {
  const most = Math.max(...shelves.map(({ length }) => length));
  const largest = shelves.filter(({ length }) => length === most);
  if (largest.length === 1) return largest[0] ?? null;
  const spelled = largest.map((members) => ({ members, text: JSON.stringify(fieldsOf(members) ?? null) }));
  const tidy = spelled.filter(({ text }) => tidied(text) === text);
  const isOne = new Set(spelled.map(({ text }) => tidied(text))).size === 1;
  return isOne && tidy.length === 1 ? (tidy[0]?.members ?? null) : null;
}

const tidied = (text: string): string => text.replace(/\s+/g, ' ').replace(/ (?=")|(?<=") /g, '');

/** All subsets, the smallest first. At most five fields are involved. */
function subsets<T>(all: readonly T[]): readonly (readonly T[])[] {
  let found: (readonly T[])[] = [[]];
  for (const one of all) found = [...found, ...found.map((set) => [...set, one])];
  return found.filter(({ length }) => length > 0).sort((a, b) => a.length - b.length);
}

/**
 * The most frequent value; an empty one never wins over a filled one. Of equally frequent values, the tidier spelling.
 */
function mostOf<V extends FieldValue>(values: readonly V[], keyOf: (value: V) => string): V | undefined {
  const counts = new Map<string, { value: V; count: number }>();
  for (const value of values) {
    if (value === null) continue;
    const key = keyOf(value);
    const own = counts.get(key);
    if (own) own.count++;
    else counts.set(key, { value, count: 1 });
  }
  const [first, second] = [...counts.values()].sort(
    (a, b) => b.count - a.count || untidy(a.value) - untidy(b.value),
  );
  if (!first || !second || first.count > second.count) return first?.value;
  const isSpelling = tidied(valueKey(first.value)) === tidied(valueKey(second.value));
  return isSpelling && untidy(first.value) < untidy(second.value) ? first.value : undefined;
}

const untidy = (value: FieldValue): number => valueKey(value).length - tidied(valueKey(value)).trim().length;

/** The values that group a release or show, if most of its items have them. */
function usualOf({ fields }: Binding, all: readonly Fields[]): Usual {
  const usual = Object.fromEntries(
    fields.map((name) => [
      name,
      mostOf(
        all.map((one) => one[name]),
        valueKey,
      ),
    ]),
  ) as Usual;
  return { ...usual, ...usualMaker(fields, all), ...usualDate(fields, all) };
}

const known = (usual: Usual): Usual =>
  Object.fromEntries(Object.entries(usual).filter(([, value]) => value !== undefined));

function usualMaker(fields: readonly FieldName[], all: readonly Fields[]): Usual {
  if (!fields.includes('albumArtist')) return {};
  const makers = all.map(({ artist }) => artist?.join('; ') ?? null);
  const compilation = all.filter((one) => one.compilation).length * 2 > all.length;
  const names = all.map(({ albumArtist }) => albumArtist);
  const isNamed = names.some((name) => name !== null);
  const named = mostOf(names, String);
  // No item has an album artist: it is the artist of more than half the songs, or else the album is a compilation.
  const maker = mostOf(makers, String);
  const leads = makers.filter((one) => one === maker).length * 2 > all.length;
  const various = compilation || (!isNamed && new Set(makers).size > 1 && !leads);
  return {
    albumArtist: isNamed ? named : various ? null : maker,
    ...(fields.includes('compilation') && { compilation: various ? true : null }),
  };
}

/** Players group by year: the most frequent date within the most frequent year. */
function usualDate(fields: readonly FieldName[], all: readonly Fields[]): Usual {
  if (!fields.includes('date')) return {};
  const year = mostOf(all.map(yearOf), String);
  if (year === undefined) return { date: undefined };
  const dates = all.flatMap((one) => (yearOf(one) === year && one.date !== null ? one.date : []));
  return { date: mostOf(dates, String) ?? dates.sort((a, b) => a.length - b.length)[0] };
}
