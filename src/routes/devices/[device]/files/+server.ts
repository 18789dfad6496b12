import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/devices';
import type { RequestHandler } from './$types';

/** Every file on the device with its size and digest. */
export const GET: RequestHandler = ({ params }) =>
  answering(params.device, async ({ disk }) => json({ files: await disk.list() }));
