import { error, json } from '@sveltejs/kit';
import { DISCS, driveState, eject, insertDisc } from '$lib/server/disc';
import { readJson } from '$lib/server/guard';
import type { RequestHandler } from './$types';

/** What the drive sees, and the discs that lie beside it. */
export const GET: RequestHandler = () =>
  json({ ...driveState(), beside: DISCS.map(({ id, written }) => ({ id, written })) });

/** Puts a disc in. */
export const PUT: RequestHandler = async ({ request }) => {
  const disc = (await readJson(request))?.disc;
  if (typeof disc !== 'string') error(400, 'names no disc');
  try {
    insertDisc(disc);
  } catch (failure) {
    if (failure instanceof RangeError) error(404, failure.message);
    throw failure;
  }
  return json(driveState());
};

/** Ejects. */
export const DELETE: RequestHandler = () => {
  eject();
  return json(driveState());
};
