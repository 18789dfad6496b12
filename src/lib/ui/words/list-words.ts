import { FIELDS } from '../../core/items';
import type { ListDigest, ListLimit, ListOrderKey, RuleProblem, WhyListed } from '../../core/lists';
import type { FoundBy } from '../../core/list-files';
import type { LeftOutWhy, ListState } from '../../core/plan';
import { bytes, clock, counted } from './amounts';
import { queryProblemWords } from './query-words';

/** What came of adding items to a list. */
export function addedWords({ added, known }: { added: number; known: number }, list: string): string {
  if (added === 0) return `Nothing added: ${list} already has ${known === 1 ? 'it' : `all ${known}`}`;
  const already = known === 0 ? '' : `; ${known === 1 ? '1 was' : `${known} were`} already there`;
  return `${counted(added, 'item')} added to ${list}${already}`;
}

/** A list's type, for its line in the rail. */
export const LIST_TYPES = { hand: 'By hand', rule: 'By rule', mirror: 'From folders' } as const;

export function amountWords({ count, seconds, bytes: size }: ListDigest): string {
  return count === 0 ? 'empty' : `${count.toLocaleString('en')} · ${clock(seconds)} · ${bytes(size)}`;
}

export function ruleProblemWords(problem: RuleProblem, name: string): string {
  if (problem.type === 'holdsItself' && problem.by === name)
    return 'The rule refers to the list that it fills. Take that list out of the rule.';
  if (problem.type === 'holdsItself')
    return `The rule refers to itself through the list ${problem.by}. Take that list out of one of the two rules.`;
  return `The rule cannot be read: ${queryProblemWords(problem.problem)}.`;
}

const FOUND_BY: Readonly<Record<FoundBy, string>> = {
  path: 'by path',
  ending: 'by the end of the path',
  name: 'by file name',
  words: 'by artist and title',
  folder: 'as folders',
};

/** How entries of a list file were found. */
export function foundWords(found: ReadonlyMap<FoundBy, number>, open: number): string {
  const parts = (['path', 'ending', 'name', 'words', 'folder'] as const).flatMap((by) =>
    found.has(by) ? [`${found.get(by)} found ${FOUND_BY[by]}`] : [],
  );
  return [...parts, ...(open > 0 ? [`${open} not found`] : [])].join(', ');
}

/** The most that a limit lets in. @param most items, seconds or bytes, by what it limits */
export function limitWords({ by }: ListLimit, most: number): string {
  if (by === 'seconds') return clock(most);
  return by === 'items' ? counted(most, 'item') : `${bytes(most)}${by === 'free' ? ' free' : ''}`;
}

/** Why an item is in a rule list, or not. */
export function whyWords(why: WhyListed, query: string): string {
  switch (why.type) {
    case 'in':
      return query.trim() === '' ? 'in the list: the rule takes every item' : `in the list: ${query}`;
    case 'dropped':
      return 'dropped from the list by hand';
    case 'beyond':
      return `meets the rule, but is number ${why.place + 1}: the limit is reached before it`;
    case 'unmet':
      return `does not meet the rule: ${query}`;
    case 'gone':
      return 'its file has gone from its folder';
    case 'wrong':
      return 'the rule is not valid';
  }
}

const ORDER_FACTS: Readonly<Partial<Record<ListOrderKey, string>>> = {
  added: 'date added',
  changed: 'date changed',
  played: 'times played',
  'last played': 'last played',
  length: 'length',
  size: 'file size',
  path: 'path',
  kind: 'kind',
  format: 'format',
  rate: 'bit rate',
  picture: 'artwork',
};
const FIELD_LABELS = new Map<string, string>(FIELDS.map(({ name, label }) => [name, label]));

export const orderWords = (by: ListOrderKey): string => ORDER_FACTS[by] ?? FIELD_LABELS.get(by) ?? by;

/** What rule lists are usually put in order by. */
export const ORDER_KEYS: readonly ListOrderKey[] = [
  ...(['added', 'changed', 'date', 'title', 'artist', 'album', 'genre', 'rating'] as const),
  ...(['played', 'last played'] as const),
  ...(['length', 'size', 'path'] as const),
];

/** How often: once, twice, 5 times. */
export const timesWords = (count: number): string =>
  count === 1 ? 'once' : count === 2 ? 'twice' : `${count.toLocaleString('en')} times`;

/** What keeps a list from having the file on a player that it would have; null where it goes there. */
export const LIST_STATES: Readonly<Record<ListState, string | null>> = {
  goes: null,
  empty: 'none of its items go there',
  waits: 'changed there, needs your decision',
  occupied: 'another file is in its place',
  away: 'removed there',
  tooLong: 'its name is too long',
  noRoom: 'no room for it',
  noLists: 'no playlists there',
};

/** Why entries of a list are left out on a player. */
export function leftOutWords(why: LeftOutWhy, count: number, player: string): string {
  const entries = counted(count, 'entry', 'entries');
  switch (why) {
    case 'unselected':
      return `${entries} not in ${player}’s selection`;
    case 'leftOut':
      return `${entries} left out by you`;
    case 'twin':
      return `${entries} to be converted first`;
    case 'room':
      return `${entries} without room`;
    case 'finding':
      return `${entries} blocked by a finding`;
    case 'noPlace':
      return `${entries} of a kind that ${player} does not play`;
    case 'open':
      return `${entries} not in the library`;
    case 'tooMany':
      return `${entries} beyond the ${player} limit for a list`;
    case 'letters':
      return `${entries} whose names its encoding cannot store`;
  }
}

/** What a button says that lets those entries onto the player; null where no button does. */
export function leftOutAct(why: LeftOutWhy, count: number): string | null {
  const them = count === 1 ? 'it' : 'them';
  switch (why) {
    case 'unselected':
      return `Let ${them} in`;
    case 'leftOut':
      return `Let ${them} in again`;
    case 'twin':
      return `Convert ${them}`;
    case 'finding':
    case 'letters':
      return `Show ${them}`;
    default:
      return null;
  }
}

/** Where an entry stands in a list on one side. @param before where it stood when both sides agreed; null where it did not */
export function sideWords(now: number | null, before: number | null): string {
  if (now === null) return before === null ? 'not there' : 'removed';
  return before === null ? `added, number ${now + 1}` : `number ${now + 1}`;
}
