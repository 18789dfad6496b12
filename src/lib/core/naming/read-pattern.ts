import { NUMBER_FIELDS, type Pattern, type PatternField, type PatternNode } from './pattern';

export type ReadValues = Readonly<Partial<Record<PatternField, string | number>>>;

export interface Reading {
  readonly values: ReadValues;
  /** Higher is likelier. Only orders readings of one path. */
  readonly score: number;
}

/** Steps after which a hostile name is given up, so that reading stays linear in practice. */
const MOST_STEPS = 20_000;
const MOST_READINGS = 8;

/**
 * Every way to read a path (without its extension) by a pattern, likeliest first; none when it
 * does not fit. Runs of blanks and `_` count as one blank. Two readings with the same values count once.
 */
export function readPattern(pattern: Pattern, path: string): readonly Reading[] {
  const reader = new Reader(path.normalize('NFC').replace(/[\s_]+/g, ' '));
  reader.match(flatten(pattern), 0, 0, {}, 0);
  const unlike = new Map(reader.found.map((reading) => [keyOf(reading.values), reading]));
  return [...unlike.values()].sort((a, b) => b.score - a.score).slice(0, MOST_READINGS);
}

const keyOf = (values: ReadValues) => JSON.stringify(Object.entries(values).sort());

type Flat =
  Exclude<PatternNode, { type: 'optional' }> | { readonly type: 'optional'; readonly nodes: readonly Flat[] };

/** Blanks in the pattern's own text are folded as in the path. */
function flatten(nodes: readonly PatternNode[]): readonly Flat[] {
  return nodes.map((node): Flat => {
    if (node.type === 'text') return { ...node, text: node.text.replace(/[\s_]+/g, ' ') };
    return node.type === 'optional' ? { type: 'optional', nodes: flatten(node.nodes) } : node;
  });
}

class Reader {
  readonly found: Reading[] = [];
  private steps = 0;

  constructor(private readonly path: string) {}

  match(nodes: readonly Flat[], index: number, at: number, values: ReadValues, score: number): void {
    if (++this.steps > MOST_STEPS || this.found.length > 64) return;
    const node = nodes[index];
    if (node === undefined) {
      if (at === this.path.length) this.found.push({ values, score });
      return;
    }
    switch (node.type) {
      case 'optional': {
        const rest = nodes.slice(index + 1);
        this.match([...node.nodes, ...rest], 0, at, values, score + 4);
        this.match(rest, 0, at, values, score);
        return;
      }
      case 'folder':
        if (this.path[at] === '/') this.match(nodes, index + 1, at + 1, values, score);
        return;
      case 'text':
        if (this.path.startsWith(node.text, at))
          this.match(nodes, index + 1, at + node.text.length, values, score);
        return;
      case 'field':
        this.field(node.names[0] as PatternField, nodes, index, at, values, score);
    }
  }

  private field(
    name: PatternField,
    nodes: readonly Flat[],
    index: number,
    at: number,
    values: ReadValues,
    score: number,
  ): void {
    const numeric = NUMBER_FIELDS.has(name);
    for (let end = at + 1; end <= this.path.length && this.path[end - 1] !== '/'; end++) {
      if (numeric && !/\d/.test(this.path[end - 1] as string)) return;
      if (numeric && /\d/.test(this.path[end] ?? '')) continue;
      if (name === 'year' && end - at !== 4) continue;
      const value = capture(name, this.path.slice(at, end));
      if (value === null) continue;
      const known = values[name];
      if (known !== undefined && known !== value) continue;
      // A text that still contains a separator was probably meant to be split there.
      const torn = typeof value === 'string' ? (value.match(/ - |^\d+[ .-]/g)?.length ?? 0) : 0;
      this.match(nodes, index + 1, end, { ...values, [name]: value }, score + (numeric ? 3 : 1) - 2 * torn);
    }
  }
}

function capture(name: PatternField, text: string): string | number | null {
  const trimmed = text.trim();
  if (trimmed === '') return null;
  return NUMBER_FIELDS.has(name) ? Number(trimmed) : trimmed;
}
