import { error } from '@sveltejs/kit';
import { sendPart } from '$lib/server/feeds';
import type { RequestHandler } from './$types';

/** What belongs to an episode. */
export const GET: RequestHandler = ({ params, request }) =>
  sendPart(params.show, params.part, Number(params.number), request.headers.get('range')) ??
  error(404, 'no such part');
