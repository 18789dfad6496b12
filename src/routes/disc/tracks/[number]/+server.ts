import { error } from '@sveltejs/kit';
import { readTrack } from '$lib/server/disc';
import type { RequestHandler } from './$types';

/** One track as it is read, at the drive's speed. */
export const GET: RequestHandler = ({ params }) => {
  const track = readTrack(Number(params.number));
  if (!track) error(404, 'no such track, or no disc');
  return new Response(track.body, {
    headers: { 'content-type': 'audio/wav', 'content-length': String(track.bytes) },
  });
};
