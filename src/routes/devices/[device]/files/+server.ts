import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/devices';
import type { RequestHandler } from './$types';

/** Every file on the device with its size and digest; with `?in=` those right in one folder, which may be a hidden one. */
export const GET: RequestHandler = ({ params, url }) =>
  answering(params.device, async ({ disk }) => {
    const folder = url.searchParams.get('in');
    return json({ files: await (folder === null ? disk.list() : disk.listFolder(folder)) });
  });
