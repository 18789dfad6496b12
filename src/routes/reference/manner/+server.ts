import { error, json } from '@sveltejs/kit';
import { readJson } from '$lib/server/guard';
import { MANNERS, currentManner, setManner } from '$lib/server/reference';
import type { RequestHandler } from './$types';

/** How the reference behaves now, and how it can be made to. */
export const GET: RequestHandler = () => json({ manner: currentManner(), manners: MANNERS });

export const PUT: RequestHandler = async ({ request }) => {
  const manner = (await readJson(request))?.manner;
  if (typeof manner !== 'string') error(400, 'names no manner');
  try {
    setManner(manner);
  } catch (failure) {
    if (failure instanceof RangeError) error(400, failure.message);
    throw failure;
  }
  return json({ manner: currentManner(), manners: MANNERS });
};
