import type { ByteRange, ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { readDsd } from '../dsd';
import { readFlac } from '../flac';
import { clusterRanges } from '../matroska';
import { readMp3 } from '../mp3';
import { mediaRanges, readMp4 } from '../mp4';
import { readHeaderPackets, readPage } from '../ogg';
import { readChunks, type ChunkOrder } from '../riff';

/**
 * Where the sound and picture samples of a file lie, in order: what stays the same when only its tags change.
 * Two files with equal bytes there hold the same recording, whatever their tags and names.
 * @throws {FormatError} when the structure cannot be read
 */
export async function* locate(source: ByteSource, format: FormatId): AsyncGenerator<ByteRange> {
  switch (format) {
    case 'wav':
      return yield* chunksOf(source, 'data', 'riff');
    case 'aiff':
      return yield* chunksOf(source, 'SSND', 'iff');
    case 'opus':
    case 'vorbis':
    case 'oggFlac':
      return yield* pageBodies(source);
    case 'matroska':
      return yield* clusterRanges(source);
    case 'flac':
      return yield { start: (await readFlac(source)).audioStart, end: source.size };
    case 'mp4':
      return yield* mediaRanges(await readMp4(source));
    case 'dsf':
    case 'dff': {
      const { start, end } = (await readDsd(source)).sound;
      return yield { start, end };
    }
    case 'mp3': {
      const { audioStart, audioEnd } = await readMp3(source);
      return yield { start: audioStart, end: audioEnd };
    }
  }
}

async function* chunksOf(source: ByteSource, wanted: string, order: ChunkOrder): AsyncGenerator<ByteRange> {
  for await (const { id, start, end } of readChunks(source, order)) if (id === wanted) yield { start, end };
}

/** Bodies of the pages behind the header packets, whose own numbers and checksums change with the tags (RFC 3533, section 6). */
async function* pageBodies(source: ByteSource): AsyncGenerator<ByteRange> {
  let { end: at } = await readHeaderPackets(source);
  for (let page = await readPage(source, at); page; page = await readPage(source, at)) {
    yield { start: page.body, end: Math.min(page.end, source.size) };
    at = page.end;
  }
}
