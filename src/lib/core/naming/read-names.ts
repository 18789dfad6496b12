import { type Pattern, type PatternField, type PatternNode } from './pattern';
import { readPattern, type ReadValues, type Reading } from './read-pattern';

/** What names carry that is no fact. Each can be switched off. */
export const NOISE_RULES = ['underscores', 'leadingCounters', 'bracketedNumbers', 'sourceMarks'] as const;
export type NoiseRule = (typeof NOISE_RULES)[number];

/** The values that a pattern reads from a file's path. */
export type NameReading =
  | { readonly type: 'read'; readonly values: ReadValues }
  /** Likeliest first. */
  | { readonly type: 'ambiguous'; readonly readings: readonly Reading[] }
  | { readonly type: 'failed' };

const NUMBERED: ReadonlySet<PatternField> = new Set(['track', 'disc', 'season', 'episode', 'year', 'tracks']);
const COUNTER = /^\s*[([]?\d{1,3}[)\]]?(?:\s*[-.)_]\s*|\s+)(?=\S)/;
const BRACKETED = /\s*[([]\d{1,4}[)\]](?=\s|$)/g;
/** Marks of how a file was made or where it came from, in brackets or at the end. */
const MARKS =
  /\s*[([](?:official(?: (?:music )?video| audio)?|lyrics?(?: video)?|hd|hq|\d{3,4}p|\d{2,3} ?k(?:bps|bit\/s)?|flac|mp3|web|cd ?rip|rip)[)\]]|\s+-\s+(?:copy|rip|web)$|\s(?:\d{3,4}p|x26[45]|h\.?26[45]|web-?dl|dvd ?rip)(?=\s|$)/gi;
/** Stands for a `_` that must be kept, because reading replaces it with a space. */
const KEPT = '\ue000';

/** The levels of a pattern, each with its nodes. */
function levelsOf(pattern: Pattern): readonly (readonly PatternNode[])[] {
  const levels: PatternNode[][] = [[]];
  for (const node of pattern) {
    if (node.type === 'folder') levels.push([]);
    else levels.at(-1)?.push(node);
  }
  return levels;
}

function startsWithNumber([first, ...rest]: readonly PatternNode[]): boolean {
  if (!first) return false;
  if (first.type === 'field') return first.names.some((name) => NUMBERED.has(name));
  // An optional number reads a counter if there is one.
  return first.type === 'optional' && (startsWithNumber(first.nodes) || startsWithNumber(rest));
}

/** One level of a path without its noise. */
export function dropNoise(part: string, rules: ReadonlySet<NoiseRule>, keepsCounter: boolean): string {
  let text = part;
  if (rules.has('underscores')) text = text.replace(/_+/g, ' ');
  if (rules.has('sourceMarks')) text = text.replace(MARKS, '');
  if (rules.has('bracketedNumbers')) text = text.replace(BRACKETED, '');
  if (rules.has('leadingCounters') && !keepsCounter) text = text.replace(COUNTER, '');
  const trimmed = text.replace(/\s+/g, ' ').trim();
  // A name that is noise throughout keeps it: something must be left to read.
  return trimmed === '' ? part : trimmed;
}

/**
 * Reads the last levels of a path, without its extension, by a pattern. Years in brackets stay if the pattern has them.
 */
export function readName(pattern: Pattern, path: string, rules: ReadonlySet<NoiseRule>): NameReading {
  const levels = levelsOf(pattern);
  const parts = path.split('/').slice(-levels.length);
  if (parts.length < levels.length) return { type: 'failed' };
  const cleaned = parts.map((part, index) => {
    const level = levels[index] ?? [];
    const own = asksFor(level, 'year') ? without(rules, 'bracketedNumbers') : rules;
    return dropNoise(part, own, startsWithNumber(level));
  });
  const text = cleaned.join('/');
  const found = readPattern(pattern, rules.has('underscores') ? text : text.replaceAll('_', KEPT));
  const readings = found.map(({ values, score }) => ({ values: restored(values), score }));
  const [first, second] = readings;
  if (!first) return { type: 'failed' };
  return second && second.score >= first.score
    ? { type: 'ambiguous', readings }
    : { type: 'read', values: first.values };
}

const asksFor = (nodes: readonly PatternNode[], name: PatternField): boolean =>
  nodes.some(
    (node) =>
      (node.type === 'field' && node.names.includes(name)) ||
      (node.type === 'optional' && asksFor(node.nodes, name)),
  );

function without(rules: ReadonlySet<NoiseRule>, rule: NoiseRule): ReadonlySet<NoiseRule> {
  const rest = new Set(rules);
  rest.delete(rule);
  return rest;
}

const restored = (values: ReadValues): ReadValues =>
  Object.fromEntries(
    Object.entries(values).map(([name, value]) => [
      name,
      typeof value === 'string' ? value.replaceAll(KEPT, '_') : value,
    ]),
  );

/**
 * How many more names a pattern would read if a rule of noise were off: rule and pattern exclude each other there.
 * @param paths without extension
 */
export function clashesOf(
  pattern: Pattern,
  paths: readonly string[],
  rules: ReadonlySet<NoiseRule>,
): ReadonlyMap<NoiseRule, number> {
  const fits = (own: ReadonlySet<NoiseRule>) =>
    paths.filter((path) => readName(pattern, path, own).type !== 'failed').length;
  const now = fits(rules);
  if (now === paths.length) return new Map();
  return new Map(
    [...rules].flatMap((rule) => {
      const more = fits(without(rules, rule)) - now;
      return more > 0 ? [[rule, more] as const] : [];
    }),
  );
}
