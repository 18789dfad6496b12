import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/devices';
import type { RequestHandler } from './$types';

/** Whether the device is there, and how much room its disk has: bytes in all, of files, and taken by others. */
export const GET: RequestHandler = ({ params }) =>
  answering(params.device, async ({ disk }) => json(await disk.room()));
