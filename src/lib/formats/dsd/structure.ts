import {
  readAscii,
  readPartHead,
  readU16,
  readU32,
  readU32le,
  readU64,
  type ByteRange,
  type ByteSource,
} from '$lib/core/bytes';
import { FormatError, MOST_OUTER_PARTS, limitParts } from '../format';
import type { DsdSound } from './samples';

/** A file of sound in samples of one bit. */
export interface DsdStructure {
  readonly format: 'dsf' | 'dff';
  readonly sound: DsdSound;
  /** The content of its ID3v2 tag; null where it has none. */
  readonly tag: ByteRange | null;
}

/**
 * What a DSF (DSF File Format Specification 1.01) or a DFF (DSDIFF File Format Specification 1.5) holds.
 * @throws {FormatError} `cutShort` where bytes are missing, `notThisFormat` where its sound is packed
 */
export async function readDsd(source: ByteSource, evenCut = false): Promise<DsdStructure> {
  const isDsf = readAscii(await source.read(0, 4), 0, 4) === 'DSD ';
  const structure = await (isDsf ? readDsf : readDff)(source);
  const missing = structure.sound.end - source.size;
  if (missing > 0 && !evenCut)
    throw new FormatError('cutShort', `its end is missing, about ${missing} bytes`);
  return structure;
}

const readU64le = (bytes: Uint8Array, at: number): number =>
  readU32le(bytes, at) + readU32le(bytes, at + 4) * 2 ** 32;

/** Bytes of the first chunk of a DSF, and of the heads of those behind it. */
const DSF_HEAD = 28;
const DSF_CHUNK_HEAD = 12;

async function readDsf(source: ByteSource): Promise<DsdStructure> {
  const head = await source.read(0, DSF_HEAD + 52);
  const formatBytes = readU64le(head, DSF_HEAD + 4);
  const dataAt = DSF_HEAD + formatBytes;
  const data = await source.read(dataAt, dataAt + DSF_CHUNK_HEAD);
  if (readAscii(head, DSF_HEAD, 4) !== 'fmt ' || readAscii(data, 0, 4) !== 'data')
    throw new FormatError('damaged', 'it does not say how its samples are written');
  const field = (at: number) => readU32le(head, DSF_HEAD + at);
  if (field(16) !== 0)
    throw new FormatError('notThisFormat', 'its sound is packed in a manner that is not read here');
  const start = dataAt + DSF_CHUNK_HEAD;
  const tagAt = readU64le(head, 20);
  return {
    format: 'dsf',
    sound: checked({
      channels: field(24),
      sampleRate: field(28),
      samples: readU64le(head, DSF_HEAD + 36),
      block: field(44),
      lowestFirst: field(32) === 1,
      start,
      end: start + readU64le(data, 4) - DSF_CHUNK_HEAD,
    }),
    tag: tagAt >= start && tagAt < source.size ? { start: tagAt, end: source.size } : null,
  };
}

/** A chunk of a DFF: its content, as long as it says. */
export interface DffChunk {
  readonly id: string;
  readonly start: number;
  readonly end: number;
}

/** Bytes before the first chunk of a DFF, and of a chunk's head. */
export const DFF_HEAD = 16;
export const DFF_CHUNK_HEAD = 12;

/** The chunks between two places, in order; they are padded to even lengths. @throws {FormatError} `tooMuch` */
export async function* readDffChunks(source: ByteSource, from: number, to: number): AsyncGenerator<DffChunk> {
  let count = 0;
  for (let at = from; at + DFF_CHUNK_HEAD <= to;) {
    limitParts(++count, 'chunks', MOST_OUTER_PARTS);
    const head = await readPartHead(source, count, at, at + DFF_CHUNK_HEAD);
    const start = at + DFF_CHUNK_HEAD;
    const end = start + readU64(head, 4);
    yield { id: readAscii(head, 0, 4), start, end };
    at = end + ((end - start) % 2);
  }
}

export const isTagChunk = ({ id }: DffChunk): boolean => /^id3 $/i.test(id);

async function readDff(source: ByteSource): Promise<DsdStructure> {
  let said: Pick<DsdSound, 'channels' | 'sampleRate'> | null = null;
  let data: DffChunk | null = null;
  let tag: ByteRange | null = null;
  for await (const chunk of readDffChunks(source, DFF_HEAD, source.size)) {
    if (chunk.id === 'PROP') said = await readProperties(source, chunk);
    if (chunk.id === 'DSD ') data ??= chunk;
    if (chunk.id === 'DST ')
      throw new FormatError('notThisFormat', 'its sound is packed as DST, which is not read here');
    if (isTagChunk(chunk)) tag ??= { start: chunk.start, end: Math.min(chunk.end, source.size) };
  }
  if (!said || !data) throw new FormatError('damaged', 'it does not say how its samples are written');
  const { start, end } = data;
  const samples = Math.floor((end - start) / Math.max(1, said.channels)) * 8;
  return {
    format: 'dff',
    sound: checked({ ...said, samples, block: 1, lowestFirst: false, start, end }),
    tag,
  };
}

async function readProperties(source: ByteSource, { start, end }: DffChunk) {
  let [channels, sampleRate] = [0, 0];
  for await (const { id, start: at } of readDffChunks(source, start + 4, Math.min(end, source.size))) {
    const head = await source.read(at, at + 4);
    if (id === 'FS  ') sampleRate = readU32(head, 0);
    if (id === 'CHNL') channels = readU16(head, 0);
    if (id === 'CMPR' && readAscii(head, 0, 4) !== 'DSD ')
      throw new FormatError(
        'notThisFormat',
        `its sound is packed as ${readAscii(head, 0, 4).trim()}, which is not read here`,
      );
  }
  return { channels, sampleRate };
}

/** Channels of the sounds that there are, and bytes of a block: files that say more are damaged, or mean harm. */
const MOST_CHANNELS = 8;
const MOST_BLOCK = 1 << 20;

function checked(sound: DsdSound): DsdSound {
  const { channels, sampleRate, block } = sound;
  const isPlain =
    channels >= 1 && channels <= MOST_CHANNELS && sampleRate > 0 && block >= 1 && block <= MOST_BLOCK;
  if (!isPlain) throw new FormatError('damaged', 'it does not say how its samples are written');
  return sound;
}
