import type { Handle } from '@sveltejs/kit';
import { guarded, isStandIn, refusalOf, refuse } from '$lib/server/guard';

export const handle: Handle = async ({ event, resolve }) => {
  if (!isStandIn(event.url.pathname)) return resolve(event);
  const refusal = refusalOf(event.request, event.url);
  return refusal === null ? guarded(await resolve(event)) : refuse(refusal);
};
