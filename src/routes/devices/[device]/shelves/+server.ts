import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/devices';
import type { RequestHandler } from './$types';

/** What the device shows, from a scan of its own disk. */
export const GET: RequestHandler = ({ params }) =>
  answering(params.device, async (device) => json(await device.scan()));
