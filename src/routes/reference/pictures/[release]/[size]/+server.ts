import { error } from '@sveltejs/kit';
import { drawCover, findRelease } from '$lib/server/reference';
import type { RequestHandler } from './$types';

/** The cover of a release as PNG, in one of the sizes it is offered in. */
export const GET: RequestHandler = ({ params }) => {
  const release = findRelease(params.release);
  const size = Number(params.size);
  if (!release?.pictureSizes.includes(size)) error(404, 'no such picture');
  // Two editions of a title share their cover.
  const picture = drawCover(release.title, size);
  return new Response(new Uint8Array(picture), {
    headers: { 'content-type': 'image/png', 'cache-control': 'public, max-age=86400' },
  });
};
