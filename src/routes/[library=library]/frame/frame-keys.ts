import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { Session } from '$lib/state/session.svelte';
import { STATIONS } from './stations';

const CARD = 'aside[aria-label="Card"]';

const cardOf = (target: EventTarget | null) => (target as HTMLElement).closest(CARD);

/** Moves the focus to the first field of the card, or to what else is first there. @returns whether there is any */
function intoCard(): boolean {
  const card = document.querySelector(CARD);
  const first =
    card?.querySelector<HTMLElement>('[data-field]') ??
    card?.querySelector<HTMLElement>('.questions :is(button, input, select, textarea)');
  first?.focus();
  return first !== null && first !== undefined;
}

/** Moves the focus to the ledger of the board. @returns whether there is one */
function backToLedger(): boolean {
  const ledger = document.querySelector<HTMLElement>('main :is([role="grid"], [role="listbox"])');
  ledger?.focus();
  return ledger !== null;
}

/** Keys that hold everywhere, left alone in fields: but for undo, once nothing is typed there that is not taken. */
export function frameKeys(
  event: KeyboardEvent,
  session: Session,
  open: { find: () => void; help: () => void; add: () => void },
  isTyping: boolean,
): void {
  const inField = (event.target as HTMLElement).closest('input, textarea, select, [role=dialog]') !== null;
  const command = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  if (command && key === 'k') {
    event.preventDefault();
    open.find();
    return;
  }
  // What stands behind a dialog is not changed by keys.
  const inDialog = (event.target as HTMLElement).closest('[role=dialog]') !== null;
  if (command && (key === 'z' || key === 'y') && !isTyping && !inDialog) {
    event.preventDefault();
    if (event.shiftKey || key === 'y') session.redo();
    else session.undo();
    return;
  }
  if (event.key === 'Escape' && !inDialog && cardOf(event.target) && backToLedger()) return;
  if (inField) return;
  if (key === 'e' && !command && !event.altKey && !event.shiftKey) {
    if (intoCard()) event.preventDefault();
  } else if (event.key === '?') open.help();
  else if (key === 'p' && !command && !event.altKey && session.selection.ids.size > 0) {
    event.preventDefault();
    open.add();
  } else if (!command && !event.altKey && /^[1-9]$/.test(key)) {
    const station = STATIONS[Number(key) - 1];
    if (station) void goto(`/${page.params.library}/${station.board}`);
  }
}
