import type { ByteSource } from '$lib/core/bytes';
import { EMPTY_FIELDS } from '$lib/core/items';
import { readRiffFacts } from '../riff';
import { NOTHING_SAID, inTime, over, soundStream, type FormatRead } from './media-read';
import { textTags } from './native-tags';
import { readId3Said } from './read-id3';
import { readChunkTag } from './whole';

/** Sorts of texts that lie in chunks of their own, as facts name them. */
const SORTS = { wav: 'INFO', aiff: 'AIFF' } as const;

/**
 * A WAV or AIFF file by its chunks: what its ID3v2 tag says comes before what its texts say, which say the rest.
 * @throws {FormatError} with more chunks than real files have
 */
export async function readChunkedMedia(source: ByteSource, format: 'wav' | 'aiff'): Promise<FormatRead> {
  const order = format === 'wav' ? 'riff' : 'iff';
  const found = await readChunkTag(source, order);
  const tag = found && readId3Said(found.tag, found.said);
  const { codec, channels, sampleRate, bits, durationSeconds, soundBytes, said, texts } = await readRiffFacts(
    source,
    order,
  );
  const sort = SORTS[format];
  return {
    format,
    native: [...(tag?.native ?? []), ...textTags(sort, texts)],
    file: {
      fields: over(tag?.fields ?? EMPTY_FIELDS, said),
      pictures: tag?.pictures ?? [],
      ...inTime(found?.said ?? NOTHING_SAID),
    },
    facts: {
      tagFormats: [...(tag ? [tag.sort] : []), ...(texts.length > 0 ? [sort] : [])],
      streams: [soundStream(codec, channels, sampleRate, bits)],
      durationSeconds,
      ...(soundBytes !== null && { soundBytes }),
    },
  };
}
