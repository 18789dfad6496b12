/** What stands above a column of a ledger. */
export interface Head {
  /** Empty for a column that has no head. */
  readonly name: string;
  /** Where rows can be put in order by it: how they are, and what to do to have them so. */
  readonly order?: {
    readonly is: 'ascending' | 'descending' | null;
    readonly by: () => void;
  };
  /** Where it can be made wider: its share of the width, and by how many of those. */
  readonly widen?: { readonly width: number; readonly by: (pixels: number) => void };
  /** Its name takes all of a narrow column, and stands in its middle. */
  readonly isTight?: boolean;
  /** Its cells stand at its right end. */
  readonly right?: boolean;
}

/** Heads that are names alone. */
export const named = (names: readonly string[]): readonly Head[] => names.map((name) => ({ name }));
