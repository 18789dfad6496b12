import {
  likeness,
  type ReferenceEntry,
  type ReferenceOrder,
  type ReferenceRelease,
  type ReleaseType,
} from '../identify';
import type { ListedEntry } from './listed';
import { readTrackList } from './read-list';

/** A track or episode list of the curator's own, for what no service knows. It is kept as the text that was typed. */
export interface OwnReference {
  readonly id: string;
  readonly type: ReleaseType;
  readonly title: string;
  readonly maker: string | null;
  readonly year: number | null;
  readonly text: string;
}

/** What the items call the source of such a match. */
const OWN_SOURCE = 'a list of your own';

const releases = new WeakMap<OwnReference, ReferenceRelease>();

/** A list of one's own as a release. Entries without a number are counted, anew for each disc or season. */
export function releaseOfOwn(own: OwnReference): ReferenceRelease {
  let release = releases.get(own);
  if (!release) releases.set(own, (release = makeRelease(own)));
  return release;
}

function makeRelease({ id, type, title, maker, year, text }: OwnReference): ReferenceRelease {
  const { entries: listed } = readTrackList(text);
  const counts = new Map<number | null, number>();
  const entries = listed.map((one, index): ReferenceEntry => {
    const disc = one.disc ?? null;
    const place = one.number ?? (counts.get(disc) ?? 0) + 1;
    counts.set(disc, place);
    return {
      id: `${id}-${index + 1}`,
      number: place,
      disc,
      title: one.title ?? '',
      artist: one.artist ?? null,
      lengthSeconds: one.lengthSeconds ?? null,
      date: one.date ?? null,
      description: one.description ?? null,
      hasLyrics: false,
    };
  });
  return {
    id,
    type,
    source: OWN_SOURCE,
    title,
    maker,
    narrator: null,
    edition: null,
    year,
    genre: null,
    season: null,
    description: null,
    compilation: false,
    entries,
    orders: ordersOf(listed, entries),
    pictureSizes: [],
    isOwn: true,
  };
}

/** The other orders of a list that has columns for them: only entries with a number there are in it. */
function ordersOf(
  listed: readonly ListedEntry[],
  entries: readonly ReferenceEntry[],
): readonly ReferenceOrder[] {
  const columns = [
    ['aired', 'aired'],
    ['disc', 'pressed'],
    ['running', 'running'],
  ] as const;
  return columns.flatMap(([name, column]) => {
    const own = listed.flatMap((one, index) => {
      const place = one[column];
      const entry = entries[index];
      return place === undefined || !entry ? [] : [{ id: entry.id, number: place, disc: entry.disc ?? 0 }];
    });
    if (own.length === 0) return [];
    const sorted = own.sort((a, b) => (name === 'running' ? 0 : a.disc - b.disc) || a.number - b.number);
    return [{ name, entries: sorted.map(({ id, number: place }) => ({ id, number: place })) }];
  });
}

/** Lists of one's own that a set is compared with at the most. */
const MOST_COMPARED = 20;

/** The curator's own lists that files could belong to, the likeliest by name and number of entries first. */
export function ownReferencesFor(
  own: readonly OwnReference[],
  type: ReleaseType,
  words: string,
  files: number,
): readonly ReferenceRelease[] {
  const scored = own
    .filter((one) => one.type === type)
    .map((one) => {
      const release = releaseOfOwn(one);
      const count = Math.max(files, release.entries.length, 1);
      const alike = likeness(words, [one.maker, one.title].filter(Boolean).join(' '));
      return { release, score: alike + Math.min(files, release.entries.length) / count };
    });
  return scored
    .sort((a, b) => b.score - a.score)
    .slice(0, MOST_COMPARED)
    .map(({ release }) => release);
}

/** Entries as a text that reads as the same entries: a table with the columns that are used. */
export function textOfEntries(entries: readonly ListedEntry[]): string {
  const columns = (['number', 'disc', 'title', 'artist', 'lengthSeconds', 'date'] as const).filter(
    (column) =>
      column === 'number' || column === 'title' || entries.some((entry) => entry[column] !== undefined),
  );
  const cell = (value: string | number | undefined) => String(value ?? '').replace(/[\t\r\n]+/g, ' ');
  const heads = columns.map((column) => (column === 'lengthSeconds' ? 'length' : column));
  const rows = entries.map((entry) =>
    columns
      .map((column) => (column === 'lengthSeconds' ? clockOf(entry.lengthSeconds) : cell(entry[column])))
      .join('\t'),
  );
  return [heads.join('\t'), ...rows].join('\n');
}

function clockOf(seconds: number | undefined): string {
  if (seconds === undefined) return '';
  const whole = Math.round(seconds);
  const [hours, minutes] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60];
  const two = (value: number) => String(value).padStart(2, '0');
  return hours > 0 ? `${hours}:${two(minutes)}:${two(whole % 60)}` : `${minutes}:${two(whole % 60)}`;
}
