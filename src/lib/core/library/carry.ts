import { carriedOver, type Item } from '../items';
import type { Change } from './history';
import { sameOriginal } from './kept-item';

/**
 * A change applied to the present state of an item, whose file may have been read again or written since. What the
 * change touched gets its values; all else stays.
 */
export function carryOver(change: Change, current: Item | null): Change {
  const { id, before, after } = change;
  if (!current || !before || !after || current === before) return change;
  if (!sameOriginal(before, after) || sameOriginal(current, after)) return change;
  const { settled, gone, identity, gathering, foundBeside } = after;
  const edits = carriedOver(current, before, after);
  return {
    id,
    before: current,
    after: { ...current, edits, settled, gone, identity, gathering, foundBeside },
  };
}
