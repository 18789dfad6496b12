import { fieldText, type Edits, type Fields } from '../items';
import { folderOf, nameOf } from '../paths';
import type { Section } from '../rulebooks';
import type { Outgoing } from './outgoing';
import { outgoingFields, type PlanItem } from './plan-item';
import { shelfKey } from './rehearsal';
import type { Report } from './report';

/** Fields of an item that each part of a player's grouping is read from. */
const PART_FIELDS: Readonly<Record<Section['reading']['groupBy'][number], readonly (keyof Usual)[]>> = {
  album: ['album'],
  maker: ['albumArtist', 'compilation'],
  year: ['year'],
};

/** A release as its curator means it: one album name in one folder, the folders of its discs taken together. */
export function releaseKey(item: PlanItem): string {
  const folder = folderOf(item.path);
  const home = /^(cd|disc|disk|side)[ _-]*[0-9a-d]{1,2}$/i.test(nameOf(folder)) ? folderOf(folder) : folder;
  const album = (item.fields.album ?? '').trim().toLowerCase().replace(/\s+/g, ' ');
  return `${home}\n${album}`;
}

/** Reports every release that the player's grouping would tear apart, with the edits that join it. */
export function reportSplits(outgoing: readonly Outgoing[], report: Report): void {
  const releases = new Map<string, Outgoing[]>();
  for (const out of outgoing) {
    if (!out.section.reading.groupBy.includes('album')) continue;
    const key = `${out.section.kind}\n${releaseKey(out.item)}`;
    const members = releases.get(key);
    if (members) members.push(out);
    else releases.set(key, [out]);
  }
  for (const members of releases.values()) if (members.length > 1) reportRelease(members, report);
}

function reportRelease(members: readonly Outgoing[], report: Report): void {
  const groups = new Map<string, Outgoing[]>();
  for (const member of members) {
    const key = shelfKey(outgoingFields(member.item), member.section);
    const group = groups.get(key);
    if (group) group.push(member);
    else groups.set(key, [member]);
  }
  if (groups.size < 2) return;
  const usual = usualOf(members);
  const section = (members[0] as Outgoing).section;
  const wantedKey = shelfKey({ ...outgoingFields((members[0] as Outgoing).item), ...usual }, section);
  const fields = section.reading.groupBy.flatMap((part) => PART_FIELDS[part]);
  const apart = members
    .filter((member) => shelfKey(outgoingFields(member.item), section) !== wantedKey)
    .map(({ item }) => {
      const own = outgoingFields(item);
      const differing = fields.filter((field) => own[field] !== usual[field]);
      return {
        item,
        edits: Object.fromEntries(differing.map((field) => [field, usual[field]])) as Edits,
        fields: differing,
        found: differing.map((field) => fieldText(own[field]) || 'empty'),
      };
    });
  if (apart.length === 0) return;
  const told = fields
    .map((field) => usual[field])
    .filter((value) => typeof value === 'string' || typeof value === 'number');
  report.splitAlbum(String(usual.album), groups.size, apart, told.map(String));
}

type Usual = Pick<Fields, 'album' | 'albumArtist' | 'compilation' | 'year'>;

/** The values that bind a release: those most of its items have; an empty value never wins over a filled one. */
function usualOf(members: readonly Outgoing[]): Usual {
  const most = <V>(values: readonly (V | null)[]): V | null => {
    const counts = new Map<V, number>();
    for (const value of values) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
    return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
  };
  const all = members.map(({ item }) => outgoingFields(item));
  const artists = new Set(all.map((fields) => fields.artist));
  const compilation = all.filter((fields) => fields.compilation).length * 2 > all.length;
  const named = most(all.map((fields) => fields.albumArtist));
  // Nobody names an album artist: the artist of more than half the songs is it, else it is a compilation.
  const artist = most(all.map((fields) => fields.artist));
  const leads = all.filter((fields) => fields.artist === artist).length * 2 > all.length;
  const various = compilation || (named === null && artists.size > 1 && !leads);
  return {
    album: most(all.map((fields) => fields.album)),
    albumArtist: named ?? (various ? null : artist),
    compilation: various ? true : null,
    year: most(all.map((fields) => fields.year)),
  };
}
