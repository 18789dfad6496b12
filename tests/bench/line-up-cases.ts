import { lineUp, type LineFile, type ReferenceEntry } from '../../src/lib/core/identify';
import { random } from '../../src/lib/server/sound/tunes.js';

/** A made case: files, entries, and which belong together. */
export interface LineUpCase {
  readonly kind: CaseKind;
  readonly files: readonly LineFile[];
  readonly entries: readonly ReferenceEntry[];
  /** File to entry; a file that belongs to none is absent. */
  readonly truth: ReadonlyMap<string, string>;
}

export const CASE_KINDS = [
  'cut',
  're-encoded',
  'shuffled',
  'wrongly numbered',
  'two releases',
  'disc order',
  'from 00',
] as const;
export type CaseKind = (typeof CASE_KINDS)[number];

const WORDS =
  'salt ledger kelp harbour ballast gull lantern fog anchor tide rope herring skerry wreck beacon oar drift keel sound storm quay hymn ferry bell wick oil tar mast shoal reef ebb flood clerk widow keeper northern last first old broken quiet drowned paper iron'.split(
    ' ',
  );

class Maker {
  constructor(private readonly next: () => number) {}

  whole(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1));
  }

  chance(share: number): boolean {
    return this.next() < share;
  }

  title(): string {
    return Array.from({ length: this.whole(1, 4) }, () => WORDS[this.whole(0, WORDS.length - 1)]).join(' ');
  }

  /** Songs differ in length more than episodes, which are cut to a slot. */
  entries(prefix: string, count: number, slot: number | null): ReferenceEntry[] {
    return Array.from({ length: count }, (_, index) => ({
      id: `${prefix}${index + 1}`,
      number: index + 1,
      disc: null,
      title: this.title(),
      artist: null,
      lengthSeconds: slot === null ? this.whole(90, 420) : slot + this.whole(-70, 70),
      date: null,
      description: null,
      hasLyrics: false,
    }));
  }

  shuffle<T>(list: readonly T[]): T[] {
    const out = [...list];
    for (let at = out.length - 1; at > 0; at--) {
      const other = this.whole(0, at);
      [out[at], out[other]] = [out[other] as T, out[at] as T];
    }
    return out;
  }

  /** A title as files carry it: a letter wrong now and then, or none at all. */
  named(title: string, share: number): string | null {
    if (!this.chance(share)) return null;
    if (!this.chance(0.25)) return title;
    const at = this.whole(0, title.length - 1);
    return title.slice(0, at) + (this.chance(0.5) ? 'x' : '') + title.slice(at + 1);
  }
}

/** One case of its kind; the same seed gives the same case. */
export function makeCase(kind: CaseKind, seed: number): LineUpCase {
  const make = new Maker(random(seed));
  const series = kind === 'disc order' || (kind === 'from 00' && make.chance(0.5));
  const entries = make.entries('a', make.whole(5, 24), series ? make.whole(1300, 3200) : null);
  const others = kind === 'two releases' ? make.entries('b', make.whole(4, 12), null) : [];
  const titled = kind === 're-encoded' ? 0.15 : kind === 'cut' ? 0.8 : series ? 0.1 : make.whole(0, 10) / 10;
  const numbered = kind === 'shuffled' ? 0 : 1;
  const all = [...entries, ...others];
  const truth = new Map<string, string>();
  const numbers = numbersFor(kind, entries, make);
  const source = kind === 'disc order' ? entries : kind === 'shuffled' ? make.shuffle(all) : all;
  const files = source.map((entry, index): LineFile => {
    const id = `f${index}`;
    const left = kind === 'cut' && make.chance(0.35) ? make.whole(20, 80) / 100 : 1;
    truth.set(id, entry.id);
    const title = make.named(entry.title, titled);
    return {
      id,
      stem: title ?? `title_${index}`,
      title,
      number: make.chance(numbered) ? (numbers.get(entry.id) ?? entry.number) : null,
      disc: null,
      lengthSeconds: (entry.lengthSeconds as number) * left + make.whole(-15, 15) / 10,
      heard: null,
    };
  });
  // Some files are of nothing that is known, and some entries have no file.
  const missing =
    make.chance(0.3) && files.length > 5 ? files.splice(make.whole(0, files.length - 1), 1) : [];
  for (const { id } of missing) truth.delete(id);
  return { kind, files, entries: all, truth };
}

function numbersFor(kind: CaseKind, entries: readonly ReferenceEntry[], make: Maker): Map<string, number> {
  const own = new Map(entries.map(({ id, number }) => [id, number]));
  if (kind === 'from 00') for (const [id, number] of own) own.set(id, number - 1);
  if (kind === 'wrongly numbered') {
    const shuffled = make.shuffle([...own.values()]);
    [...own.keys()].forEach((id, index) => own.set(id, shuffled[index] as number));
  }
  if (kind === 'disc order') {
    // A few neighbours stand otherwise on the disc.
    const ids = [...own.keys()];
    for (let swap = 0; swap < 1 + ids.length / 6; swap++) {
      const at = make.whole(0, ids.length - 2);
      const [a, b] = [ids[at] as string, ids[at + 1] as string];
      const [first, second] = [own.get(a) as number, own.get(b) as number];
      own.set(a, second);
      own.set(b, first);
    }
  }
  return own;
}

export interface CaseScore {
  sure: number;
  sureRight: number;
  found: number;
  pairs: number;
}

/** Holds a line-up of a case against its truth. */
export function scoreCase({ files, entries, truth }: LineUpCase): CaseScore {
  const { pairs } = lineUp(files, entries);
  const right = pairs.filter(({ file, entry }) => truth.get(file) === entry);
  return {
    sure: pairs.filter(({ certainty }) => certainty === 'sure').length,
    sureRight: right.filter(({ certainty }) => certainty === 'sure').length,
    found: right.length,
    pairs: truth.size,
  };
}

/** The table over all kinds: `total` cases with seeds from 1 on. */
export function scoreAll(total: number): Map<CaseKind | 'all', CaseScore> {
  const table = new Map<CaseKind | 'all', CaseScore>();
  const add = (key: CaseKind | 'all', score: CaseScore) => {
    const sum = table.get(key) ?? { sure: 0, sureRight: 0, found: 0, pairs: 0 };
    for (const part of Object.keys(sum) as (keyof CaseScore)[]) sum[part] += score[part];
    table.set(key, sum);
  };
  for (let index = 0; index < total; index++) {
    const kind = CASE_KINDS[index % CASE_KINDS.length] as CaseKind;
    const score = scoreCase(makeCase(kind, index + 1));
    add(kind, score);
    add('all', score);
  }
  return table;
}
