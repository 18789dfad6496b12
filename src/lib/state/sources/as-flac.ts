import type { TwinId } from '$lib/core/twins';
import { readRiffFacts } from '$lib/formats/riff';
import { blobSource } from '$lib/io/blob-source';
import { detached } from '$lib/io/detached';
import { newId } from '$lib/io/new-id';
import { dropTwinFile } from '$lib/io/twin-files';
import { ConvertClient } from '$lib/workers/convert-client';

/**
 * The sound of a WAV file as FLAC, sample for sample: the result is decoded again and compared.
 * @returns null if it cannot be encoded, or if it was cancelled
 */
export async function asFlac(
  library: string,
  wav: Blob,
  path: string,
  signal: AbortSignal,
): Promise<File | null> {
  const { sampleRate, channels, bits, durationSeconds } = await readRiffFacts(blobSource(wav), 'riff');
  if (sampleRate === null || channels === null || durationSeconds === null || bits === null || bits > 24)
    return null;
  const twin = newId() as TwinId;
  const client = new ConvertClient();
  const stop = () => client.end();
  signal.addEventListener('abort', stop);
  try {
    const result = await client.assemble(
      {
        library,
        twin,
        parts: [
          {
            name: path,
            file: wav,
            format: 'wav',
            fromSeconds: 0,
            toSeconds: null,
            leastSeconds: durationSeconds,
          },
        ],
        recipe: { codec: 'flac', bitrate: null, sampleRate, channels, mostBits: bits > 16 ? 24 : 16 },
        fadeInSeconds: 0,
        fadeOutSeconds: 0,
        seconds: durationSeconds,
      },
      () => {},
    );
    return result.type === 'failed' ? null : await detached(result.file, path);
  } catch {
    // Ended: nothing waits for it any more.
    return null;
  } finally {
    signal.removeEventListener('abort', stop);
    client.end();
    await dropTwinFile(library, twin);
  }
}
