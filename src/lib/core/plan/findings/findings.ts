import type { ItemId } from '../../items';
import { distinctMarks, waysApart } from '../outgoing/apart';
import { isSame, NONE, type Mend, type Remark } from './remark';
import { SEVERITIES, type Finding, type FindingCode, type Remedy, type Severity } from './finding';

/** The most places that a finding names; more are only counted. */
const MOST_PLACES = 200;
/** The most places that a finding's line carries. */
const LINE_PLACES = 20;

/** Codes in the order in which a curator works through them, within one severity. */
const CODES: readonly FindingCode[] = [
  'kindOpen',
  'unknownItem',
  'formatRefused',
  'missingField',
  'noRoom',
  'twoEditions',
  'collision',
  'nameTooLong',
  'pathTooLong',
  'endingTooLong',
  'folderFull',
  'occupied',
  'folderThere',
  'failedBefore',
  'changedBoth',
  'changedThere',
  'removedBoth',
  'removedThere',
  'movedThere',
  'listChanged',
  'listRemoved',
  'listOccupied',
  'listTooLong',
  'splitAlbum',
  'needsTwin',
  'kindGuess',
  'noSection',
  'oddValue',
  'noPicture',
  'pictureShape',
  'cannotWrite',
  'cannotHold',
  'tagVersion',
  'sidecarMismatch',
  'besideMismatch',
  'nameMended',
  'writtenLate',
  'shownAlike',
  'changedUnwanted',
  'addedThere',
  'keptThere',
  'staysAway',
  'listAway',
];
const RANKS: ReadonlyMap<FindingCode, number> = new Map(CODES.map((code, index) => [code, index]));

/** A finding as it is listed. Its items and its remedy are loaded on demand. */
export interface FindingLine extends Omit<Finding, 'items' | 'remedy'> {
  readonly remedy: Remedy['type'] | null;
}

interface Gathered {
  readonly id: string;
  readonly remarks: Set<Remark>;
  line: FindingLine | null;
  whole: Finding | null;
}

/** Collects remarks of one sort into one finding with many items, so that one button resolves them all. */
export class Findings {
  private readonly gathered = new Map<string, Gathered>();
  private sorted: readonly Gathered[] | null = [];

  /** The number of findings of a severity, or of all. */
  count(severity?: Finding['severity']): number {
    if (severity === undefined) return this.gathered.size;
    return this.inOrder().filter((one) => first(one).severity === severity).length;
  }

  counts(): Record<Severity, number> {
    const counts = { blocks: 0, splits: 0, warns: 0, note: 0 };
    for (const own of this.gathered.values()) counts[first(own).severity]++;
    return counts;
  }

  /** Replaces remarks about a thing. Equal remarks stay, so that unchanged findings are not collected again. */
  exchange(old: readonly Remark[], next: readonly Remark[]): readonly Remark[] {
    if (old.length === 0 && next.length === 0) return NONE;
    if (old.length === next.length && old.every((one, index) => isSame(one, next[index] as Remark)))
      return old;
    for (const remark of old) this.remove(remark);
    for (const remark of next) this.add(remark);
    return next;
  }

  add(remark: Remark): void {
    let own = this.gathered.get(remark.finding);
    if (!own) {
      own = { id: remark.finding, remarks: new Set(), line: null, whole: null };
      this.gathered.set(own.id, own);
      this.sorted = null;
    }
    own.remarks.add(remark);
    own.line = own.whole = null;
  }

  remove(remark: Remark): void {
    const own = this.gathered.get(remark.finding);
    if (!own?.remarks.delete(remark)) return;
    own.line = own.whole = null;
    if (own.remarks.size > 0) return;
    this.gathered.delete(own.id);
    this.sorted = null;
  }

  find(id: string): Finding | null {
    const own = this.gathered.get(id);
    return own ? wholeOf(own) : null;
  }

  /** The most severe first. */
  all(): Finding[] {
    return this.inOrder().map(wholeOf);
  }

  /** The most severe findings. */
  lines(most: number): FindingLine[] {
    return this.range(null, 0, most);
  }

  /** A range of the findings of a severity, or of all, the most severe first. */
  range(severity: Severity | null, from: number, to: number): FindingLine[] {
    const all = this.inOrder();
    const own = severity === null ? all : all.filter((one) => first(one).severity === severity);
    return own.slice(from, to).map(lineOf);
  }

  /**
   * The most severe findings that some of the remarks belong to, each limited to its share of items if its sentence
   * allows that.
   */
  ofShare(remarks: readonly Remark[], most: number): FindingLine[] {
    const share = new Findings();
    for (const remark of remarks) share.add(remark);
    return share.lines(most).map((line) => {
      const whole = OF_ALL.has(line.code) ? this.gathered.get(line.id) : undefined;
      return whole ? lineOf(whole) : line;
    });
  }

  ofCode(code: FindingCode): { readonly count: number; first(most: number): Finding[] } {
    const own = this.inOrder().filter((one) => first(one).code === code);
    return { count: own.length, first: (most) => own.slice(0, most).map(wholeOf) };
  }

  private inOrder(): readonly Gathered[] {
    this.sorted ??= [...this.gathered.values()]
      .map((own) => ({ own, rank: rankOf(own) }))
      .sort((a, b) => a.rank - b.rank || (a.own.id < b.own.id ? -1 : 1))
      .map(({ own }) => own);
    return this.sorted;
  }
}

const first = ({ remarks }: Gathered): Remark => remarks.values().next().value as Remark;

function rankOf(own: Gathered): number {
  const { severity, code } = first(own);
  return SEVERITIES.indexOf(severity) * 100 + (RANKS.get(code) ?? 99);
}

const byOrder = (a: Remark, b: Remark): number =>
  a.order - b.order || ((a.places[0] ?? '') < (b.places[0] ?? '') ? -1 : 1);

function wholeOf(own: Gathered): Finding {
  if (own.whole) return own.whole;
  const remarks = [...own.remarks].sort(byOrder);
  const { code, severity } = first(own);
  const items = new Set<ItemId>();
  for (const { item } of remarks) if (item !== null) items.add(item);
  const all = [...items];
  const places = placesOf(remarks, MOST_PLACES);
  const words = { ...wordsOf(code, remarks), count: String(all.length || placeCount(remarks)) };
  own.whole = {
    id: own.id,
    code,
    severity,
    items: all,
    places,
    words,
    remedy: remedyOf(remarks, all),
  };
  return own.whole;
}

/** One pass over what may be a hundred thousand remarks, because an edit of one of them repeats it. */
function lineOf(own: Gathered): FindingLine {
  if (own.line) return own.line;
  const { code, severity } = first(own);
  const head: Remark[] = [];
  let last = first(own);
  for (const remark of own.remarks) {
    if (byOrder(remark, last) > 0) last = remark;
    const least = head[LINE_PLACES - 1];
    if (least && byOrder(remark, least) > 0) continue;
    let at = head.length;
    while (at > 0 && byOrder(remark, head[at - 1] as Remark) < 0) at--;
    head.splice(at, 0, remark);
    head.length = Math.min(head.length, LINE_PLACES);
  }
  const all = OF_ALL.has(code) ? [...own.remarks].sort(byOrder) : own.remarks;
  const words = wordsOf(code, GATHERING.has(code) ? all : [last]);
  const places = placesOf(head, LINE_PLACES);
  const count = String(countOf(own.remarks, code));
  const remedy = remedyType(mendOf(code, own.remarks));
  own.line = { id: own.id, code, severity, places, words: { ...words, count }, remedy };
  return own.line;
}

/** Number of items, or of foreign files if the finding is about those. */
function countOf(remarks: ReadonlySet<Remark>, code: FindingCode): number {
  // All other codes occur once per item.
  if (!OF_FILES.has(code)) return remarks.size;
  const items = new Set<ItemId>();
  for (const { item } of remarks) if (item !== null) items.add(item);
  return items.size || placeCount(remarks);
}

/** Codes about several items together. Their sentence would be wrong for a part of the items. */
const OF_ALL: ReadonlySet<FindingCode> = new Set(['splitAlbum', 'collision']);

/** Codes that can occur several times per item, or for files without an item. */
const OF_FILES: ReadonlySet<FindingCode> = new Set(['occupied', 'changedThere', 'changedUnwanted']);

function placeCount(remarks: Iterable<Remark>): number {
  let count = 0;
  for (const { places } of remarks) count += places.length;
  return count;
}

function placesOf(remarks: readonly Remark[], most: number): string[] {
  const places: string[] = [];
  for (const remark of remarks) {
    if (places.length >= most) break;
    places.push(...remark.places);
  }
  return places.slice(0, most);
}

/** Codes whose sentence is made from all remarks. The others say the same of every item. */
const GATHERING: ReadonlySet<FindingCode> = new Set([
  'splitAlbum',
  'nameTooLong',
  'pathTooLong',
  'endingTooLong',
  'needsTwin',
  'collision',
]);

/** @param remarks in order, if the sentence names several of them */
function wordsOf(code: FindingCode, remarks: Iterable<Remark>): Record<string, string> {
  switch (code) {
    case 'nameTooLong':
    case 'pathTooLong':
    case 'endingTooLong':
      return lengthWords(remarks);
    case 'needsTwin':
      return twinWords(remarks);
    case 'splitAlbum':
      return splitWords([...remarks]);
    case 'collision':
      return collisionWords([...remarks]);
    default:
      return { ...[...remarks].at(-1)?.words };
  }
}

/** The longest name with the limit that it exceeds: names and their stems have separate limits. */
function lengthWords(remarks: Iterable<Remark>): Record<string, string> {
  let words: Remark['words'] = { length: '0', limit: '0' };
  for (const remark of remarks) if (isWorse(remark.words, words)) words = remark.words;
  return words;
}

/** Longer, or equally long with a lower limit. */
function isWorse(one: Remark['words'], other: Remark['words']): boolean {
  const longer = Number(one.length) - Number(other.length);
  return longer === 0 ? Number(one.limit) < Number(other.limit) : longer > 0;
}

/**
 * How many files of each format have to be converted, how long they play together, and the approximate size of the
 * result.
 */
function twinWords(remarks: Iterable<Remark>): Record<string, string> {
  const formats = new Map<string, number>();
  let seconds = 0;
  let bytes = 0;
  const made = new Set<string>();
  let kinds: Remark['words'] = {};
  for (const { words } of remarks) {
    const { format = '', codec = '' } = words;
    const one = codec === '' ? format : `${format} ${codec}`;
    formats.set(one, (formats.get(one) ?? 0) + 1);
    seconds += Number(words.seconds);
    bytes += Number(words.bytes ?? 0);
    if (words.to) made.add(words.to);
    kinds = words;
  }
  const most = [...formats].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  const { kind = '', kinds: many = '', why = '' } = kinds;
  return {
    kind,
    kinds: many,
    seconds: String(seconds),
    bytes: String(bytes),
    to: [...made].sort().join('|'),
    why,
    formats: most.map(([format, count]) => `${format}:${count}`).join('|'),
  };
}

/** Marks are only offered if the files contain something that distinguishes all of them. */
function collisionWords(remarks: readonly Remark[]): Record<string, string> {
  const rivals = remarks.flatMap(({ mend }) => (mend?.type === 'part' ? [mend.rival] : []));
  const marks = distinctMarks(rivals)?.map((mark) => `[${mark}]`) ?? [];
  return { ...remarks.at(-1)?.words, mark: marks.join(', ') };
}

function splitWords(remarks: readonly Remark[]): Record<string, string> {
  const words: Record<string, string> = { ...remarks.at(-1)?.words };
  const union = (name: string, by: string) =>
    [...new Set(remarks.flatMap((one) => (one.words[name] ?? '').split(by)))].filter(Boolean).join(by);
  words.fields = union('fields', ', ');
  words.found = union('found', ' / ');
  for (const name of ['stuck', 'open'] as const) {
    const count = remarks.filter((one) => one.words[name]).length;
    if (count > 0) words[name] = String(count);
  }
  return words;
}

/**
 * The remedy of the remarks of a finding: the same for all, apart from items that no edit can join to their release.
 */
function mendOf(code: FindingCode, remarks: Iterable<Remark>): Mend | null {
  let mend: Mend | null = null;
  for (const remark of remarks) {
    if (mend === null || remark.mend?.type === 'edit') mend = remark.mend ?? mend;
    if (mend?.type === 'edit' || code !== 'splitAlbum') break;
  }
  return mend;
}

function remedyType(mend: Mend | null): Remedy['type'] | null {
  if (!mend) return null;
  switch (mend.type) {
    case 'leaveOut':
    case 'shorten':
    case 'replace':
    case 'renames':
      return 'choose';
    case 'decide':
      return mend.side ? 'choose' : 'decide';
    default:
      return mend.type;
  }
}

/** A remedy for all of them at once. */
function remedyOf(remarks: readonly Remark[], items: readonly ItemId[]): Remedy | null {
  const mend = remarks[0] ? mendOf(remarks[0].code, remarks) : null;
  if (!mend) return null;
  switch (mend.type) {
    case 'edit':
      return {
        type: 'edit',
        changes: remarks.flatMap((one) =>
          one.item !== null && one.mend?.type === 'edit' ? [{ item: one.item, edits: one.mend.edits }] : [],
        ),
      };
    case 'settleKind':
      return {
        type: 'settleKind',
        changes: remarks.flatMap((one) =>
          one.item !== null && one.mend?.type === 'settleKind'
            ? [{ item: one.item, kind: one.mend.kind }]
            : [],
        ),
      };
    case 'describe':
    case 'identify':
    case 'squarePicture':
    case 'makeTwins':
      return { type: mend.type, items };
    case 'leaveOut':
      return { type: 'choose', add: { leftOut: items } };
    case 'edition':
      return {
        type: 'edition',
        items: [...new Set(remarks.flatMap((one) => (one.mend?.type === 'edition' ? [one.mend.item] : [])))],
        mark: mend.mark,
      };
    case 'part':
      return {
        type: 'part',
        ways: waysApart(remarks.flatMap((one) => (one.mend?.type === 'part' ? [one.mend.rival] : []))),
      };
    case 'shorten':
      return { type: 'choose', add: { shorten: items } };
    case 'replace':
      return {
        type: 'choose',
        add: { replace: remarks.flatMap((one) => (one.mend?.type === 'replace' ? [one.mend.file] : [])) },
      };
    case 'renames':
      return { type: 'choose', add: { renames: mend.renames } };
    case 'decide': {
      const files = remarks.flatMap((one) => (one.mend?.type === 'decide' ? [one.mend.file] : []));
      const { side } = mend;
      return side
        ? { type: 'choose', add: { sides: files.map((file) => ({ ...file, side })) } }
        : { type: 'decide', files };
    }
  }
}
