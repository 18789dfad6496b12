import { error } from '@sveltejs/kit';
import { sendTrack } from '$lib/server/shelf';
import type { RequestHandler } from './$types';

/** A track's bytes, whole or from where a Range header says. */
export const GET: RequestHandler = ({ params, request }) =>
  sendTrack(params.id, request.headers.get('range')) ?? error(403, 'its owner does not offer it');
