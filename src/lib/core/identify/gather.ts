import {
  discOf,
  fieldsOf,
  homeOf,
  isCatchAll,
  kindOf,
  releaseKey,
  valueKey,
  type Fields,
  type Item,
  type ItemId,
} from '../items';
import { folderOf, nameOf, stemOf } from '../paths';
import type { Kind } from '../kinds';
import { compareNames, readName } from './name-facts';
import type { LineFile } from './evidence';
import type { ReleaseType } from './reference';

/** Kinds that a reference knows, with its names for them. */
export const TYPE_OF_KIND: Readonly<Partial<Record<Kind, ReleaseType>>> = {
  song: 'album',
  audiobook: 'audiobook',
  podcast: 'podcast',
  episode: 'series',
  film: 'film',
};

/** What gathering needs of an item, small enough to send to a worker by the hundred thousand. */
export interface GatherItem {
  readonly id: ItemId;
  readonly source: string;
  readonly path: string;
  readonly kind: Kind | null;
  readonly fields: Fields;
  readonly durationSeconds: number | null;
  readonly identity: 'matched' | 'left' | null;
  readonly gathering: string | null;
}

export const toGatherItem = (item: Item): GatherItem => gatherItemWith(item, fieldsOf(item));

/** The same if the item's fields are at hand. */
export function gatherItemWith(item: Item, fields: Fields): GatherItem {
  return {
    id: item.id,
    source: item.source,
    path: item.path,
    kind: kindOf(item),
    fields,
    durationSeconds: item.facts.durationSeconds,
    identity: item.identity?.type ?? null,
    gathering: item.gathering,
  };
}

/** The state of a gathering. */
export type GatheringState =
  /** Every item is matched to a reference. */
  | 'matched'
  /** Names and tags say everything a player asks for. */
  | 'said'
  /** The curator left it as it is. */
  | 'left'
  | 'waits';

/** Files that are likely one release, in the order of their names. */
export interface Gathering {
  /** Stays the same while its items are the same release. */
  readonly key: string;
  readonly label: string;
  readonly type: ReleaseType;
  readonly items: readonly ItemId[];
  readonly state: GatheringState;
  /** Items that are neither matched nor left, while it waits. */
  readonly waiting: number;
  /** What held the files together: their album tag, their folder, their name's beginning, or the curator. */
  readonly by: 'album' | 'folder' | 'name' | 'hand';
  /** Words to look it up by. */
  readonly words: string;
  /** A file as long as all others together, such as a whole disc in one. */
  readonly whole: ItemId | null;
}

/**
 * Gathers items into likely releases by path, tags and lengths. Linear in the items, but for sorting each
 * gathering by name.
 */
export function gather(items: readonly GatherItem[]): readonly Gathering[] {
  const groups = new Map<string, { type: ReleaseType; by: Gathering['by']; items: GatherItem[] }>();
  for (const item of items) {
    const type = TYPE_OF_KIND[item.kind ?? 'ambience'];
    if (!type) continue;
    const { key, by } = keyOf(item, type);
    const group = groups.get(key);
    if (group) group.items.push(item);
    else groups.set(key, { type, by, items: [item] });
  }
  return [...groups].map(([key, group]) => toGathering(key, group.type, group.by, group.items));
}

function keyOf(item: GatherItem, type: ReleaseType): { key: string; by: Gathering['by'] } {
  if (item.gathering !== null) return { key: `${type}\n${item.gathering}`, by: 'hand' };
  const home = homeOf(item.path);
  const place = `${type}\n${item.source}\n`;
  // A film is a release of its own, whatever is beside it.
  if (type === 'film') return { key: `${place}${item.path}`, by: 'name' };
  const release = releaseKey(item.path, item.fields);
  if (release !== null) return { key: `${place}${release}`, by: 'album' };
  if (!isCatchAll(home)) return { key: `${place}${home}`, by: 'folder' };
  return { key: `${place}${home}\n~${beginning(item.path)}`, by: 'name' };
}

/** The beginning of a numbered name: `track` of `track_07`; the whole name if it has no number. */
function beginning(path: string): string {
  const stem = stemOf(path).toLowerCase();
  return /^[a-z ]*[a-z]/.exec(stem.replace(/_/g, ' '))?.[0].replace(/ [a-z]$/, '') ?? '#';
}

function toGathering(key: string, type: ReleaseType, by: Gathering['by'], found: GatherItem[]): Gathering {
  const items = found
    .map((item) => ({ item, place: placeOf(item) }))
    .sort((a, b) => a.place.disc - b.place.disc || compareNames(a.place.path, b.place.path))
    .map(({ item }) => item);
  const waiting = items.filter(({ identity }) => identity === null).length;
  return {
    key,
    type,
    by,
    items: items.map(({ id }) => id),
    waiting,
    state: stateOf(items, type, waiting),
    label: labelOf(items, by),
    words: wordsOf(items, type),
    whole: wholeOf(items),
  };
}

const placeOf = (item: GatherItem) => ({ disc: discOf(item.path) ?? 0, path: item.path });

function stateOf(items: readonly GatherItem[], type: ReleaseType, waiting: number): GatheringState {
  if (waiting === 0) return items.some(({ identity }) => identity === 'matched') ? 'matched' : 'left';
  return items.some(({ identity }) => identity !== null) ? 'waits' : saysAll(items, type) ? 'said' : 'waits';
}

/**
 * Whether names and tags suffice to place a release: the same album, artist and year on every item, and a title and
 * number of its own on each.
 */
function saysAll(items: readonly GatherItem[], type: ReleaseType): boolean {
  const fields = items.map((item) => item.fields);
  const [first] = fields;
  if (!first) return false;
  if (type === 'film') return first.title !== null && first.date !== null;
  if (type === 'series')
    return (
      fields.every(({ show, season, episode, title }) => show && season && episode && title) &&
      fields.every(({ show }) => show === first.show)
    );
  const maker = ({ albumArtist, compilation, artist }: typeof first) =>
    compilation ? 'various' : (albumArtist ?? (type === 'album' ? null : valueKey(artist)));
  const numbers = new Set(fields.map(({ disc, track }) => `${disc ?? 1}-${track}`));
  return (
    fields.every(
      (own) =>
        own.title &&
        own.artist &&
        own.album === first.album &&
        own.date !== null &&
        own.date === first.date &&
        maker(own) !== null &&
        maker(own) === maker(first) &&
        (own.track !== null || items.length === 1),
    ) &&
    first.album !== null &&
    numbers.size === items.length
  );
}

function labelOf(items: readonly GatherItem[], by: Gathering['by']): string {
  const [first] = items;
  if (!first) return '';
  if (by === 'hand') return first.gathering as string;
  if (by === 'album') return first.fields.album ?? '';
  if (by === 'folder') return nameOf(homeOf(first.path)) || 'no folder';
  return items.length === 1 ? stemOf(first.path) : `${stemOf(first.path)} and ${items.length - 1} more`;
}

function wordsOf(items: readonly GatherItem[], type: ReleaseType): string {
  const usual = (values: readonly (string | null)[]): string | null => {
    const counts = new Map<string, number>();
    for (const value of values) if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
    const best = [...counts].sort((a, b) => b[1] - a[1])[0];
    return best && best[1] * 2 > values.length ? best[0] : null;
  };
  const fields = items.map((item) => item.fields);
  const album = usual(fields.map((own) => (type === 'series' ? (own.show ?? own.album) : own.album)));
  const maker = usual(fields.map((own) => own.albumArtist ?? (own.artist && own.artist.join(' '))));
  if (album !== null) return [maker, album].filter(Boolean).join(' ');
  const [first] = items;
  const folder = first ? nameOf(homeOf(first.path)) : '';
  if (type === 'film' && first) return readName(first.path).title ?? stemOf(first.path);
  if (isCatchAll(folder)) return items.length === 1 && first ? (readName(first.path).title ?? '') : '';
  const above = first ? nameOf(folderOf(homeOf(first.path))) : '';
  const known = /^(music|audio|videos?|series|books?|audiobooks?|films?|podcasts?|albums?|discs?)$/i.test(
    above,
  );
  const words = [known || isCatchAll(above) ? '' : above, folder].join(' ');
  // A disc's label is written with _ and carries marks of season and disc.
  return words
    .replace(/_/g, ' ')
    .replace(/\b[SD]\d{1,2}\b/gi, ' ')
    .replace(/[[(].*?[\])]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

/** A file whose length is that of at least three others together, within one part in fifty. */
function wholeOf(items: readonly GatherItem[]): ItemId | null {
  if (items.length < 4) return null;
  const lengths = items.map(({ durationSeconds }) => durationSeconds ?? 0);
  const longest = Math.max(...lengths);
  const rest = lengths.reduce((sum, length) => sum + length, 0) - longest;
  // Extras on a disc are no part of its whole: they may lack a fifth of the rest.
  return longest <= rest * 1.02 && longest >= rest * 0.8
    ? (items[lengths.indexOf(longest)]?.id ?? null)
    : null;
}

/** An item as a line-up sees it: numbers and titles from tags first, else from its name. */
export function toLineFile(item: Item, heard: LineFile['heard'] = null): LineFile {
  const fields = fieldsOf(item);
  const name = readName(item.path);
  const title =
    fields.title !== null && readName(`${fields.title}.x`).title !== null ? fields.title : name.title;
  return {
    id: item.id,
    stem: stemOf(item.path),
    title,
    number: fields.episode ?? fields.track ?? name.number,
    disc: fields.season ?? fields.disc ?? name.disc ?? discOf(item.path),
    lengthSeconds: item.facts.durationSeconds,
    heard,
  };
}
