import { concat } from '$lib/core/bytes';
import { PieceReader } from '$lib/core/pieces';
import { ServiceError } from './bounded-fetch';

/** Bytes of a sample. */
const SAMPLE = 4;

/** A sound that the server decodes. */
export interface ServerSound {
  /** Samples of each channel, between -1 and 1, in blocks; can be read once. @throws {Error} if decoding fails */
  readonly samples: AsyncIterable<readonly Float32Array[]>;
  /** Ends decoding on the server too, whether samples were requested or not. */
  end(): void;
}

/**
 * The first audio track of a file, decoded by the server's converter.
 * @throws {ServiceError} with the server's reason, and what to install if it has no converter
 */
export async function fetchSamples(
  file: Blob,
  { sampleRate, channels }: { readonly sampleRate: number; readonly channels: number },
): Promise<ServerSound> {
  const stop = new AbortController();
  const body = await ask(file, { rate: String(sampleRate), channels: String(channels) }, stop.signal);
  return { samples: framesOf(body, channels), end: () => stop.abort() };
}

/** What video is encoded to, as in `VideoRecipe`, and whether its audio is copied. */
export interface VideoQuestion {
  readonly picture: {
    readonly codec: string;
    readonly width: number;
    readonly height: number;
    readonly bitrate: number;
  } | null;
  readonly keepsSounds: boolean;
}

/**
 * A video in Matroska made by the server's converter: video as requested, audio copied or lossless.
 * @param write called with its bytes, in order
 * @param tell called with the seconds that are done
 * @throws {ServiceError} with the server's reason, and what to install if it has no converter; Error if it fails
 */
export async function fetchVideo(
  file: Blob,
  { picture, keepsSounds }: VideoQuestion,
  write: (bytes: Uint8Array<ArrayBuffer>) => void,
  tell: (seconds: number) => void,
): Promise<void> {
  const { codec, width, height, bitrate } = picture ?? {};
  const query = {
    video: '',
    ...(keepsSounds && { keepsSounds: '' }),
    ...(codec !== undefined && {
      codec,
      width: String(width),
      height: String(height),
      bitrate: String(bitrate),
    }),
  };
  const reader = (await ask(file, query)).getReader();
  const pieces = new PieceReader((kind, content) => {
    if (kind === 'bytes') write(content as Uint8Array<ArrayBuffer>);
    else tell(Number(new TextDecoder().decode(content)));
  });
  for (let next = await reader.read(); !next.done; next = await reader.read()) pieces.add(next.value);
  if (!pieces.isWhole) throw new Error('the converter on the server broke off');
}

/** @throws {ServiceError} */
async function ask(
  file: Blob,
  query: Readonly<Record<string, string>>,
  signal?: AbortSignal,
): Promise<ReadableStream<Uint8Array<ArrayBuffer>>> {
  const answer = await fetch(`/converter?${new URLSearchParams(query).toString()}`, {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/octet-stream' },
    ...(signal && { signal }),
  }).catch(() => {
    throw new ServiceError('unreachable', 'nothing answers');
  });
  if (answer.ok && answer.body) return answer.body;
  const said = (await answer.json().catch(() => null)) as { message?: unknown } | null;
  const detail = typeof said?.message === 'string' ? said.message : `status ${answer.status}`;
  throw new ServiceError('refused', detail);
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
