import type { Item, ItemId } from '../items';
import type { PartChange } from './parts';

/** Items before and after one act. Null stands for an item that is not in the library. */
export interface Change {
  readonly id: ItemId;
  readonly before: Item | null;
  readonly after: Item | null;
}

/** One act by its name, as undo and redo tell it. */
export interface Act {
  readonly label: string;
  readonly changes: readonly Change[];
  /** What the act changed beside the items, entry by entry. */
  readonly parts?: readonly PartChange[];
}

/** Acts that can be undone, at the most. */
const MOST_ACTS = 200;

/** What was done and undone, newest last. Plain data: nothing in here changes in place. */
export interface History {
  readonly done: readonly Act[];
  readonly undone: readonly Act[];
}

export const EMPTY_HISTORY: History = { done: [], undone: [] };

/** A new act closes the way to what was undone before. */
export function record(history: History, act: Act): History {
  if (act.changes.length === 0 && (act.parts ?? []).length === 0) return history;
  return { done: [...history.done, act].slice(-MOST_ACTS), undone: [] };
}

/** The last act turned round, and the history without it; null when nothing is left to undo. */
export function undo(history: History): { readonly act: Act; readonly history: History } | null {
  const act = history.done.at(-1);
  if (!act) return null;
  const turned = act.changes.map(({ id, before, after }) => ({ id, before: after, after: before }));
  const parts = act.parts?.map((change) => ({ ...change, before: change.after, after: change.before }));
  return {
    act: { label: act.label, changes: turned, parts },
    history: { done: history.done.slice(0, -1), undone: [...history.undone, act] },
  };
}

/** The act undone last, once more; null when there is none. */
export function redo(history: History): { readonly act: Act; readonly history: History } | null {
  const act = history.undone.at(-1);
  if (!act) return null;
  return { act, history: { done: [...history.done, act], undone: history.undone.slice(0, -1) } };
}
