import { opml } from '$lib/server/feeds';
import type { RequestHandler } from './$types';

/** The host's shows as OPML. */
export const GET: RequestHandler = () => new Response(opml(), { headers: { 'content-type': 'text/x-opml' } });
