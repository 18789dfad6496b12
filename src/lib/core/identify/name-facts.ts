import { stemOf } from '../paths';

/** The position and title in a file's own name. */
export interface NameFacts {
  /** Number at the front, or after a bare word such as `track`. Zero is valid. */
  readonly number: number | null;
  /** Disc or season. */
  readonly disc: number | null;
  /** The rest without numbers; null if nothing meaningful remains. */
  readonly title: string | null;
}

const EPISODE = /\bs(\d{1,2})[ ._-]?e(\d{1,3})\b|\b(\d{1,2})x(\d{2,3})\b/i;
const DISC_AND_TRACK = /^(?:cd|disc|disk)?\s?(\d)[ ._-](\d{2})(?=\D|$)/i;
const LEADING = /^[[(]?(\d{1,3})(?!\d)[\])]?\s*[-.)_ ]*/;
/** Words that are used in place of a missing title. */
const BARE =
  /^(?:track|title|titel|audio|audiotrack|video|song|recording|chapter|part|episode|ep|file|clip|side|no|nr)?$/;
const BARE_AND_NUMBER =
  /^(?:track|title|audio|audiotrack|video|song|recording|chapter|part|episode|ep|file|clip|no|nr)[ ._-]*0*(\d{1,3})\b[ ._-]*/i;

/** Reads counters and a title out of a file's name, folders left aside. */
export function readName(path: string): NameFacts {
  const stem = stemOf(path).replace(/_/g, ' ').trim();
  const episode = EPISODE.exec(stem);
  if (episode) {
    const rest = stem.slice(episode.index + episode[0].length).replace(/^[ .-]+/, '');
    return {
      disc: Number(episode[1] ?? episode[3]),
      number: Number(episode[2] ?? episode[4]),
      title: naming(rest),
    };
  }
  const bare = BARE_AND_NUMBER.exec(stem);
  if (bare) return { disc: null, number: Number(bare[1]), title: naming(stem.slice(bare[0].length)) };
  const both = DISC_AND_TRACK.exec(stem);
  if (both)
    return {
      disc: Number(both[1]),
      number: Number(both[2]),
      title: naming(stem.slice(both[0].length).replace(/^[ .-]+/, '')),
    };
  const leading = LEADING.exec(stem);
  if (leading)
    return { disc: null, number: Number(leading[1]), title: naming(stem.slice(leading[0].length)) };
  const trailing = / (\d{1,3})$/.exec(stem);
  return { disc: null, number: trailing ? Number(trailing[1]) : null, title: naming(stem) };
}

function naming(rest: string): string | null {
  const trimmed = rest
    .replace(/[([]\d+[)\]]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const word = trimmed
    .toLowerCase()
    .replace(/[\d\W_]+/g, ' ')
    .trim();
  return BARE.test(word) || word.length < 2 ? null : trimmed;
}

const counting = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Orders names as people count: 2 before 10, letter case and accents aside. */
export const compareNames = (a: string, b: string): number => counting.compare(a, b);
