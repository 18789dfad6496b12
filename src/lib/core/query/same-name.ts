import { foldText } from '../items';
import { foldCase } from '../naming';

/** A text as texts are compared: whatever its letter case, accents, Unicode form, and blanks. */
export const folded = (text: string): string => foldText(foldCase(text)).trim().replace(/\s+/g, ' ');

export const sameName = (one: string, other: string): boolean => folded(one) === folded(other);
