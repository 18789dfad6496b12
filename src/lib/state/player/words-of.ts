/** The message of an error. */
export const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
