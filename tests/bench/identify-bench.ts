import {
  gather,
  lineUp,
  rankCandidates,
  toGatherItem,
  type GatherItem,
  type LineFile,
  type ReferenceRelease,
} from '../../src/lib/core/identify';
import { makeItem } from '../helpers/items';
import { random } from '../../src/lib/server/sound/tunes.js';
import { CASE_KINDS, scoreAll } from './line-up-cases';

const ITEMS = 100_000;

function items(count: number): GatherItem[] {
  return Array.from({ length: count }, (_, index) => {
    const album = Math.floor(index / 12);
    return toGatherItem(
      makeItem(
        `i${index}`,
        { album: index % 3 === 0 ? null : `Album ${album}`, track: (index % 12) + 1 },
        {
          path: `Music/Artist ${album % 900}/Album ${album}/${index % 12}.mp3`,
        },
      ),
    );
  });
}

const timed = (act: () => unknown): number => {
  const best = Array.from({ length: 3 }, () => {
    const start = performance.now();
    act();
    return performance.now() - start;
  });
  return Math.min(...best);
};

/** Gathering of all items, of half of them, and `JSON.parse` of the same, in milliseconds. */
export function benchGather(): { allMs: number; halfMs: number; parseMs: number } {
  const all = items(ITEMS);
  const half = all.slice(0, ITEMS / 2);
  const json = JSON.stringify(all);
  return {
    halfMs: timed(() => gather(half)),
    allMs: timed(() => gather(all)),
    parseMs: timed(() => JSON.parse(json)),
  };
}

/** Candidates and pairing of an audiobook of 100 tracks against the twelve releases of one answer, in milliseconds. */
export function benchLongBook(): { rankMs: number; lineUpMs: number } {
  const next = random(5);
  const release = (id: string): ReferenceRelease => ({
    id,
    type: 'audiobook',
    source: 'bench',
    title: `Book ${id}`,
    maker: null,
    narrator: null,
    edition: null,
    year: null,
    genre: null,
    season: null,
    description: null,
    compilation: false,
    orders: [],
    pictureSizes: [],
    entries: Array.from({ length: 100 }, (_, index) => ({
      id: `${id}-${index}`,
      number: index + 1,
      disc: null,
      title: `Chapter ${index + 1}`,
      artist: null,
      lengthSeconds: 600 + Math.floor(next() * 900),
      date: null,
      description: null,
      hasLyrics: false,
    })),
  });
  const releases = Array.from({ length: 12 }, (_, index) => release(`r${index}`));
  const entries = releases[0]?.entries ?? [];
  const files = entries.map((entry, index): LineFile => ({
    id: `f${index}`,
    stem: String(index).padStart(2, '0'),
    title: null,
    number: index,
    disc: null,
    lengthSeconds: (entry.lengthSeconds ?? 0) + next(),
    heard: null,
  }));
  return {
    rankMs: timed(() => rankCandidates(files, 'Book r0', releases)),
    lineUpMs: timed(() => lineUp(files, entries)),
  };
}

/** The made cases' table, a row for each kind and one for all. */
export function benchLineUps(total: number) {
  const table = scoreAll(total);
  return [...CASE_KINDS, 'all' as const].map((kind) => ({ kind, ...table.get(kind) }));
}
