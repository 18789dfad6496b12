import { homeOf, yearOf } from '../../items';
import { foldCase } from '../../naming';
import { nameOf } from '../../paths';
import { markOf, type Told } from './apart';
import type { PlanItem } from './plan-item';

/** Kinds that come as releases, of which there may be several editions. */
const RELEASED: ReadonlySet<PlanItem['kind']> = new Set(['song', 'audiobook']);
export const hasEditions = (kind: PlanItem['kind']): boolean => RELEASED.has(kind);

/** Seconds by which the same recording may last longer in another edition: silence at its ends, or the codec's own. */
const SAME_LENGTH = 3;
const IN_BRACKETS = /[[(]([^[\]()]{2,40})[\])]/g;
/** A year alone says when, not which. */
const YEAR = /^\d{4}$/;

/**
 * The item as it goes to a player that tells releases apart by the name of their album: there the edition stands behind
 * it in brackets, so that look-ups still find the album. Its path is made from both fields as they are.
 */
export function withEdition(item: PlanItem): PlanItem {
  const { album, edition } = item.fields;
  if (!item.writable || !album || !edition || album.endsWith(`[${edition}]`)) return item;
  const marked = `${album} [${edition}]`;
  return {
    ...item,
    outgoing: { ...item.outgoing, fields: { ...item.outgoing.fields, album: marked } },
    outgoingFields: { ...item.outgoingFields, album: marked },
    outgoingHash: `${item.outgoingHash}|${marked}`,
  };
}

/** Whether two items of one name are the same title of two editions of one release: none is marked yet. */
export function areEditions(item: PlanItem, other: PlanItem): boolean {
  const [own, theirs] = [item.fields, other.fields];
  const { durationSeconds: seconds } = item;
  return (
    hasEditions(item.kind) &&
    item.kind === other.kind &&
    own.album !== null &&
    theirs.album !== null &&
    foldCase(own.album) === foldCase(theirs.album) &&
    own.edition === theirs.edition &&
    seconds !== null &&
    other.durationSeconds !== null &&
    Math.abs(seconds - other.durationSeconds) <= SAME_LENGTH &&
    (homeOf(item.path) !== homeOf(other.path) || item.format !== other.format)
  );
}

/**
 * What one edition could be called to tell it from another: what its folder says in brackets, what its files are, or its
 * year; null where nothing tells them apart.
 */
export function editionMark(item: Told, other: Told): string | null {
  const word = ownWord(item, other);
  if (word !== undefined) return word;
  const mark = markOf(item, other);
  // Rates differ from title to title: they tell files apart, not editions.
  if (mark !== null && !mark.endsWith('kbit')) return mark;
  const year = yearOf(item.fields);
  return year !== null && year !== yearOf(other.fields) ? String(year) : null;
}

/** Which of two editions is to be marked, and how. */
export interface Marking {
  readonly item: PlanItem;
  readonly other: PlanItem;
  readonly mark: string;
}

/**
 * Which of two titles of one name belongs to the edition that gets a mark, whichever of them has the name: so that of two
 * releases the same one is marked for all titles. One whose folder has a word for it comes first, then the later folder.
 * Null where nothing tells them apart.
 */
export function markingOf(a: PlanItem, b: PlanItem): Marking | null {
  const keyOf = ({ path, format }: PlanItem) => `${homeOf(path)}\n${format}`;
  const [earlier, later] = keyOf(a) <= keyOf(b) ? [a, b] : [b, a];
  const hasWord = (item: PlanItem, other: PlanItem) => ownWord(item, other) !== undefined;
  const isLater = hasWord(later, earlier) || !hasWord(earlier, later);
  const pairs = isLater ? ([later, earlier] as const) : ([earlier, later] as const);
  for (const [item, other] of [pairs, [pairs[1], pairs[0]] as const]) {
    const mark = editionMark(item, other);
    if (mark !== null) return { item, other, mark };
  }
  return null;
}

/** What its folder says in brackets, and the other's does not. */
function ownWord(item: Told, other: Told): string | undefined {
  const theirs = new Set(wordsOf(other).map(foldCase));
  return wordsOf(item).find((one) => !theirs.has(foldCase(one)));
}

function wordsOf({ path }: Told): string[] {
  return [...nameOf(homeOf(path)).matchAll(IN_BRACKETS)]
    .map(([, word = '']) => word.trim())
    .filter((word) => word !== '' && !YEAR.test(word));
}
