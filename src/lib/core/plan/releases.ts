import { fieldText, releaseKey, yearOf, type Edits, type Fields } from '../items';
import type { GroupPart, Place } from '../rulebooks';
import type { Outgoing } from './entry';
import type { Findings } from './findings';
import { NONE, splitAlbum, type Apart, type Remark } from './remark';
import { groupKey } from './showing';

/** Fields that each part of a player's grouping is read from; folders follow from names. */
const PART_FIELDS: Readonly<Record<GroupPart, readonly (keyof Usual)[]>> = {
  album: ['album'],
  maker: ['albumArtist', 'compilation'],
  year: ['date'],
  show: [],
  season: [],
  folder1: [],
  folder2: [],
};

export interface Release {
  readonly key: string;
  readonly members: Set<Outgoing>;
  said: readonly Remark[];
}

/** Says of every release that the player's grouping would tear it apart, with the edits that join it. */
export class Releases {
  private readonly releases = new Map<string, Release>();
  private readonly touched = new Set<Release>();

  constructor(private readonly findings: Findings) {}

  join(out: Outgoing): void {
    if (!byAlbum(out.place)) return;
    const { kind, path, fields } = out.item;
    const key = `${kind}\n${releaseKey(path, fields)}`;
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
const keyOf = (fields: Fields, { kind, place, path }: Outgoing) => groupKey(kind, fields, place, path);
const byAlbum = ({ groups }: Place) => groups.some((level) => level.includes('album'));

function remarksOf(members: readonly Outgoing[]): readonly Remark[] {
  const groups = new Set(members.map((member) => keyOf(plainOf(member), member)));
  if (groups.size < 2) return NONE;
  const usual = usualOf(members.map(plainOf));
  const [first] = members as readonly [Outgoing, ...Outgoing[]];
  const wantedKey = keyOf({ ...plainOf(first), ...usual }, first);
  const fields = first.place.groups.flat().flatMap((part) => PART_FIELDS[part]);
  const told = fields
    .map((field) => usual[field])
    .filter((value) => value !== null && typeof value !== 'boolean')
    .map(fieldText);
  const apart = members.filter((member) => keyOf(plainOf(member), member) !== wantedKey);
  const shelves = { groups: groups.size, rest: members.length - apart.length };
  return apart.map((member) =>
    splitAlbum(String(usual.album), shelves, apartFrom(usual, fields, member), told),
  );
}

function apartFrom(usual: Usual, fields: readonly (keyof Usual)[], out: Outgoing): Apart {
  const { entry, item } = out;
  const own = plainOf(out);
  const differing = fields.filter((field) => !binds(field, own, usual));
  const mendable = item.writable ? differing.filter((field) => !binds(field, item.fields, usual)) : [];
  return {
    entry,
    edits: Object.fromEntries(mendable.map((field) => [field, usual[field]])) as Edits,
    fields: differing,
    found: differing.map((field) => fieldText(own[field]) || 'empty'),
  };
}
type Usual = Pick<Fields, 'album' | 'albumArtist' | 'compilation' | 'date'>;

/** The values that bind a release: those most of its items have; an empty value never wins over a filled one. */
function usualOf(all: readonly Fields[]): Usual {
  const most = <V>(values: readonly (V | null)[]): V | null => {
    const counts = new Map<V, number>();
    for (const value of values) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
    return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
  };
  const makers = all.map(({ artist }) => artist?.join('; ') ?? null);
  const compilation = all.filter((fields) => fields.compilation).length * 2 > all.length;
  const named = most(all.map((fields) => fields.albumArtist));
  // Nobody names an album artist: the artist of more than half the songs is it, else it is a compilation.
  const maker = most(makers);
  const leads = makers.filter((one) => one === maker).length * 2 > all.length;
  const various = compilation || (named === null && new Set(makers).size > 1 && !leads);
  const year = most(all.map(yearOf));
  return {
    album: most(all.map((fields) => fields.album)),
    albumArtist: named ?? (various ? null : maker),
    compilation: various ? true : null,
    date: most(all.filter((fields) => yearOf(fields) === year).map(({ date }) => date)),
  };
}

/** Players group by the year: two dates of one year bind as well as the same one twice. */
function binds(field: keyof Usual, own: Usual, usual: Usual): boolean {
  return field === 'date' ? yearOf(own) === yearOf(usual) : own[field] === usual[field];
}
