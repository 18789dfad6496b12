/** A word, quoted text or bracket of a query, with its position: from `column` to before `end`, in UTF-16 units. */
export interface Token {
  readonly type: 'word' | 'quoted' | 'open' | 'close';
  readonly text: string;
  /** The word in lower case; empty if it is not a plain word. */
  readonly word: string;
  readonly column: number;
  readonly end: number;
  /** For a computed date: the relative date as written, such as `2 months`. */
  readonly ago?: string;
}
