import { readAmount } from './amounts';
import { MOST_NAME_WORDS, QUERY_NAMES, findName, type QueryName } from './names';
import { sameName } from './same-name';
import type { Token } from './token';
import { firstDayOf, type QueryWorld } from './world';

/*
 * Other ways of saying what the language says: `genre is empty`, `without picture`, `year > 1990`, `artist: venn`, `1980s`,
 * `longer than 5 minutes`, `added in the last 2 months`, `changed since 2026-03`, `in list Long table`, `never on Attic`, `never played`. They are brought to its own words before it is read; what belongs to a text that something is
 * compared with stays as it is.
 */

const OPERATORS = /(>=|<=|[:=<>])/;

/** Words that are written together with what compares them: `year>1990`, `artist:venn`. A time such as 3:20 is none. */
export function partOperators(tokens: readonly Token[]): readonly Token[] {
  return tokens.flatMap((token): readonly Token[] => {
    const { type, text, column } = token;
    const head = text.split(OPERATORS)[0] ?? '';
    const isPart = type === 'word' && OPERATORS.test(text) && (head === '' || endsName(head.toLowerCase()));
    if (!isPart) return [token];
    const [, before = '', operator = '', behind = ''] = /^(.*?)(>=|<=|[:=<>])(.*)$/.exec(text) ?? [];
    let at = column;
    return [before, operator, behind].flatMap((part) => {
      const own = {
        type: 'word',
        text: part,
        word: part.toLowerCase(),
        column: at,
        end: at + part.length,
      } as const;
      at = own.end;
      return part === '' ? [] : [own];
    });
  });
}

const endsName = (word: string): boolean => NAME_ENDS.has(word);
const NAME_ENDS: ReadonlySet<string> = new Set(
  QUERY_NAMES.flatMap(({ name }) => name.split(' ').at(-1) ?? []),
);

/** What compares, by one or two words, as the language has it. */
const COMPARES: readonly (readonly [said: string, means: readonly string[]])[] = [
  ['is not empty', ['any']],
  ['is empty', ['no']],
  ['is missing', ['no']],
  ['contains', ['has']],
  ['includes', ['has']],
  ['starts with', ['begins']],
  ['begins with', ['begins']],
  ['ends with', ['ends']],
  ['greater than', ['over']],
  ['more than', ['over']],
  ['less than', ['under']],
  ['above', ['over']],
  ['after', ['over']],
  ['below', ['under']],
  ['before', ['under']],
  ['between', ['from']],
  ['>=', ['since']],
  ['<=', ['until']],
  ['>', ['over']],
  ['<', ['under']],
  ['=', ['is']],
  [':', ['is']],
];

const OWN_COMPARES: ReadonlySet<string> = new Set(['is', 'under', 'over', 'since', 'until', 'from', 'not']);

/** Measures by the words before their amount. */
const MEASURES: Readonly<Record<string, readonly [name: string, compare: string]>> = {
  longer: ['length', 'over'],
  shorter: ['length', 'under'],
  larger: ['size', 'over'],
  bigger: ['size', 'over'],
  smaller: ['size', 'under'],
};

/** Names that can be used without a comparison: flags, and names that contain a word. */
const ALONE: ReadonlySet<string> = new Set(['lossless', 'compilation']);
/** The most words of a player's name. */
const MOST_PLAYER_WORDS = 6;
const ENDS_TEXT: ReadonlySet<string> = new Set(['and', 'or']);

/** Translates natural phrases into the query language; columns remain those of the original text. */
export function inOwnWords(tokens: readonly Token[], world: QueryWorld): readonly Token[] {
  return new Phrases(tokens, world).read();
}

class Phrases {
  private readonly out: Token[] = [];
  private at = 0;

  constructor(
    private readonly tokens: readonly Token[],
    private readonly world: QueryWorld,
  ) {}

  read(): readonly Token[] {
    while (this.at < this.tokens.length) if (!this.phrase()) this.copy();
    return this.out;
  }

  private phrase(): boolean {
    return (
      this.measure() ||
      this.inList() ||
      this.played() ||
      this.onPlayer() ||
      this.absence() ||
      this.decade() ||
      this.alone() ||
      this.named()
    );
  }

  /** `in list Long table`, `in no list`. */
  private inList(): boolean {
    if (this.word() !== 'in') return false;
    const how = this.word(1);
    if ((how === 'no' || how === 'any') && this.word(2) === 'list') {
      this.put(how, 'list');
      this.at += 3;
      return true;
    }
    if (how !== 'list') return false;
    this.put('list', 'is');
    this.at += 2;
    this.copyTextOn();
    return true;
  }

  /** `on Attic`, `never on Attic`, `plays on Attic`: words that are not the name of a player are searched as text. */
  private onPlayer(): boolean {
    const isNever = this.word() === 'never';
    const plays = this.word() === 'plays';
    const from = this.at + Number(isNever || plays);
    if (this.tokens[from]?.word !== 'on') return false;
    for (let words = MOST_PLAYER_WORDS; words > 0; words--) {
      const own = this.tokens.slice(from + 1, from + 1 + words);
      if (own.length < words || own.some(({ type }) => type === 'open' || type === 'close')) continue;
      const said = own.map(({ text }) => text).join(' ');
      const player = this.world.players.find((one) => sameName(one, said));
      if (player === undefined) continue;
      const { column, end } = this.tokens[from + 1] as Token;
      this.put(...(isNever ? ['not'] : []), ...(plays ? ['plays', 'on'] : ['player']), 'is');
      this.out.push({ type: 'quoted', text: player, word: '', column, end });
      this.at = from + 1 + words;
      return true;
    }
    return false;
  }

  /** `played`, `never played`, `played under 3 times`, `played 3 times`. */
  private played(): boolean {
    const isNever = this.word() === 'never' && this.word(1) === 'played';
    if (!isNever && (this.word() !== 'played' || this.isBehindNo())) return false;
    if (isNever) {
      this.put('played', 'is', '0');
      this.at += 2;
      return true;
    }
    const compare = this.compareAt(this.at + 1) ?? this.ownCompareAt(this.at + 1);
    const amount = this.at + 1 + (compare?.words ?? 0);
    const isCounted = /^\d+$/.test(this.tokens[amount]?.word ?? '');
    if (compare && !isCounted) return false;
    this.put('played', ...(isCounted ? (compare?.means ?? ['is']) : ['over', '0']));
    this.at = amount;
    if (isCounted) this.copy();
    if (isCounted && (this.word() === 'times' || this.word() === 'time')) this.at++;
    return true;
  }

  /** A word that compares as the language has it. */
  private ownCompareAt(at: number): { readonly means: readonly string[]; readonly words: number } | null {
    const word = this.tokens[at]?.word ?? '';
    return OWN_COMPARES.has(word) ? { means: [word], words: 1 } : null;
  }

  private isBehindNo(): boolean {
    return ['no', 'any', 'last'].includes(this.out.at(-1)?.word ?? '');
  }

  private word(ahead = 0): string {
    return this.tokens[this.at + ahead]?.word ?? '';
  }

  private copy(): void {
    const token = this.tokens[this.at++];
    if (token) this.out.push(token);
  }

  private put(...words: readonly string[]): void {
    const { column = 0, end = 0 } = this.tokens[this.at] ?? this.tokens[this.at - 1] ?? {};
    for (const word of words) {
      const type = word === '(' ? 'open' : word === ')' ? 'close' : 'word';
      this.out.push({ type, text: word, word: type === 'word' ? word : '', column, end });
    }
  }

  private measure(): boolean {
    const own = MEASURES[this.word()];
    if (!own || this.word(1) !== 'than') return false;
    this.put(...own);
    this.at += 2;
    return true;
  }

  /** `without picture`, `missing genre`, `has lyrics`. */
  private absence(): boolean {
    const means = { without: 'no', missing: 'no', with: 'any', has: 'any', having: 'any' }[this.word()];
    const found = means && this.nameAt(this.at + 1);
    if (!found) return false;
    this.put(means);
    this.at++;
    for (let word = 0; word < found.words; word++) this.copy();
    return true;
  }

  private decade(): boolean {
    const decade = /^(\d{3}0)s$/.exec(this.word())?.[1];
    if (!decade) return false;
    this.put('year', 'from', decade, 'to', String(Number(decade) + 9));
    this.at++;
    return true;
  }

  private alone(): boolean {
    const word = this.word();
    const isNamed =
      ['no', 'any'].includes(this.out.at(-1)?.word ?? '') || this.compareAt(this.at + 1) !== null;
    if (!ALONE.has(word) || isNamed) return false;
    const token = this.tokens[this.at] as Token;
    this.put('(', 'any', word, 'or');
    this.out.push({ ...token, type: 'quoted', word: '' });
    this.put(')');
    this.at++;
    return true;
  }

  private named(): boolean {
    const found = this.nameAt(this.at);
    if (!found) return false;
    const { name, words } = found;
    const compare = this.compareAt(this.at + words);
    const next = this.tokens[this.at + words];
    if (compare?.means[0] === 'no' || compare?.means[0] === 'any' || this.isOpenKind(name, words)) {
      this.put(compare?.means[0] ?? 'no');
      for (let word = 0; word < words; word++) this.copy();
      this.at += compare?.words ?? 2;
      return true;
    }
    for (let word = 0; word < words; word++) this.copy();
    if (name.type === 'date' && this.lately()) return true;
    if (compare) {
      const isText = name.type === 'text' && this.word() === ':';
      this.put(...(isText ? ['has'] : compare.means));
      this.at += compare.words;
    } else if (next?.type === 'word' && name.type !== 'text' && this.isAmount(next.word, name))
      this.put('is');
    if (name.type === 'text') this.copyText();
    else if (this.out.at(-1)?.word === 'from') this.copyRange();
    return true;
  }

  /** `in the last 2 months`, after the name of a date. */
  private lately(): boolean {
    if (this.word() !== 'in' || this.word(1) !== 'the' || this.word(2) !== 'last') return false;
    const hasCount = /^\d{1,4}$/.test(this.word(3));
    const unit = this.word(hasCount ? 4 : 3);
    const day = firstDayOf(hasCount ? Number(this.word(3)) : 1, unit, this.world.now);
    if (day === null) return false;
    const ago = hasCount ? `${Number(this.word(3))} ${unit}` : unit;
    this.put('since');
    this.put(day);
    this.out.push({ ...(this.out.pop() as Token), ago });
    this.at += hasCount ? 5 : 4;
    return true;
  }

  private isOpenKind(name: QueryName, words: number): boolean {
    return name.name === 'kind' && this.word(words) === 'is' && this.word(words + 1) === 'open';
  }

  private isAmount(word: string, { type }: QueryName): boolean {
    return type !== 'presence' && readAmount(word, type) !== null;
  }

  /** What is compared with a text is left alone, up to what ends it. */
  private copyText(): void {
    if (!['is', 'has', 'begins', 'ends', 'not'].includes(this.word() || (this.out.at(-1)?.word ?? '')))
      return;
    this.copyTextOn();
  }

  private copyTextOn(): void {
    while (this.at < this.tokens.length) {
      const token = this.tokens[this.at] as Token;
      if (token.type === 'open' || token.type === 'close' || ENDS_TEXT.has(token.word)) return;
      this.copy();
    }
  }

  /** `between 1980 and 1990` goes on with the end of it. */
  private copyRange(): void {
    for (let most = 0; most < 3 && this.word() !== '' && this.word() !== 'to'; most++) {
      if (this.word() === 'and') {
        this.put('to');
        this.at++;
        return;
      }
      this.copy();
    }
  }

  private compareAt(at: number): { readonly means: readonly string[]; readonly words: number } | null {
    for (const [said, means] of COMPARES) {
      const words = said.split(' ');
      if (words.every((word, index) => this.tokens[at + index]?.word === word))
        return { means, words: words.length };
    }
    return null;
  }

  private nameAt(at: number): { readonly name: QueryName; readonly words: number } | null {
    for (let words = MOST_NAME_WORDS; words > 0; words--) {
      const own = this.tokens.slice(at, at + words);
      if (own.length < words || own.some(({ type }) => type !== 'word')) continue;
      const name = findName(own.map(({ word }) => word).join(' '));
      if (name) return { name, words };
    }
    return null;
  }
}
