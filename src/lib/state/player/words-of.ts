/** What went wrong, as whoever threw it says it. */
export const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
