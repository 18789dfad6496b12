import {
  fieldText,
  valueKey,
  yearOf,
  type Edits,
  type FieldName,
  type Fields,
  type FieldValue,
} from '../items';
import { bindingOf, joins, shelfOf, wholeOf, type Binding } from './binding';
import type { Outgoing } from './entry';
import type { Findings } from './findings';
import { NONE, splitAlbum, type Apart, type Remark } from './remark';

export interface Release {
  readonly key: string;
  readonly members: Set<Outgoing>;
  said: readonly Remark[];
}

/** Says of every release, and of every show, that the player's grouping would tear it apart, with the edits that join it. */
export class Releases {
  private readonly releases = new Map<string, Release>();
  private readonly touched = new Set<Release>();

  constructor(private readonly findings: Findings) {}

  join(out: Outgoing): void {
    const binding = bindingOf(out.place, out.kind);
    if (!binding) return;
    const { kind, path, fields } = out.item;
    const key = `${kind}\n${wholeOf(binding, path, fields)}`;
    let release = this.releases.get(key);
    if (!release) this.releases.set(key, (release = { key, members: new Set(), said: NONE }));
    release.members.add(out);
    out.release = release;
    this.touched.add(release);
  }

  leave(out: Outgoing): void {
    const { release } = out;
    if (!release) return;
    release.members.delete(out);
    this.touched.add(release);
  }

  settle(): void {
    for (const release of this.touched) {
      const members = [...release.members].sort((a, b) => a.order - b.order);
      release.said = this.findings.exchange(release.said, members.length > 1 ? remarksOf(members) : NONE);
      if (members.length === 0) this.releases.delete(release.key);
    }
    this.touched.clear();
  }

  /** What is said of the release of an item. */
  about(out: Outgoing): readonly Remark[] {
    return out.release?.said ?? NONE;
  }
}

/** What its copy will say, with the album's own name: all editions of a release bear another mark behind it. */
const plainOf = ({ known, item }: Outgoing): Fields =>
  item.fields.edition ? { ...known.fields, album: item.fields.album } : known.fields;

function remarksOf(members: readonly Outgoing[]): readonly Remark[] {
  const [first] = members as readonly [Outgoing, ...Outgoing[]];
  const binding = bindingOf(first.place, first.kind);
  if (!binding) return NONE;
  const keyOf = (member: Outgoing, fields = plainOf(member)) =>
    shelfOf(binding, member.kind, fields, member.place, member.path);
  const keys = new Map(members.map((member) => [member, keyOf(member)]));
  const groups = new Set(keys.values());
  if (groups.size < 2) return NONE;
  const usual = usualOf(binding, members.map(plainOf));
  // Folders are named by fields: where most of them go is where the others belong.
  const wantedKey = binding.byFolders
    ? mostOf([...keys.values()], (key) => key)
    : keyOf(first, { ...plainOf(first), ...usual });
  const told = binding.fields
    .map((field) => usual[field] ?? null)
    .filter((value) => value !== null && typeof value !== 'boolean')
    .map(fieldText);
  const apart = members.filter((member) => keys.get(member) !== wantedKey);
  const shelves = { groups: groups.size, rest: members.length - apart.length };
  const name = String(usual[binding.by] ?? first.item.fields[binding.by]);
  return apart
    .map((member) => apartFrom(usual, binding.fields, member))
    .filter(({ fields }) => fields.length > 0)
    .map((one) => splitAlbum(name, shelves, one, told));
}

function apartFrom(usual: Usual, fields: readonly FieldName[], out: Outgoing): Apart {
  const { entry, item } = out;
  const own = plainOf(out);
  const differing = fields.filter((field) => !joins(field, own, usual));
  const mendable = item.writable ? differing.filter((field) => !joins(field, item.fields, usual)) : [];
  return {
    entry,
    edits: Object.fromEntries(mendable.map((field) => [field, usual[field] ?? null])) as Edits,
    fields: differing,
    found: differing.map((field) => fieldText(own[field]) || 'empty'),
  };
}

type Usual = Partial<Fields>;

/** The value that most have; an empty one never wins over a filled one. */
function mostOf<V extends FieldValue>(values: readonly V[], keyOf: (value: V) => string): V | null {
  const counts = new Map<string, { value: V; count: number }>();
  for (const value of values) {
    if (value === null) continue;
    const key = keyOf(value);
    const own = counts.get(key);
    if (own) own.count++;
    else counts.set(key, { value, count: 1 });
  }
  return [...counts.values()].sort((a, b) => b.count - a.count)[0]?.value ?? null;
}

/** The values that bind a release or a show: those that most of its items have. */
function usualOf({ fields }: Binding, all: readonly Fields[]): Usual {
  const usual = Object.fromEntries(
    fields.map((name) => [
      name,
      mostOf(
        all.map((one) => one[name] as FieldValue),
        valueKey,
      ),
    ]),
  ) as Usual;
  return { ...usual, ...usualMaker(fields, all), ...usualDate(fields, all) };
}

function usualMaker(fields: readonly FieldName[], all: readonly Fields[]): Usual {
  if (!fields.includes('albumArtist')) return {};
  const makers = all.map(({ artist }) => artist?.join('; ') ?? null);
  const compilation = all.filter((one) => one.compilation).length * 2 > all.length;
  const named = mostOf(
    all.map(({ albumArtist }) => albumArtist),
    String,
  );
  // Nobody names an album artist: the artist of more than half the songs is it, else it is a compilation.
  const maker = mostOf(makers, String);
  const leads = makers.filter((one) => one === maker).length * 2 > all.length;
  const various = compilation || (named === null && new Set(makers).size > 1 && !leads);
  return {
    albumArtist: named ?? (various ? null : maker),
    ...(fields.includes('compilation') && { compilation: various ? true : null }),
  };
}

/** Players group by the year: of all dates in the usual one, the most frequent. */
function usualDate(fields: readonly FieldName[], all: readonly Fields[]): Usual {
  if (!fields.includes('date')) return {};
  const year = mostOf(all.map(yearOf), String);
  const inYear = all.filter((one) => yearOf(one) === year);
  return {
    date: mostOf(
      inYear.map(({ date }) => date),
      String,
    ),
  };
}
