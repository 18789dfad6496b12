import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { Session } from '$lib/state/session.svelte';
import { STATIONS } from './stations';

/** Keys that hold everywhere, left alone while something is typed. */
export function frameKeys(
  event: KeyboardEvent,
  session: Session,
  open: { find: () => void; help: () => void },
): void {
  const typing = (event.target as HTMLElement).closest('input, textarea, select, [role=dialog]') !== null;
  const command = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  if (command && key === 'k') {
    event.preventDefault();
    open.find();
    return;
  }
  if (typing) return;
  if (command && key === 'z') {
    event.preventDefault();
    if (event.shiftKey) session.redo();
    else session.undo();
  } else if (event.key === '?') open.help();
  else if (!command && !event.altKey && /^[1-9]$/.test(key)) {
    const station = STATIONS[Number(key) - 1];
    if (station) void goto(`/${page.params.library}/${station.board}`);
  }
}
