/*
 * In a genre's frame `(17)` and, from ID3v2.4 on, a bare `17` refer to a numbered list, and `((` stands for an opening
 * bracket (ID3v2.3.0, section 4.2.1, TCON). A name that begins with a bracket is written so that nobody takes it for a
 * reference; a name that is a number cannot be.
 */

export const escapeGenre = (genre: string): string => (genre.startsWith('(') ? `(${genre}` : genre);
export const unescapeGenre = (text: string): string => text.replace(/^\(\(/, '(');
export const isReference = (genre: string): boolean => /^(\d{1,3}|RX|CR)$/.test(genre);
