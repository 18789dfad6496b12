import { fieldsOf, inFile, isEdited, unsaid, type Item, type Overlay } from '../items';
import type { Kind } from '../kinds';
import { toldKindOf, type OutgoingOf, type Unheld } from '../plan';
import type { OriginalJob } from './originals';

/**
 * Why nothing is written into an original. `browser`: Lectorum has only a copy of it. `gone`: it is missing. `locked`,
 * `format`: its tags cannot be written. `unheld`: its format cannot store the edits.
 */
export type WhyNot = 'browser' | 'gone' | 'locked' | 'format' | 'unheld';

/** What writing into one original would do. */
export type OriginalPlan =
  | {
      readonly type: 'writes';
      readonly item: Item;
      readonly changes: Overlay;
      /** The kind for its tags, for programs that use it. */
      readonly kind: Kind | null;
      readonly unheld: readonly Unheld[];
    }
  | { readonly type: 'cannot'; readonly item: Item; readonly why: WhyNot };

/** The change of an item's original; null if it matches the item. */
export function planOriginal(item: Item, inFolder: boolean, outgoingOf: OutgoingOf): OriginalPlan | null {
  if (!isEdited(item)) return null;
  const cannot = (why: WhyNot) => ({ type: 'cannot', item, why }) as const;
  if (!inFolder) return cannot('browser');
  if (item.gone !== null) return cannot('gone');
  if (item.facts.locked) return cannot('locked');
  const outgoing = outgoingOf(item, toldKindOf(item));
  if (!outgoing) return cannot('format');
  const { edits, unheld, kind } = outgoing;
  const changes = unsaid(item.file, edits);
  if (Object.keys(changes).length > 0) return { type: 'writes', item, changes, kind, unheld };
  return unheld.length > 0 ? cannot('unheld') : null;
}

export const jobOf = (item: Item, changes: Overlay, kind: Kind | null): OriginalJob => ({
  item: item.id,
  source: item.source,
  path: item.path,
  size: item.size,
  modified: item.modified,
  format: item.format,
  changes,
  ...(kind && { kind }),
  before: inFile(item.file, changes),
  expect: fieldsOf({ file: item.file, edits: changes }),
});
