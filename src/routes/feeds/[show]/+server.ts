import { error } from '@sveltejs/kit';
import { sendFeed } from '$lib/server/feeds';
import type { RequestHandler } from './$types';

/** A show's feed. */
export const GET: RequestHandler = ({ params }) => sendFeed(params.show) ?? error(404, 'no such feed');
