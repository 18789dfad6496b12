import { json } from '@sveltejs/kit';
import { scanDisk } from '$lib/server/attic';
import type { RequestHandler } from './$types';

/** What Attic shows, from a scan of its own disk. */
export const GET: RequestHandler = async () => json(await scanDisk());
