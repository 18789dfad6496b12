import type { Item, ItemId } from '../items';
import type { PartChange } from './parts';

/** Items before and after one act. Null for an item that is not in the library. */
export interface Change {
  readonly id: ItemId;
  readonly before: Item | null;
  readonly after: Item | null;
}

/** One act with the name that undo and redo show. */
export interface Act {
  readonly label: string;
  readonly changes: readonly Change[];
  /** Changes to parts of the library other than items. */
  readonly parts?: readonly PartChange[];
}

/** The most acts that can be undone. */
const MOST_ACTS = 200;

/** Acts that were done and undone, newest last. Plain data that never changes in place. */
export interface History {
  readonly done: readonly Act[];
  readonly undone: readonly Act[];
}

export const EMPTY_HISTORY: History = { done: [], undone: [] };

/** Adds an act. Undone acts can then no longer be redone. */
export function record(history: History, act: Act): History {
  if (act.changes.length === 0 && (act.parts ?? []).length === 0) return history;
  return { done: [...history.done, act].slice(-MOST_ACTS), undone: [] };
}

/** The last act reversed, and the history without it; null if there is nothing to undo. */
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

/** The act that was undone last; null if there is none. */
export function redo(history: History): { readonly act: Act; readonly history: History } | null {
  const act = history.undone.at(-1);
  if (!act) return null;
  return { act, history: { done: [...history.done, act], undone: history.undone.slice(0, -1) } };
}
