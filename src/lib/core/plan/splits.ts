import { fieldText, yearOf, type Edits, type Fields } from '../items';
import type { GroupPart, Place } from '../rulebooks';
import type { PlanMemory } from './memory';
import type { Outgoing } from './item-plan';
import { groupKey } from './showing';
import type { Report } from './report';

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

/** Reports every release that the player's grouping would tear apart, with the edits that join it. */
export function reportSplits(outgoing: readonly Outgoing[], memory: PlanMemory, report: Report): void {
  const releases = new Map<string, Outgoing[]>();
  for (const out of outgoing) {
    if (!byAlbum(out.place)) continue;
    const key = memory.of(out.item).release;
    const members = releases.get(key);
    if (members) members.push(out);
    else releases.set(key, [out]);
  }
  for (const members of releases.values()) if (members.length > 1) reportRelease(members, report);
}

const keyOf = (fields: Fields, { kind, place, path }: Outgoing) => groupKey(kind, fields, place, path);
const byAlbum = ({ groups }: Place) => groups.some((level) => level.includes('album'));

function reportRelease(members: readonly Outgoing[], report: Report): void {
  const fieldsOut = ({ file }: Outgoing) => file.fields as Fields;
  const groups = new Map<string, Outgoing[]>();
  for (const member of members) {
    const key = member.group;
    const group = groups.get(key);
    if (group) group.push(member);
    else groups.set(key, [member]);
  }
  if (groups.size < 2) return;
  const usual = usualOf(members.map(fieldsOut));
  const [first] = members as readonly [Outgoing, ...Outgoing[]];
  const wantedKey = keyOf({ ...fieldsOut(first), ...usual }, first);
  const fields = first.place.groups.flat().flatMap((part) => PART_FIELDS[part]);
  const apart = members
    .filter((member) => member.group !== wantedKey)
    .map((member) => {
      const { item } = member;
      const own = fieldsOut(member);
      const differing = fields.filter((field) => !binds(field, own, usual));
      const mendable = item.writable ? differing.filter((field) => !binds(field, item.fields, usual)) : [];
      return {
        item,
        edits: Object.fromEntries(mendable.map((field) => [field, usual[field]])) as Edits,
        fields: differing,
        found: differing.map((field) => fieldText(own[field]) || 'empty'),
      };
    });
  if (apart.length === 0) return;
  const told = fields
    .map((field) => usual[field])
    .filter((value) => value !== null && typeof value !== 'boolean')
    .map(fieldText);
  report.splitAlbum(String(usual.album), groups.size, apart, told);
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
