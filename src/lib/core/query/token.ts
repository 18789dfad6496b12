/** A word of a query, a text in quotes, or a bracket, with where it stands: from `column` to before `end`, in letters. */
export interface Token {
  readonly type: 'word' | 'quoted' | 'open' | 'close';
  readonly text: string;
  /** The word in lower case; empty for what is no plain word. */
  readonly word: string;
  readonly column: number;
  readonly end: number;
  /** Of a day that was reckoned: how far back it lies, as it was said, such as `2 months`. */
  readonly ago?: string;
}
