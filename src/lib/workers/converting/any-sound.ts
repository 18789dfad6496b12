import { cachedSource } from '$lib/core/bytes';
import { FORMAT_ENDINGS, type FormatId } from '$lib/core/items';
import { readMedia } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import { fetchSamples } from '$lib/io/server-converter';
import { NoDecoderError, openSound, type SoundSource } from './sound-source';

/**
 * The first sound of a file, decoded here, or else by the server's converter.
 * @throws {NoDecoderError} saying what neither of them decodes, and what to install where the server has no converter
 */
export async function openAnySound(file: Blob, format: FormatId): Promise<SoundSource> {
  try {
    return await openSound(file, format);
  } catch (error) {
    if (!(error instanceof NoDecoderError) || error.isSilent) throw error;
    return serverSource(file, format, error);
  }
}

async function serverSource(file: Blob, format: FormatId, why: NoDecoderError): Promise<SoundSource> {
  const { facts } = await readMedia(cachedSource(blobSource(file)), `sound.${FORMAT_ENDINGS[format][0]}`);
  const stream = facts.streams.find(({ type }) => type === 'sound');
  const [sampleRate, channels] = [stream?.sampleRate ?? 48_000, Math.min(stream?.channels ?? 2, 8)];
  const { samples, end } = await fetchSamples(file, { sampleRate, channels }).catch((error: unknown) => {
    const detail = error instanceof Error ? error.message : String(error);
    throw new NoDecoderError(`${why.message}, and on the server ${detail}`);
  });
  return {
    sampleRate,
    channels,
    bits: 24,
    samples: () => samples,
    end,
  };
}
