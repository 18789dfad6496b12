import { Readable } from 'node:stream';
import { error, json } from '@sveltejs/kit';
import {
  Converter,
  ConverterError,
  isPictureCodec,
  type WantedVideo,
  type WantedSound,
} from '$lib/server/converter';
import type { RequestHandler } from './$types';

const converter = new Converter();

/** A whole number of a query, within bounds; null for anything else. */
function numberIn({ searchParams }: URL, name: string, least: number, most: number): number | null {
  const value = Number(searchParams.get(name) ?? NaN);
  return Number.isInteger(value) && value >= least && value <= most ? value : null;
}

/** What a query asks for; null where it asks for nothing that is known. */
function wantedBy(url: URL): WantedSound | WantedVideo | null {
  if (!url.searchParams.has('video')) {
    const sampleRate = numberIn(url, 'rate', 4000, 384_000);
    const channels = numberIn(url, 'channels', 1, 8);
    return sampleRate === null || channels === null ? null : { type: 'sound', sampleRate, channels };
  }
  const keepsSounds = url.searchParams.has('keepsSounds');
  const codec = url.searchParams.get('codec');
  if (codec === null) return { type: 'video', picture: null, keepsSounds };
  const width = numberIn(url, 'width', 2, 16_384);
  const height = numberIn(url, 'height', 2, 16_384);
  const bitrate = numberIn(url, 'bitrate', 1000, 1e9);
  if (!isPictureCodec(codec) || width === null || height === null || bitrate === null) return null;
  return { type: 'video', picture: { codec, width, height, bitrate }, keepsSounds };
}

/** Whether files are converted here. */
export const GET: RequestHandler = async () => json({ isThere: await converter.isThere() });

/** The first sound of the file that is sent, as plain samples; or a video, in pieces. */
export const POST: RequestHandler = async ({ request, url }) => {
  const wanted = wantedBy(url);
  if (wanted === null || !request.body) error(400, 'no file, or nothing that is asked for');
  try {
    const converted = await converter.convert(request.body, wanted, request.signal);
    return new Response(Readable.toWeb(converted) as ReadableStream, {
      headers: { 'content-type': 'application/octet-stream' },
    });
  } catch (reason) {
    if (reason instanceof ConverterError) error(reason.status, reason.message);
    throw reason;
  }
};
