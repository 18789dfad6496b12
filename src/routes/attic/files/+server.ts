import { json } from '@sveltejs/kit';
import { listFiles } from '$lib/server/attic';
import type { RequestHandler } from './$types';

/** Every file on Attic with its size and digest. */
export const GET: RequestHandler = async () => json({ files: await listFiles() });
