import { madeOf, type MadeFile } from './made-of';
import { folderOf, nameOf, stemOf } from '../paths';
import { FIELDS, joinTexts, yearOf, type FieldName, type Fields, type FieldValue } from '../items';

/** Names in patterns in addition to fields: derived from fields, or known of the item. */
const DERIVED = [
  'year',
  'kind',
  'sourceName',
  'sourceFolder',
  // Of its first list on the player that it goes to.
  'place',
  'resolution',
  'codec',
  'soundLanguages',
  'subtitleLanguages',
] as const;
/** Names in patterns for list files. */
export const LIST_NAMES = ['list', 'group'] as const;
export type PatternField = FieldName | (typeof DERIVED)[number] | (typeof LIST_NAMES)[number];

const NAMED = FIELDS.filter(({ inNames }) => inNames);
/** Everything that a pattern may name and that this application can fill. */
export const PATTERN_FIELDS: readonly PatternField[] = [...NAMED.map(({ name }) => name), ...DERIVED];
export const NUMBER_FIELDS: ReadonlySet<PatternField> = new Set<PatternField>([
  ...NAMED.filter(({ type }) => type === 'number').map(({ name }) => name),
  'year',
]);

/** Values for a pattern; what is absent or empty counts as empty. */
export type PatternValues = Readonly<Partial<Record<PatternField, string | number | null>>>;

/** Columns count from 0, in UTF-16 units of the pattern's text. */
export type PatternNode =
  | { readonly type: 'text'; readonly text: string; readonly column: number }
  | { readonly type: 'folder'; readonly column: number }
  | { readonly type: 'field'; readonly names: readonly PatternField[]; readonly column: number }
  | { readonly type: 'optional'; readonly nodes: readonly PatternNode[]; readonly column: number };

export type Pattern = readonly PatternNode[];

export interface PatternProblem {
  readonly code:
    'unknownField' | 'unclosed' | 'unopened' | 'nothingEscaped' | 'nested' | 'folderInOptional' | 'noField';
  readonly column: number;
  readonly text: string;
}

export type ParsedPattern =
  | { readonly type: 'pattern'; readonly pattern: Pattern }
  | { readonly type: 'wrong'; readonly problem: PatternProblem };

class PatternError extends Error {
  constructor(readonly problem: PatternProblem) {
    super(problem.code);
  }
}

/**
 * Parses a pattern into its syntax tree, or returns the first error with its column.
 * @param names that it may use; by default those of items
 */
export function parsePattern(text: string, names: readonly PatternField[] = PATTERN_FIELDS): ParsedPattern {
  try {
    return { type: 'pattern', pattern: new Parser(text, names).parse() };
  } catch (error) {
    if (error instanceof PatternError) return { type: 'wrong', problem: error.problem };
    throw error;
  }
}

/** @throws {RangeError} when the pattern has a problem; for patterns validated before */
export function requirePattern(text: string, names: readonly PatternField[] = PATTERN_FIELDS): Pattern {
  const parsed = parsePattern(text, names);
  if (parsed.type === 'wrong')
    throw new RangeError(`pattern "${text}": ${parsed.problem.code} at column ${parsed.problem.column}`);
  return parsed.pattern;
}

class Parser {
  private at = 0;

  constructor(
    private readonly text: string,
    private readonly allowed: readonly PatternField[],
  ) {}

  parse(): Pattern {
    const nodes = this.nodes(-1);
    if (nodes.length === 0) this.fail('noField', 0, '');
    return nodes;
  }

  /** Nodes up to the end, or up to the `}` of the group opened at column `opened`. */
  private nodes(opened: number): PatternNode[] {
    const nodes: PatternNode[] = [];
    let literal = '';
    let literalColumn = this.at;
    const flush = () => {
      if (literal !== '') nodes.push({ type: 'text', text: literal, column: literalColumn });
      literal = '';
    };
    while (this.at < this.text.length) {
      const column = this.at;
      const letter = this.text[this.at] as string;
      if (letter === '\\' || !'{}/:'.includes(letter)) {
        if (literal === '') literalColumn = column;
        literal += letter === '\\' ? this.escaped() : letter;
        this.at++;
        continue;
      }
      flush();
      if (letter === '}') {
        if (opened < 0) this.fail('unopened', column, '}');
        this.at++;
        return nodes;
      }
      nodes.push(this.node(letter, column, opened >= 0));
    }
    flush();
    if (opened >= 0) this.fail('unclosed', opened, '{');
    return nodes;
  }

  private node(letter: string, column: number, inGroup: boolean): PatternNode {
    this.at++;
    if (letter === '/') {
      if (inGroup) this.fail('folderInOptional', column, '/');
      return { type: 'folder', column };
    }
    if (letter === ':') return { type: 'field', names: this.fieldNames(column), column };
    if (inGroup) this.fail('nested', column, '{');
    return { type: 'optional', nodes: this.nodes(column), column };
  }

  private escaped(): string {
    this.at++;
    const letter = this.text[this.at];
    if (letter === undefined) this.fail('nothingEscaped', this.at - 1, '\\');
    return letter;
  }

  private fieldNames(column: number): PatternField[] {
    const names: PatternField[] = [];
    do {
      const word = /^[A-Za-z]*/.exec(this.text.slice(this.at))?.[0] ?? '';
      if (!this.allowed.includes(word as PatternField)) this.fail('unknownField', column, word);
      names.push(word as PatternField);
      this.at += word.length;
    } while (/^\|[A-Za-z]/.test(this.text.slice(this.at)) && ++this.at);
    return names;
  }

  private fail(code: PatternProblem['code'], column: number, text: string): never {
    throw new PatternError({ code, column, text });
  }
}

/** Everything that a pattern asks for, totals included by which numbers are padded. */
export function namesIn(pattern: Pattern): readonly PatternField[] {
  const names = pattern.flatMap((node): readonly PatternField[] => {
    if (node.type === 'field') return node.names;
    return node.type === 'optional' ? namesIn(node.nodes) : [];
  });
  return [...new Set([...names, ...(names.length > 0 ? (['tracks', 'discs'] as const) : [])])];
}

/** The names of a file and its folder. */
export interface SourceNames {
  readonly name: string;
  /** Null if it is not in a folder. */
  readonly folder: string | null;
}

/** What the file at a path is called, and its folder. */
export const sourceNames = (path: string): SourceNames => ({
  name: stemOf(path),
  folder: nameOf(folderOf(path)) || null,
});

/**
 * The values of an item for patterns.
 * @param source the name of its file, without extension, and of its folder
 * @param made its file; null if unknown
 * @param names that are needed, if not all are
 */
export function patternValues(
  fields: Fields,
  kind: string | null,
  source: SourceNames,
  made: MadeFile | null = null,
  names: readonly PatternField[] = PATTERN_FIELDS,
): PatternValues {
  const values: Partial<Record<PatternField, string | number | null>> = {};
  for (const name of names)
    switch (name) {
      case 'kind':
        values.kind = kind;
        break;
      case 'sourceName':
        values.sourceName = source.name;
        break;
      case 'sourceFolder':
        values.sourceFolder = source.folder;
        break;
      case 'resolution':
      case 'codec':
      case 'soundLanguages':
      case 'subtitleLanguages':
        values[name] = made && madeOf(made, name);
        break;
      case 'year':
        values.year = yearOf(fields);
        break;
      case 'list':
      case 'group':
      case 'place':
        break;
      default:
        values[name] = shortOf(fields[name]);
    }
  return values;
}

function shortOf(value: FieldValue): string | number | null {
  if (typeof value === 'object') return value && joinTexts(value);
  return typeof value === 'boolean' ? null : value;
}

const isEmpty = (value: string | number | null | undefined) =>
  value === null || value === undefined || value === '';

/** The first of the field's names that has a value. */
export function firstFilled(names: readonly PatternField[], values: PatternValues): PatternField | null {
  return names.find((name) => !isEmpty(values[name])) ?? null;
}

export interface WrittenPath {
  /** Without extension; `/` between folders. Each part is made safe. */
  readonly parts: readonly string[];
  /** Fields outside optional parts that had no value. */
  readonly missing: readonly PatternField[];
}

/** How values become text for a target. */
export interface ValueWriter {
  /** Digits that numbers other than years are padded to; a larger total widens it. */
  readonly numberWidth: number;
  /** Makes one value safe within a name. It must never let `/` through. */
  readonly safeValue: (text: string) => string;
}

/** Writes the path that a pattern gives for these values. */
export function writePattern(pattern: Pattern, values: PatternValues, writer: ValueWriter): WrittenPath {
  const parts: string[] = [''];
  const missing: PatternField[] = [];
  const add = (text: string) => (parts[parts.length - 1] += text);
  for (const node of pattern) {
    if (node.type === 'folder') parts.push('');
    else if (node.type === 'text') add(node.text);
    else if (node.type === 'optional') add(writeOptional(node.nodes, values, writer));
    else {
      const name = firstFilled(node.names, values);
      if (name === null) missing.push(node.names[0] as PatternField);
      else add(writeValue(name, values, writer));
    }
  }
  return { parts, missing };
}

function writeOptional(nodes: readonly PatternNode[], values: PatternValues, writer: ValueWriter): string {
  let text = '';
  for (const node of nodes) {
    if (node.type === 'text') text += node.text;
    if (node.type !== 'field') continue;
    const name = firstFilled(node.names, values);
    if (name === null) return '';
    text += writeValue(name, values, writer);
  }
  return text;
}

/** Numbers by which names are put in order. */
const PADDED: ReadonlySet<PatternField> = new Set(['track', 'tracks', 'season', 'episode']);

function writeValue(name: PatternField, values: PatternValues, writer: ValueWriter): string {
  const value = values[name];
  if (typeof value !== 'number') return writer.safeValue(String(value));
  const total = name === 'track' ? values.tracks : name === 'disc' ? values.discs : null;
  const width = PADDED.has(name) ? writer.numberWidth : 1;
  return String(value).padStart(name === 'year' ? 4 : Math.max(width, String(total ?? '').length), '0');
}
