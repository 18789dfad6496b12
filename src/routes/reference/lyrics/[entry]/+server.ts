import { error, json } from '@sveltejs/kit';
import { lyricsOf } from '$lib/server/reference';
import type { RequestHandler } from './$types';

/** The words of a song. */
export const GET: RequestHandler = ({ params }) => {
  const lyrics = lyricsOf(params.entry);
  if (lyrics === null) error(404, 'no lyrics');
  return json({ lyrics });
};
