import type { Row } from '$lib/core/browse';
import type { Session } from '$lib/state/session.svelte';

/** Keys that every ledger of items shares. */
export function ledgerKeys(event: KeyboardEvent, row: Row | null, session: Session): void {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
    event.preventDefault();
    session.selection.set(session.scope.items.map(({ id }) => id));
  } else if (event.key === 'Delete') session.forget(session.selection.items);
  else if (row?.type === 'group' && event.key === (row.closed ? 'ArrowRight' : 'ArrowLeft'))
    session.scope.toggle(row);
  else if (event.key === 'Escape') session.selection.set([]);
}
