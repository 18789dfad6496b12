import { ServiceError } from './bounded-fetch';

/** Bytes of a sample. */
const SAMPLE = 4;

/**
 * The first sound of a file as the server's decoder decodes it, some samples of each channel at a time. It is asked at
 * once; ending what is returned ends it there, too.
 * @throws {ServiceError} with the server's reason, and what to install where it has no decoder
 */
export async function fetchSamples(
  file: Blob,
  { sampleRate, channels }: { readonly sampleRate: number; readonly channels: number },
): Promise<AsyncGenerator<readonly Float32Array[], void, undefined>> {
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
  return framesOf(answer.body, channels, stop);
}

async function* framesOf(
  body: ReadableStream<Uint8Array>,
  channels: number,
  stop: AbortController,
): AsyncGenerator<readonly Float32Array[], void, undefined> {
  const reader = body.getReader();
  let left = new Uint8Array(0);
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      const bytes = new Uint8Array(left.length + value.length);
      bytes.set(left);
      bytes.set(value, left.length);
      const count = Math.floor(bytes.length / (channels * SAMPLE));
      left = bytes.slice(count * channels * SAMPLE);
      const view = new DataView(bytes.buffer);
      if (count > 0)
        yield Array.from({ length: channels }, (_, channel) =>
          Float32Array.from({ length: count }, (_value, at) =>
            view.getFloat32((at * channels + channel) * SAMPLE, true),
          ),
        );
    }
  } finally {
    stop.abort();
  }
}
