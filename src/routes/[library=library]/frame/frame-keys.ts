import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { Session } from '$lib/state/session.svelte';
import { STATIONS } from './stations';

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
  if (inField) return;
  if (event.key === '?') open.help();
  else if (key === 'p' && !command && !event.altKey && session.selection.ids.size > 0) {
    event.preventDefault();
    open.add();
  } else if (!command && !event.altKey && /^[1-9]$/.test(key)) {
    const station = STATIONS[Number(key) - 1];
    if (station) void goto(`/${page.params.library}/${station.board}`);
  }
}
