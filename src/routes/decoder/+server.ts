import { Readable } from 'node:stream';
import { error, json } from '@sveltejs/kit';
import { Decoder, DecoderError } from '$lib/server/decoder';
import type { RequestHandler } from './$types';

const decoder = new Decoder();

/** A whole number of a query, within bounds; null for anything else. */
function numberIn(url: URL, name: string, least: number, most: number): number | null {
  const value = Number(url.searchParams.get(name));
  return Number.isInteger(value) && value >= least && value <= most ? value : null;
}

/** Whether sounds are decoded here. */
export const GET: RequestHandler = async () => json({ isThere: await decoder.isThere() });

/** The first sound of the file that is sent, as plain samples. */
export const POST: RequestHandler = async ({ request, url }) => {
  const sampleRate = numberIn(url, 'rate', 4000, 384_000);
  const channels = numberIn(url, 'channels', 1, 8);
  if (sampleRate === null || channels === null || !request.body) error(400, 'no file, rate or channels');
  try {
    const samples = await decoder.decode(request.body, { sampleRate, channels }, request.signal);
    return new Response(Readable.toWeb(samples) as ReadableStream, {
      headers: { 'content-type': 'application/octet-stream' },
    });
  } catch (reason) {
    if (reason instanceof DecoderError) error(reason.status, reason.message);
    throw reason;
  }
};
