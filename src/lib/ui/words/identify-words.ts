import type {
  Doubt,
  Gathering,
  GatheringState,
  OrderName,
  Pair,
  PairEvidence,
  Proposal,
  ReferenceRelease,
  ScoreReason,
} from '$lib/core/identify';
import { clock, counted } from './amounts';

const REASON_NAMES: Readonly<Record<ScoreReason['code'], string>> = {
  lengths: 'Lengths',
  order: 'Order',
  name: 'Name',
  count: 'Count',
};
export const reasonName = (code: ScoreReason['code']): string => REASON_NAMES[code];

/** What a score was given for. */
export function reasonWords({ code, detail }: ScoreReason): string {
  const [first = 0, second = 0, third = 0] = detail;
  switch (code) {
    case 'lengths':
      return second === 0 ? 'no lengths' : `${first || 'none'} of ${second} within ${third} s`;
    case 'order':
      if (second === 0) return 'nothing matched';
      return first === 0 ? 'in order' : `${first} out of order`;
    case 'name':
      return first >= 90
        ? 'the same name'
        : first >= 70
          ? 'nearly the name'
          : first >= 50
            ? 'half the name'
            : 'a different name';
    case 'count':
      if (first === second) return `${first} and ${second}`;
      return first < second ? `${first} of ${second}` : `${second}, and ${first - second} extra`;
  }
}

const ORDERS: Readonly<Record<OrderName, string>> = {
  aired: 'as aired',
  disc: 'as pressed on disc',
  running: 'by running number',
};

/** A release in a line of its own: maker, year, and what tells it from others. */
export function releaseWords(release: ReferenceRelease, order: OrderName | null): string {
  const { maker, year, edition, season, type, entries } = release;
  const first = entries[0]?.number ?? 1;
  const last = entries.at(-1)?.number ?? entries.length;
  if (type === 'series') return `${ORDERS[order ?? 'aired']}, season ${season ?? 1}, ${first} to ${last}`;
  return [maker, edition, year].filter(Boolean).join(', ');
}

/** How a pair's evidence reads in a table. */
export function evidenceCell({ code, measure }: PairEvidence): string {
  switch (code) {
    case 'length': {
      const off = Math.abs(measure);
      if (off < 0.5) return 'the same';
      return `${off < 90 ? `${Math.round(off)} s` : clock(off)} ${measure > 0 ? 'longer' : 'shorter'}`;
    }
    case 'title':
      return measure >= 0.9 ? 'the same' : measure >= 0.62 ? 'nearly' : measure >= 0.5 ? 'in part' : 'other';
    case 'number':
      return measure === 0 ? 'fits' : measure >= 1000 ? 'other disc' : `${measure} apart`;
    case 'sound':
      return measure <= 0.2 ? 'the same' : measure <= 0.3 ? 'perhaps' : 'other';
  }
}

export const EVIDENCE_ROWS: Readonly<Record<PairEvidence['code'], string>> = {
  length: 'length',
  title: 'name',
  number: 'number',
  sound: 'sound',
};

const STATES: Readonly<Record<GatheringState, string>> = {
  waits: 'to identify',
  said: 'complete',
  matched: 'matched',
  left: 'left as it is',
};
export const stateName = (state: GatheringState): string => STATES[state];

const HELD_BY: Readonly<Record<Gathering['by'], string>> = {
  album: 'album tag',
  folder: 'folder',
  name: 'file name',
  hand: 'hand',
};

/** Why a gathering stands where it does. */
export function stateWords(gathering: Gathering): string {
  switch (gathering.state) {
    case 'said':
      return 'tags and names suffice';
    case 'matched':
      return gathering.waiting === 0 ? 'matched to a reference' : '';
    case 'left':
      return 'without a match';
    case 'waits':
      return gathering.waiting < gathering.items.length
        ? `${counted(gathering.waiting, 'file')} still open`
        : `grouped by ${HELD_BY[gathering.by]}`;
  }
}

/** A pair as a sentence, for those who do not see the chart. */
export function pairWords(
  pair: Pair | null,
  entry: { number: number; title: string } | null,
  leftOut: boolean,
): string {
  if (leftOut) return 'left out';
  if (!pair || !entry) return 'no entry';
  const firmness = pair.locked
    ? 'fixed by you'
    : { sure: 'sure', likely: 'likely', guess: 'a guess' }[pair.certainty];
  return `matched to ${entry.number} ${entry.title}, ${firmness}${pair.crosses ? ', crosses another' : ''}`;
}

/** Why a look-up failed and what to do. */
export function lookUpTrouble({ code, detail }: { code: string; detail: string }): string {
  switch (code) {
    case 'unreachable':
      return 'The reference cannot be reached. Nothing was changed. Try again when the connection is back.';
    case 'refused':
      return `The reference refused (${detail}). Nothing was changed. Try again later.`;
    case 'tooSlow':
      return `The reference took too long (${detail}). Nothing was changed. Try again.`;
    case 'tooLarge':
      return `The reference sent too much: ${detail}. Use more words.`;
    case 'malformed':
      return `The reference sent an answer that cannot be read: ${detail}. Try another way of looking up.`;
    default:
      return `The look-up failed: ${detail}. Nothing was changed.`;
  }
}

const lengthOf = (pair: Pair | undefined) => pair?.evidence.find(({ code }) => code === 'length');

/** How far a file's length is off its entry's, in a word. */
export function offWords(pair: Pair | undefined): string {
  const length = lengthOf(pair);
  if (!length) return '';
  const off = Math.round(length.measure);
  if (off === 0) return 'same';
  return `${off > 0 ? '+' : '−'}${Math.abs(off) < 60 ? `${Math.abs(off)} s` : clock(Math.abs(off))}`;
}

export const isFarOff = (pair: Pair | undefined): boolean => (lengthOf(pair)?.points ?? 0) < 0;

const EVIDENCE_NAMES: Readonly<Record<PairEvidence['code'], string>> = {
  sound: 'sound',
  title: 'title',
  length: 'length',
  number: 'number',
};

const DOUBTS: Readonly<Record<Doubt, string>> = {
  score: 'too little agrees',
  rival: 'another release fits as well',
  order: 'it would change the order',
  pairs: 'some files are not sure',
};

/** What a set is matched with, in one line. */
export function proposalWords({ parts, open }: Proposal): string {
  const [first] = parts;
  if (!first) return '';
  const rest = open.length > 0 ? `, ${open.length} left over` : '';
  if (parts.length > 1)
    return `${parts.map(({ candidate, pairs }) => `${pairs.length} of ${candidate.release.title}`).join(', ')}${rest}`;
  const { release, order } = first.candidate;
  const of = `${first.pairs.length} of ${counted(release.entries.length, 'entry', 'entries')}`;
  return `${release.title}, ${releaseWords(release, order)}: ${of}${rest}`;
}

/** What speaks for a match, the strongest first, or why it is not sure. */
export function proposalReason({ parts, doubt }: Proposal): string {
  if (doubt) return DOUBTS[doubt];
  const sums = new Map<PairEvidence['code'], number>();
  const pairs = parts.flatMap((part) => part.pairs);
  for (const { evidence } of pairs)
    for (const { code, points } of evidence) if (points > 0) sums.set(code, (sums.get(code) ?? 0) + points);
  const names = [...sums].sort((a, b) => b[1] - a[1]).map(([code]) => EVIDENCE_NAMES[code]);
  const moved = pairs.filter(({ crosses }) => crosses).length;
  return `by ${names.join(', ')}${moved > 0 ? `; ${moved} in another order` : ''}`;
}
