import { foldText, wordsOf } from '../items';
import { MOST_NAME_WORDS, QUERY_NAMES, WORLD_NAMES, findName, type QueryName } from './names';
import { readAmount, type Amount } from './amounts';
import { inOwnWords, partOperators } from './phrases';
import { sameName } from './same-name';
import type { Token } from './token';
import { nowhere, type QueryWorld } from './world';

/*
 *   query   = all { "or" all }
 *   all     = term { [ "and" ] term }
 *   term    = "not" term | "(" query ")" | ("no" | "any") name | name [ "not" ] compare | word
 *   compare = ("is" | "has" | "begins" | "ends") text | ("is" | "under" | "over" | "since" | "until") amount
 *           | "from" amount "to" amount
 *
 * Words that are none of these are looked for in everything that a search looks into. A text goes on to the next "and",
 * "or" or bracket; in double quotes it may hold those too. Letter case never matters.
 */

export type Compare =
  | { readonly type: 'is' | 'has' | 'begins' | 'ends'; readonly text: string }
  /** `since` and `until` take the amount itself in. */
  | {
      readonly type: 'equals' | 'under' | 'over' | 'since' | 'until';
      readonly amount: Amount;
      /** A relative date as it was written, because its meaning changes with the day. */
      readonly ago?: string;
    }
  /** Both ends belong to it. */
  | { readonly type: 'between'; readonly from: Amount; readonly to: Amount }
  | { readonly type: 'filled' };

export type Query =
  | { readonly type: 'all' | 'either'; readonly parts: readonly Query[] }
  | { readonly type: 'not'; readonly part: Query }
  | { readonly type: 'words'; readonly words: readonly string[] }
  | { readonly type: 'name'; readonly name: QueryName; readonly compare: Compare };

/** An error in a query and its position: columns count from 0, in UTF-16 units. */
export interface QueryProblem {
  readonly code:
    | 'begunName'
    | 'needsCompare'
    | 'needsText'
    | 'needsAmount'
    | 'noAmount'
    | 'needsTo'
    | 'needsName'
    | 'needsTerm'
    | 'unclosedQuote'
    | 'unclosedBracket'
    | 'unopenedBracket'
    | 'wrongCompare'
    | 'noSuchList';
  readonly column: number;
  /** The text with the error, or the text that it refers to. */
  readonly text: string;
}

export type ParsedQuery =
  | { readonly type: 'query'; readonly query: Query }
  /** `before` is the part before the error, which can be used meanwhile. */
  | { readonly type: 'wrong'; readonly problem: QueryProblem; readonly before: Query };

class QueryError extends Error {
  constructor(readonly problem: QueryProblem) {
    super(problem.code);
  }
}

/** All names that a query uses. */
export function* namesIn(query: Query): Generator<Extract<Query, { readonly type: 'name' }>> {
  if (query.type === 'all' || query.type === 'either') for (const part of query.parts) yield* namesIn(part);
  else if (query.type === 'not') yield* namesIn(query.part);
  else if (query.type === 'name') yield query;
}

/** Whether its result can change without a change of any item. */
export function asksWorld(query: Query): boolean {
  for (const { name } of namesIn(query)) if (WORLD_NAMES.has(name.name)) return true;
  return false;
}

/** Reads a query, or names the first problem with its place. An empty text is a query that all items meet. */
export function parseQuery(text: string, world = nowhere()): ParsedQuery {
  let from = 0;
  try {
    const parser = new Parser(inOwnWords(partOperators(tokensOf(text)), world), text.length, world);
    try {
      return { type: 'query', query: parser.parse() };
    } finally {
      from = parser.termFrom;
    }
  } catch (error) {
    if (!(error instanceof QueryError)) throw error;
    const { problem } = error;
    const cut = problem.code === 'unclosedQuote' ? problem.column : from;
    return { type: 'wrong', problem, before: queryBefore(text.slice(0, cut), world) };
  }
}

/** The query up to an error, without a trailing connecting word. */
function queryBefore(text: string, world: QueryWorld): Query {
  const asked = text.replace(/(\s+|^)((and|or|not)\s*)+$/i, '');
  if (asked.trim() === '') return { type: 'all', parts: [] };
  const parsed = parseQuery(asked, world);
  return parsed.type === 'query' ? parsed.query : parsed.before;
}

/** @throws {QueryError} for a quote that is not closed */
function tokensOf(text: string): readonly Token[] {
  const tokens: Token[] = [];
  for (const match of text.matchAll(/"([^"]*)("?)|[()]|[^\s()"]+/g)) {
    const [all, quoted, closing] = match;
    const place = { column: match.index, end: match.index + all.length };
    if (quoted !== undefined) {
      if (closing === '') throw new QueryError({ code: 'unclosedQuote', column: match.index, text: all });
      tokens.push({ type: 'quoted', text: quoted, word: '', ...place });
    } else if (all === '(' || all === ')')
      tokens.push({ type: all === '(' ? 'open' : 'close', text: all, word: '', ...place });
    else tokens.push({ type: 'word', text: all, word: all.toLowerCase(), ...place });
  }
  return tokens;
}

const COMPARES: ReadonlySet<string> = new Set([
  ...['is', 'has', 'begins', 'ends', 'under', 'over', 'since', 'until', 'from'],
]);
/** Comparisons by type of name. */
const TEXTUAL: ReadonlySet<string> = new Set(['is', 'has', 'begins', 'ends']);
const COUNTED: ReadonlySet<string> = new Set(['is', 'under', 'over', 'since', 'until', 'from']);

class Parser {
  /** Where the current outermost term begins. */
  termFrom = 0;
  private at = 0;
  private depth = 0;
  private hasNamed = false;

  constructor(
    private readonly tokens: readonly Token[],
    private readonly end: number,
    private readonly world: QueryWorld,
  ) {}

  parse(): Query {
    if (this.tokens.length === 0) return { type: 'all', parts: [] };
    const query = this.either();
    const left = this.tokens[this.at];
    if (left) this.fail('unopenedBracket', left);
    return query;
  }

  private either(): Query {
    const parts = [this.all()];
    while (this.take('or')) parts.push(this.all());
    return single('either', parts);
  }

  private all(): Query {
    const parts = [this.term()];
    for (;;) {
      const and = this.take('and');
      const next = this.tokens[this.at];
      if (!and && (!next || next.type === 'close' || next.word === 'or')) return single('all', parts);
      parts.push(this.term());
    }
  }

  private term(): Query {
    const token = this.tokens[this.at];
    if (this.depth === 0) this.termFrom = token?.column ?? this.end;
    if (!token || token.type === 'close' || token.word === 'and' || token.word === 'or')
      this.fail('needsTerm', token);
    if (token.word === 'not') {
      this.at++;
      this.depth++;
      const part = this.term();
      this.depth--;
      return { type: 'not', part };
    }
    if (token.type === 'open') return this.bracket(token);
    if (token.word === 'no' || token.word === 'any') return this.presence(token);
    const found = this.nameAt(this.at);
    if (found) return this.named(found.name, found.words);
    const begun = this.nameAt(this.at, false);
    if (begun && this.isUnfinished(this.at + begun.words))
      this.fail('needsCompare', undefined, begun.name.name);
    // After a comparison, the name of another field is more likely than a word.
    if (this.hasNamed && this.isLast(token) && isBegun(token.word)) this.fail('begunName', token);
    this.at++;
    return { type: 'words', words: token.type === 'quoted' ? quotedWords(token.text) : wordsOf(token.text) };
  }

  private bracket(open: Token): Query {
    this.at++;
    this.depth++;
    const query = this.either();
    this.depth--;
    if (this.tokens[this.at]?.type !== 'close') this.fail('unclosedBracket', open);
    this.at++;
    return query;
  }

  private presence(token: Token): Query {
    this.at++;
    const found = this.nameAt(this.at, false);
    if (!found) this.fail('needsName', this.tokens[this.at], token.word);
    this.at += found.words;
    const filled: Query = { type: 'name', name: found.name, compare: { type: 'filled' } };
    return token.word === 'any' ? filled : { type: 'not', part: filled };
  }

  private named(name: QueryName, words: number): Query {
    this.at += words;
    this.hasNamed = true;
    const before = this.take('not');
    const token = this.tokens[this.at] as Token;
    this.at++;
    // `is not` reads better than `not is`.
    const isNot = this.take('not') !== before;
    const compare = this.compare(name, token);
    const query: Query = { type: 'name', name, compare };
    return isNot ? { type: 'not', part: query } : query;
  }

  private compare(name: QueryName, token: Token): Compare {
    const { word } = token;
    const allowed = name.type === 'text' ? TEXTUAL : COUNTED;
    if (name.type === 'presence' || !allowed.has(word)) this.fail('wrongCompare', token, name.name);
    if (name.type === 'text') {
      const first = this.tokens[this.at];
      const text = this.text(word);
      const { lists } = this.world;
      const isGone = lists !== null && !lists.some((one) => sameName(one, text));
      if (name.name === 'list' && word === 'is' && isGone) this.fail('noSuchList', first, text);
      return { type: word as 'is', text };
    }
    if (word === 'from') {
      const from = this.amount(name);
      if (!this.take('to')) this.fail('needsTo', this.tokens[this.at], name.name);
      return { type: 'between', from, to: this.amount(name) };
    }
    const ago = this.tokens[this.at]?.ago;
    const amount = this.amount(name);
    const type = word === 'is' ? 'equals' : (word as 'under' | 'over' | 'since' | 'until');
    return ago === undefined ? { type, amount } : { type, amount, ago };
  }

  /** A text up to what ends it; at least one word. */
  private text(after: string): string {
    const first = this.tokens[this.at];
    if (first?.type === 'quoted') {
      this.at++;
      return first.text;
    }
    const words: string[] = [];
    for (let next = first; next && this.isText(next); next = this.tokens[this.at]) {
      words.push(next.text);
      this.at++;
    }
    if (words.length === 0) this.fail('needsText', first, after);
    return words.join(' ');
  }

  private isText({ type, word }: Token): boolean {
    return type === 'word' && word !== 'and' && word !== 'or';
  }

  /** One or two words: `300 kB`, `90 s`. */
  private amount(name: QueryName): Amount {
    const first = this.tokens[this.at];
    if (first?.type !== 'word' || first.word === 'and' || first.word === 'or')
      this.fail('needsAmount', first, name.name);
    const second = this.tokens[this.at + 1];
    if (second?.type === 'word') {
      const both = readAmount(`${first.word} ${second.word}`, name.type);
      if (both !== null) {
        this.at += 2;
        return both;
      }
    }
    const amount = readAmount(first.word, name.type);
    if (amount === null) this.fail('noAmount', first, name.name);
    this.at++;
    return amount;
  }

  /** The longest name that begins here. @param isCompared whether a comparison has to follow */
  private nameAt(at: number, isCompared = true): { readonly name: QueryName; readonly words: number } | null {
    for (let words = MOST_NAME_WORDS; words > 0; words--) {
      const own = this.tokens.slice(at, at + words);
      if (own.length < words || own.some(({ type }) => type !== 'word')) continue;
      const name = findName(own.map(({ word }) => word).join(' '));
      const next = this.tokens[at + words]?.word ?? '';
      const after = next === 'not' ? (this.tokens[at + words + 1]?.word ?? '') : next;
      if (name && (!isCompared || COMPARES.has(after))) return { name, words };
    }
    return null;
  }

  /** A name was written, and what compares it is next or begun. */
  private isUnfinished(at: number): boolean {
    const next = this.tokens[at];
    const last = this.tokens[at - 1] as Token;
    if (!next) return this.end > last.end;
    return this.isLast(next) && [...COMPARES].some((word) => word.startsWith(next.word));
  }

  /** A word that may still be written. */
  private isLast(token: Token): boolean {
    return token === this.tokens.at(-1) && token.end === this.end && token.type === 'word';
  }

  private take(word: string): boolean {
    if (this.tokens[this.at]?.word !== word) return false;
    this.at++;
    return true;
  }

  private fail(code: QueryProblem['code'], token?: Pick<Token, 'column' | 'text'>, text?: string): never {
    throw new QueryError({ code, column: token?.column ?? this.end, text: text ?? token?.text ?? '' });
  }
}

const isBegun = (word: string): boolean => QUERY_NAMES.some(({ name }) => name.startsWith(word));

const single = (type: 'all' | 'either', parts: readonly Query[]): Query =>
  parts.length === 1 ? (parts[0] as Query) : { type, parts };

const quotedWords = (text: string): readonly string[] => (text.trim() === '' ? [] : [foldText(text)]);
