import { error } from '@sveltejs/kit';
import { findShowTitle } from '$lib/server/feeds';
import { drawCover } from '$lib/server/reference';
import type { RequestHandler } from './$types';

/** A show's picture as PNG, 600 pixels square. */
export const GET: RequestHandler = ({ params }) => {
  const title = findShowTitle(params.show);
  if (!title) error(404, 'no such show');
  return new Response(new Uint8Array(drawCover(title, 600)), { headers: { 'content-type': 'image/png' } });
};
