import { parsePattern, type PatternProblem, type PatternValues } from '$lib/core/naming';
import { partsBy } from './sources/source-names';

/** A pattern for names of files, which this browser remembers. */
export class KeptPattern {
  text = $state('');
  private readonly parsed = $derived(parsePattern(this.text));
  readonly problem: PatternProblem | null = $derived(
    this.parsed.type === 'wrong' ? this.parsed.problem : null,
  );

  /** @param key of the browser's storage */
  constructor(
    private readonly key: string,
    usual: string,
  ) {
    this.text = localStorage.getItem(key) ?? usual;
  }

  /** One with a problem is not remembered. */
  set(text: string): void {
    this.text = text;
    if (this.problem === null) localStorage.setItem(this.key, text);
  }

  /** The folders and the name for some values, without extension; null if there is no name, or a problem. */
  pathFor(values: PatternValues): string | null {
    const { parsed } = this;
    return parsed.type === 'wrong' ? null : partsBy(parsed.pattern, values).join('/') || null;
  }
}
