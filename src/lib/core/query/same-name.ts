import { foldText } from '../items';
import { foldCase } from '../naming';

/** Texts that are remembered: the same artists and genres are compared again and again. */
const MOST_REMEMBERED = 50_000;
const remembered = new Map<string, string>();

/** A text as texts are compared: whatever its letter case, accents, Unicode form, and blanks. */
export function folded(text: string): string {
  let fold = remembered.get(text);
  if (fold === undefined) {
    fold = foldText(foldCase(text)).trim().replace(/\s+/g, ' ');
    if (remembered.size >= MOST_REMEMBERED) remembered.clear();
    remembered.set(text, fold);
  }
  return fold;
}

export const sameName = (one: string, other: string): boolean => folded(one) === folded(other);
