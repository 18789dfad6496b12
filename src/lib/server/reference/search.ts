import MiniSearch from 'minisearch';
import type { LookUp, ReferenceRelease } from '$lib/core/identify';
import { parseFingerprint, soundDistance, type Fingerprint } from '$lib/core/sound';
import fingerprints from './fingerprints.json';
import { HOUSEHOLD } from './household';
import { makeReleases } from './made-up';

/** Everything the reference knows. It is asked by what a query says, and knows nothing else of the files. */
const releases: readonly ReferenceRelease[] = [...HOUSEHOLD, ...makeReleases()];
const byId = new Map(releases.map((release) => [release.id, release]));
const ownerOf = new Map(
  releases.flatMap((release) => release.entries.map(({ id }) => [id, release] as const)),
);
const prints = new Map<string, Fingerprint>(
  Object.entries(fingerprints).map(([entry, text]) => [entry, parseFingerprint(text)]),
);

const index = new MiniSearch<ReferenceRelease>({
  fields: ['title', 'maker', 'edition', 'titles'],
  extractField: (release, field) =>
    field === 'titles'
      ? release.entries.map(({ title }) => title).join(' ')
      : String(release[field as keyof ReferenceRelease] ?? ''),
  searchOptions: { boost: { title: 3, maker: 2 }, prefix: true, fuzzy: 0.15 },
});
index.addAll(releases);

/** Releases that one answer holds at the most. */
const MOST = 12;
/** Seconds within which a length counts as this entry's. */
const WITHIN = 3;

export interface ReferenceAnswer {
  readonly releases: readonly ReferenceRelease[];
  /** For each fingerprint asked with: entries that sound alike, with the share of differing bits. */
  readonly heard: readonly Readonly<Record<string, number>>[];
}

/** Releases of the asked type, the likeliest first. */
export function searchReference({
  type,
  words,
  lengths,
  fingerprints: asked,
  number,
}: LookUp): ReferenceAnswer {
  const scores = new Map<string, number>();
  const add = (id: string, score: number) => scores.set(id, (scores.get(id) ?? 0) + score);
  if (number) for (const id of byId.has(number) ? [number] : []) add(id, 1000);
  if (words)
    for (const { id, score } of index
      .search(words, { filter: ({ id }) => byId.get(id)?.type === type })
      .slice(0, 30))
      add(id as string, score);
  if (lengths && lengths.length > 0)
    for (const release of releases) {
      if (release.type !== type) continue;
      const share = sharedLengths(lengths, release);
      if (share > 0.5) add(release.id, 40 * share);
    }
  const heard = (asked ?? []).map((text) => hear(text));
  for (const entries of heard)
    for (const [entry, distance] of Object.entries(entries)) {
      const owner = ownerOf.get(entry);
      if (owner && distance < 0.3) add(owner.id, 60 * (1 - distance));
    }
  const found = [...scores]
    .sort((a, b) => b[1] - a[1])
    .flatMap(([id]) => byId.get(id) ?? [])
    .filter((release) => release.type === type)
    .slice(0, MOST);
  return { releases: found, heard };
}

export const findRelease = (id: string): ReferenceRelease | null => byId.get(id) ?? null;
export const findEntryRelease = (entry: string): ReferenceRelease | null => ownerOf.get(entry) ?? null;

/** Share of the lengths that the release has, each entry counted once. */
function sharedLengths(lengths: readonly number[], { entries }: ReferenceRelease): number {
  const left = entries.flatMap(({ lengthSeconds }) => lengthSeconds ?? []).sort((a, b) => a - b);
  const found = [...lengths]
    .sort((a, b) => a - b)
    .filter((length) => {
      const at = left.findIndex((own) => Math.abs(own - length) <= WITHIN);
      if (at >= 0) left.splice(at, 1);
      return at >= 0;
    }).length;
  return found / Math.max(lengths.length, entries.length);
}

function hear(text: string): Readonly<Record<string, number>> {
  const print = parseFingerprint(text);
  const found: Record<string, number> = {};
  for (const [entry, own] of prints) {
    const distance = soundDistance(print, own);
    if (distance !== null && distance < 0.3) found[entry] = Math.round(distance * 1000) / 1000;
  }
  return found;
}
