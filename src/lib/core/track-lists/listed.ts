/** An entry as a list says it; what it does not say is missing. */
export interface ListedEntry {
  readonly number?: number;
  readonly disc?: number;
  readonly title?: string;
  readonly artist?: string;
  readonly lengthSeconds?: number;
  /** `YYYY-MM-DD`. */
  readonly date?: string;
  readonly description?: string;
  /** Its numbers in other orders. */
  readonly aired?: number;
  readonly pressed?: number;
  readonly running?: number;
}

/** A list of tracks or episodes as it was pasted, typed or read. */
export interface ListedRelease {
  readonly title: string | null;
  readonly maker: string | null;
  readonly year: number | null;
  readonly entries: readonly ListedEntry[];
}
