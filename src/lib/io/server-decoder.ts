import { concat } from '$lib/core/bytes';
import { ServiceError } from './bounded-fetch';

/** Bytes of a sample. */
const SAMPLE = 4;

/** A sound that the server decodes. */
export interface ServerSound {
  /** Samples of each channel, between -1 and 1, some at a time; once. @throws {Error} where decoding breaks off */
  readonly samples: AsyncIterable<readonly Float32Array[]>;
  /** Ends it there, too, whether its samples were asked for or not. */
  end(): void;
}

/**
 * The first sound of a file as the server's decoder decodes it.
 * @throws {ServiceError} with the server's reason, and what to install where it has no decoder
 */
export async function fetchSamples(
  file: Blob,
  { sampleRate, channels }: { readonly sampleRate: number; readonly channels: number },
): Promise<ServerSound> {
  const stop = new AbortController();
  const answer = await fetch(`/decoder?rate=${sampleRate}&channels=${channels}`, {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/octet-stream' },
    signal: stop.signal,
  }).catch(() => {
    throw new ServiceError('unreachable', 'nothing answers');
  });
  if (!answer.ok || !answer.body) {
    const said = (await answer.json().catch(() => null)) as { message?: unknown } | null;
    const detail = typeof said?.message === 'string' ? said.message : `status ${answer.status}`;
    throw new ServiceError('refused', detail);
  }
  return { samples: framesOf(answer.body, channels), end: () => stop.abort() };
}

async function* framesOf(
  body: ReadableStream<Uint8Array>,
  channels: number,
): AsyncGenerator<readonly Float32Array[]> {
  const reader = body.getReader();
  let left: Uint8Array = new Uint8Array(0);
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const bytes = concat([left, value]);
    const count = Math.floor(bytes.length / (channels * SAMPLE));
    left = bytes.subarray(count * channels * SAMPLE);
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (count === 0) continue;
    const planes = Array.from({ length: channels }, () => new Float32Array(count));
    for (let frame = 0, at = 0; frame < count; frame++)
      for (const plane of planes) {
        plane[frame] = view.getFloat32(at, true);
        at += SAMPLE;
      }
    yield planes;
  }
}
