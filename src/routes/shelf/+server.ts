import { json } from '@sveltejs/kit';
import { describeShelf } from '$lib/server/shelf';
import type { RequestHandler } from './$types';

/** Everything on the Boathouse shelf. */
export const GET: RequestHandler = () => json(describeShelf());
