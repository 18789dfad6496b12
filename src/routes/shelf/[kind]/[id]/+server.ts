import { error, json } from '@sveltejs/kit';
import { describeAddress } from '$lib/server/shelf';
import type { RequestHandler } from './$types';

/** What stands at an address of the shelf. */
export const GET: RequestHandler = ({ params }) => {
  const found = describeAddress(params.kind, params.id);
  if (!found) error(404, 'nothing stands at this address');
  return json(found);
};
