import { json } from '@sveltejs/kit';
import { DEMO_MODIFIED, listDemo } from '$lib/server/demo';
import type { RequestHandler } from './$types';

/** The demo household's files. */
export const GET: RequestHandler = async () => json({ modified: DEMO_MODIFIED, files: await listDemo() });
