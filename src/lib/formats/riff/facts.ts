import { readAscii, readU16, readU16le, readU32, readU32le, UTF8, type ByteSource } from '$lib/core/bytes';
import { EMPTY_FIELDS, type Fields } from '$lib/core/items';
import { MOST_TAG_BYTES } from '../format';
import { readChunks, type ChunkOrder } from './chunks';
import { AIFF_ROWS, INFO_ROWS, fieldsIn, infoTexts, isAiffText, isInfo } from './texts';

/** What a WAV or AIFF file is, as its own chunks say. */
export interface RiffFacts {
  readonly codec: string | null;
  readonly channels: number | null;
  /** Hertz. */
  readonly sampleRate: number | null;
  /** Bits of a sample, of whole numbers. */
  readonly bits: number | null;
  readonly durationSeconds: number | null;
  /** Bytes of its samples. */
  readonly soundBytes: number | null;
  /** What its texts say: the INFO list of WAV, the text chunks of AIFF. */
  readonly said: Fields;
  /** The same as they stand there. */
  readonly texts: readonly (readonly [name: string, text: string])[];
}

/** Codes of sorts of sound in WAV (RFC 2361). */
const SORTS: Readonly<Record<number, string>> = {
  0x1: 'PCM',
  0x2: 'ADPCM',
  0x3: 'PCM float',
  0x6: 'A-law',
  0x7: 'µ-law',
  0x11: 'IMA ADPCM',
  0x31: 'GSM 6.10',
  0x50: 'MPEG 1 Layer 2',
  0x55: 'MPEG 1 Layer 3',
};
/** Its sort stands in the first bytes of a GUID behind (Multiple Channel Audio Data and WAVE Files, 2007). */
const EXTENSIBLE = 0xfffe;
/** Sorts whose frames all have as many bytes as their header says. */
const PLAIN: ReadonlySet<number> = new Set([0x1, 0x3, 0x6, 0x7]);
/** Codes of sorts of sound in AIFF-C; without one it is PCM. */
const COMPRESSIONS: Readonly<Record<string, string>> = {
  NONE: 'PCM',
  sowt: 'PCM',
  twos: 'PCM',
  in24: 'PCM',
  in32: 'PCM',
  fl32: 'PCM float',
  FL32: 'PCM float',
  fl64: 'PCM float',
  FL64: 'PCM float',
  alaw: 'A-law',
  ulaw: 'µ-law',
};

const NOTHING: RiffFacts = {
  codec: null,
  channels: null,
  sampleRate: null,
  bits: null,
  durationSeconds: null,
  soundBytes: null,
  said: EMPTY_FIELDS,
  texts: [],
};

/** @throws {FormatError} with more chunks than real files have */
export const readRiffFacts = (source: ByteSource, order: ChunkOrder): Promise<RiffFacts> =>
  order === 'riff' ? readWav(source) : readAiff(source);

/** `fmt ` and `fact` of WAV (Multimedia Programming Interface, chapter 3). */
async function readWav(source: ByteSource): Promise<RiffFacts> {
  let format: Uint8Array | null = null;
  let samples: number | null = null;
  let soundBytes: number | null = null;
  const texts: (readonly [string, string])[] = [];
  for await (const { id, start, end } of readChunks(source, 'riff')) {
    if (id === 'LIST' && end - start <= MOST_TAG_BYTES) {
      const list = await source.read(start, end);
      if (isInfo(list)) texts.push(...infoTexts(list));
    }
    if (id === 'fmt ') format = await source.read(start, Math.min(end, start + 40));
    if (id === 'fact' && end - start >= 4) samples = readU32le(await source.read(start, start + 4), 0);
    if (id === 'data') soundBytes ??= end - start;
  }
  const said = fieldsIn(INFO_ROWS, texts);
  if (!format || format.length < 16) return { ...NOTHING, soundBytes, said, texts };
  const code = readU16le(format, 0);
  const sort = code === EXTENSIBLE && format.length >= 26 ? readU16le(format, 24) : code;
  const sampleRate = readU32le(format, 4) || null;
  const byteRate = readU32le(format, 8);
  const frameBytes = readU16le(format, 12);
  const seconds = (): number | null => {
    if (sampleRate === null || soundBytes === null) return null;
    if (PLAIN.has(sort) && frameBytes > 0) return soundBytes / frameBytes / sampleRate;
    if (samples !== null && samples > 0) return samples / sampleRate;
    return byteRate > 0 ? soundBytes / byteRate : null;
  };
  return {
    ...NOTHING,
    codec: SORTS[sort] ?? null,
    channels: readU16le(format, 2) || null,
    sampleRate,
    bits: sort === 0x1 ? readU16le(format, 14) || null : null,
    durationSeconds: seconds(),
    soundBytes,
    said,
    texts,
  };
}

/** `COMM` and the texts of AIFF and AIFF-C (Audio Interchange File Format 1.3, sections 4 and 8). */
async function readAiff(source: ByteSource): Promise<RiffFacts> {
  let common: Uint8Array | null = null;
  let soundBytes: number | null = null;
  const texts: (readonly [string, string])[] = [];
  for await (const { id, start, end } of readChunks(source, 'iff')) {
    if (id === 'COMM') common = await source.read(start, Math.min(end, start + 22));
    // Before the samples stand an offset and the size of a block.
    if (id === 'SSND') soundBytes ??= Math.max(0, end - start - 8);
    if (!isAiffText(id) || end - start > MOST_TAG_BYTES) continue;
    const text = UTF8.decode(await source.read(start, end)).replace(/\0+$/, '');
    if (text.trim() !== '') texts.push([id, text]);
  }
  const said = fieldsIn(AIFF_ROWS, texts);
  if (!common || common.length < 18) return { ...NOTHING, soundBytes, said, texts };
  const sampleRate = readExtended(common, 8);
  const frames = readU32(common, 2);
  return {
    codec: common.length >= 22 ? (COMPRESSIONS[readAscii(common, 18, 4)] ?? readAscii(common, 18, 4)) : 'PCM',
    channels: readU16(common, 0) || null,
    sampleRate,
    bits:
      common.length < 22 || COMPRESSIONS[readAscii(common, 18, 4)] === 'PCM'
        ? readU16(common, 6) || null
        : null,
    durationSeconds: sampleRate ? frames / sampleRate : null,
    soundBytes,
    said,
    texts,
  };
}

/** A floating-point number of 80 bits, as AIFF says rates (IEEE 754, extended); null for none that is one. */
function readExtended(bytes: Uint8Array, at: number): number | null {
  const exponent = readU16(bytes, at) & 0x7fff;
  const value = (readU32(bytes, at + 2) * 2 ** 32 + readU32(bytes, at + 6)) * 2 ** (exponent - 16383 - 63);
  return Number.isFinite(value) && value > 0 ? value : null;
}
