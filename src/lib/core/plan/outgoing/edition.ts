import { homeOf, yearOf } from '../../items';
import { foldCase } from '../../naming';
import { nameOf } from '../../paths';
import { markOf, type Told } from './apart';
import type { PlanItem } from './plan-item';

/** Kinds that come as releases and can have several editions. */
const RELEASED: ReadonlySet<PlanItem['kind']> = new Set(['song', 'audiobook']);
export const hasEditions = (kind: PlanItem['kind']): boolean => RELEASED.has(kind);

/**
 * Seconds by which the length of the same recording may differ between editions: silence at the ends, or padding by the
 * codec.
 */
const SAME_LENGTH = 3;
const IN_BRACKETS = /[[(]([^[\]()]{2,40})[\])]/g;
/** A year alone says when, not which. */
const YEAR = /^\d{4}$/;

/**
 * The item as it goes to a player that distinguishes releases by album title: the edition is added in brackets, so that
 * look-ups still find the album. Its path is made from the original fields.
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

/** Whether two items of one name are the same title in two editions of one release, neither of them marked. */
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
 * A name for one edition that distinguishes it from another: text in brackets in its folder name, a property of its
 * files, or its year; null if nothing does.
 */
export function editionMark(item: Told, other: Told): string | null {
  const word = ownWord(item, other);
  if (word !== undefined) return word;
  const mark = markOf(item, other);
  // Bit rates differ from title to title: they distinguish files, not editions.
  if (mark !== null && !mark.endsWith('kbit')) return mark;
  const year = yearOf(item.fields);
  return year !== null && year !== yearOf(other.fields) ? String(year) : null;
}

/** Which of two editions gets a mark, and which mark. */
export interface Marking {
  readonly item: PlanItem;
  readonly other: PlanItem;
  readonly mark: string;
}

/**
 * Which of two titles of one name belongs to the edition that gets a mark. The choice does not depend on the order of
 * the two, so that the same edition is marked for all titles: the one whose folder has a word for it, otherwise the
 * later folder. Null if nothing distinguishes them.
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

/** Text in brackets in its folder name that the other folder does not have. */
function ownWord(item: Told, other: Told): string | undefined {
  const theirs = new Set(wordsOf(other).map(foldCase));
  return wordsOf(item).find((one) => !theirs.has(foldCase(one)));
}

function wordsOf({ path }: Told): string[] {
  return [...nameOf(homeOf(path)).matchAll(IN_BRACKETS)]
    .map(([, word = '']) => word.trim())
    .filter((word) => word !== '' && !YEAR.test(word));
}
