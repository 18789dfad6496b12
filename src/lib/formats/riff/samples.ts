import {
  ascii,
  concat,
  readAscii,
  readU16,
  readU16le,
  readU32,
  u32le,
  type ByteSource,
} from '$lib/core/bytes';
import { FormatError } from '../format';
import { readChunks } from './chunks';
import { orderOf } from './layout';
import { readRiffFacts } from './facts';

/** How plain samples are written. */
export interface PlainSound {
  readonly channels: number;
  /** Hertz. */
  readonly sampleRate: number;
  /** Bits that a sample says: of what is companded as many as it stands for. */
  readonly bits: number;
  /** Bytes of one sample of one channel. */
  readonly width: number;
  readonly coding: 'whole' | 'unsigned' | 'float' | 'aLaw' | 'muLaw';
  readonly littleEndian: boolean;
  /** Where the samples lie. */
  readonly start: number;
  readonly end: number;
}

/**
 * How the samples of a WAV or an AIFF are written.
 * @throws {FormatError} where they are none, or packed in a manner that is not read here
 */
export async function readPlainSound(source: ByteSource): Promise<PlainSound> {
  const order = await orderOf(source);
  const { codec, channels, sampleRate } = await readRiffFacts(source, order);
  if (!channels || !sampleRate || codec === null)
    throw new FormatError('damaged', 'it does not say how its samples are written');
  const coding = { PCM: 'whole', 'PCM float': 'float', 'A-law': 'aLaw', 'µ-law': 'muLaw' }[codec] as
    PlainSound['coding'] | undefined;
  if (!coding) throw new FormatError('notThisFormat', `samples of ${codec} are not read here`);
  const { bits, littleEndian, range } = await layoutOf(source, order);
  const width = coding === 'aLaw' || coding === 'muLaw' ? 1 : Math.ceil(bits / 8);
  const isRead = coding === 'float' ? width === 4 || width === 8 : width >= 1 && width <= 4;
  if (!range || !isRead) throw new FormatError('damaged', `samples of ${bits} bits`);
  return {
    channels,
    sampleRate,
    bits: coding === 'aLaw' || coding === 'muLaw' ? 14 : coding === 'float' ? 24 : bits,
    width,
    // In WAV, what has one byte stands above zero throughout (Multimedia Programming Interface, chapter 3).
    coding: coding === 'whole' && width === 1 && order === 'riff' ? 'unsigned' : coding,
    littleEndian,
    ...range,
  };
}

async function layoutOf(source: ByteSource, order: 'riff' | 'iff') {
  let bits = 0;
  let littleEndian = order === 'riff';
  let range: { readonly start: number; readonly end: number } | null = null;
  for await (const { id, start, end } of readChunks(source, order)) {
    if (id === 'fmt ') bits = readU16le(await source.read(start, start + 16), 14);
    if (id === 'COMM') {
      const common = await source.read(start, Math.min(end, start + 22));
      bits = readU16(common, 6);
      const packing = common.length >= 22 ? readAscii(common, 18, 4) : '';
      if (packing === 'sowt') littleEndian = true;
      if (packing === 'in24' || packing === 'in32') bits = Number(packing.slice(2));
      if (/^fl(32|64)$/i.test(packing)) bits = Number(packing.slice(2));
    }
    if (id === 'data' && !range) range = { start, end };
    // Before the samples stand an offset and the size of a block.
    if (id === 'SSND' && !range) {
      const offset = readU32(await source.read(start, start + 4), 0);
      range = { start: Math.min(end, start + 8 + offset), end };
    }
  }
  return { bits, littleEndian, range };
}

/** Samples that are read at once. */
const AT_ONCE = 65_536;

/** The samples of each channel, between -1 and 1, some at a time. */
export async function* plainSamples(
  source: ByteSource,
  sound: PlainSound,
): AsyncGenerator<readonly Float32Array[]> {
  const { channels, width, start, end } = sound;
  const frame = channels * width;
  const last = start + Math.floor((end - start) / frame) * frame;
  const value = readerOf(sound);
  for (let at = start; at < last; at += AT_ONCE * frame) {
    const bytes = await source.read(at, Math.min(last, at + AT_ONCE * frame));
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const count = Math.floor(bytes.length / frame);
    yield Array.from({ length: channels }, (_, channel) => {
      const samples = new Float32Array(count);
      for (let index = 0; index < count; index++)
        samples[index] = value(view, index * frame + channel * width);
      return samples;
    });
  }
}

type ReadValue = (view: DataView, at: number) => number;

function readerOf({ coding, width, littleEndian }: PlainSound): ReadValue {
  switch (coding) {
    case 'unsigned':
      return (view, at) => (view.getUint8(at) - 128) / 128;
    case 'aLaw':
      return (view, at) => expandA(view.getUint8(at)) / 32_768;
    case 'muLaw':
      return (view, at) => expandMu(view.getUint8(at)) / 32_768;
    case 'float':
      return width === 8
        ? (view, at) => view.getFloat64(at, littleEndian)
        : (view, at) => view.getFloat32(at, littleEndian);
    case 'whole':
      return wholeReader(width, littleEndian);
  }
}

function wholeReader(width: number, littleEndian: boolean): ReadValue {
  switch (width) {
    case 1:
      return (view, at) => view.getInt8(at) / 128;
    case 2:
      return (view, at) => view.getInt16(at, littleEndian) / 32_768;
    case 3:
      return littleEndian
        ? (view, at) => ((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 8_388_608
        : (view, at) => ((view.getInt8(at) << 16) | view.getUint16(at + 1)) / 8_388_608;
    default:
      return (view, at) => view.getInt32(at, littleEndian) / 2_147_483_648;
  }
}

/** ITU-T G.711, section 3.3: A-law. */
function expandA(byte: number): number {
  const code = byte ^ 0x55;
  const exponent = (code >> 4) & 7;
  const mantissa = ((code & 15) << 4) + 8;
  const size = exponent === 0 ? mantissa : (mantissa + 0x100) << (exponent - 1);
  return code & 0x80 ? size : -size;
}

/** ITU-T G.711, section 3.4: µ-law. */
function expandMu(byte: number): number {
  const code = ~byte & 0xff;
  const size = ((((code & 15) << 3) + 0x84) << ((code >> 4) & 7)) - 0x84;
  return code & 0x80 ? -size : size;
}

/** The head of a WAV of 16 bits, before its samples. @param bytes of all samples */
export function wavHeader(channels: number, sampleRate: number, bytes: number): Uint8Array<ArrayBuffer> {
  const frame = channels * 2;
  return concat([
    ascii('RIFF'),
    u32le(36 + bytes),
    ascii('WAVEfmt '),
    u32le(16),
    Uint8Array.of(1, 0, channels, 0),
    u32le(sampleRate),
    u32le(sampleRate * frame),
    Uint8Array.of(frame, 0, 16, 0),
    ascii('data'),
    u32le(bytes),
  ]) as Uint8Array<ArrayBuffer>;
}
