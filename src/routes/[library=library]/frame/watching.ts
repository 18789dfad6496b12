import { WatchDesk } from '$lib/state/sources/watch-desk.svelte';
import type { Session } from '$lib/state/session.svelte';

/** The session's one desk for watched folders. */
export const watchDesk = (session: Session): WatchDesk => session.part('watch', () => new WatchDesk(session));
