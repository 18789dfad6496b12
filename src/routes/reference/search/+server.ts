import { error, json } from '@sveltejs/kit';
import { array, mixed, number, object, string } from 'yup';
import { RELEASE_TYPES, type LookUp } from '$lib/core/identify';
import { FLOOD, SLOW_MS, currentManner, searchReference } from '$lib/server/reference';
import type { RequestHandler } from './$types';

const querySchema = object({
  type: mixed()
    .oneOf([...RELEASE_TYPES])
    .required(),
  words: string().max(500),
  lengths: array(number().min(0).required()).max(2000),
  fingerprints: array(string().defined()).max(200),
  number: string().max(200),
});

/** Looks releases up by what the query says. */
export const POST: RequestHandler = async ({ request }) => {
  const query: unknown = await request.json().catch(() => null);
  if (!querySchema.isValidSync(query, { strict: true })) error(400, 'not a look-up');
  const manner = currentManner();
  if (manner === 'failing') error(503, 'the reference is being put in order');
  if (manner === 'empty') return json({ releases: [], heard: [] });
  if (manner === 'flooding') return flood();
  if (manner === 'slow') await new Promise((resolve) => setTimeout(resolve, SLOW_MS));
  try {
    return json(searchReference(query as LookUp));
  } catch (failure) {
    if (failure instanceof RangeError) error(400, failure.message);
    throw failure;
  }
};

/** An answer without end, as from a service gone wrong. */
function flood(): Response {
  const encoder = new TextEncoder();
  const filler = `${JSON.stringify({ id: 'x', title: 'Flood '.repeat(40) })},`.repeat(200);
  let sent = 0;
  const body = new ReadableStream<Uint8Array>({
    start: (controller) => controller.enqueue(encoder.encode('{"releases":[')),
    pull: (controller) => {
      controller.enqueue(encoder.encode(filler));
      if ((sent += 200) >= FLOOD) {
        controller.enqueue(encoder.encode('{}],"heard":[]}'));
        controller.close();
      }
    },
  });
  return new Response(body, { headers: { 'content-type': 'application/json' } });
}
