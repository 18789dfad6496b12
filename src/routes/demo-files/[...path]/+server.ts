import { error } from '@sveltejs/kit';
import { openDemo } from '$lib/server/demo';
import type { RequestHandler } from './$types';

/** One file of the demo household. */
export const GET: RequestHandler = async ({ params }) => {
  const file = await openDemo(params.path);
  if (!file) error(404, 'the demo has no such file');
  return new Response(file.body, {
    headers: { 'content-type': 'application/octet-stream', 'content-length': String(file.size) },
  });
};
