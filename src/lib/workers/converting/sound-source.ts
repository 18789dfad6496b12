import { ALL_FORMATS, AudioSampleSink, BlobSource, Input, type InputAudioTrack } from 'mediabunny';
import { cachedSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { decimationOf } from '$lib/core/sound';
import { AlacDecoder, type AlacConfig } from '$lib/formats/alac';
import { dsdSamples, readDsd } from '$lib/formats/dsd';
import { findFirstFrame, readEncoderSilence, readMp3, type EncoderSilence } from '$lib/formats/mp3';
import { readAlacTrack, readSoundSpan, type AlacTrack, type SoundSpan } from '$lib/formats/mp4';
import { plainSamples, readPlainSound } from '$lib/formats/riff';
import { blobSource } from '$lib/io/blob-source';

/** A sound that is being decoded. */
export interface SoundSource {
  /** Hertz. */
  readonly sampleRate: number;
  readonly channels: number;
  /** Bits that its samples say: 16, unless the file says more; what has lost something says as many as are asked for. */
  readonly bits: number;
  /** Samples of each channel, between -1 and 1, some at a time. @throws {Error} where decoding breaks off */
  samples(): AsyncIterable<readonly Float32Array[]>;
  end(): void;
}

/** Nothing here decodes a file: what it is. */
export class NoDecoderError extends Error {
  override readonly name = 'NoDecoderError';

  /** @param isSilent whether it holds no sound at all */
  constructor(
    detail: string,
    readonly isSilent = false,
  ) {
    super(detail);
  }
}

/** The first sound of a file, whichever decoder takes it: the browser's, or ours for plain samples, DSD and Apple Lossless. */
export async function openSound(file: Blob, format: FormatId): Promise<SoundSource> {
  if (format === 'wav' || format === 'aiff') return plainSource(file);
  if (format === 'dsf' || format === 'dff') return dsdSource(file);
  if (format === 'mp3') return decodedSource(file, { silence: await silenceOf(file), span: null });
  if (format !== 'mp4') return decodedSource(file, WHOLE);
  const source = cachedSource(blobSource(file));
  const track = await readAlacTrack(source);
  return track
    ? alacSource(file, track)
    : decodedSource(file, { silence: null, span: await readSoundSpan(source) });
}

async function plainSource(file: Blob): Promise<SoundSource> {
  const source = blobSource(file);
  const sound = await readPlainSound(cachedSource(source));
  const { sampleRate, channels, bits } = sound;
  return { sampleRate, channels, bits, samples: () => plainSamples(source, sound), end() {} };
}

async function dsdSource(file: Blob): Promise<SoundSource> {
  const source = blobSource(file);
  const { sound } = await readDsd(cachedSource(source));
  const { rate } = decimationOf(sound.sampleRate) ?? {};
  if (!rate) throw new NoDecoderError(`DSD of ${sound.sampleRate} Hz is not decoded here`);
  const { channels } = sound;
  return { sampleRate: rate, channels, bits: 24, samples: () => dsdSamples(source, sound), end() {} };
}

/** Packets that are read at once. */
const PACKETS_AT_ONCE = 64;

function alacSource(file: Blob, { config, packets }: AlacTrack): SoundSource {
  const { sampleRate, channels, bits } = config;
  return { sampleRate, channels, bits, samples: () => alacSamples(file, config, packets), end() {} };
}

async function* alacSamples(
  file: Blob,
  config: AlacConfig,
  packets: AlacTrack['packets'],
): AsyncGenerator<readonly Float32Array[]> {
  const decoder = new AlacDecoder(config);
  const scale = 2 ** (config.bits - 1);
  for (let at = 0; at < packets.length; at += PACKETS_AT_ONCE) {
    const some = packets.slice(at, at + PACKETS_AT_ONCE);
    const from = Math.min(...some.map(({ start }) => start));
    const to = Math.max(...some.map(({ start, size }) => start + size));
    const bytes = new Uint8Array(await file.slice(from, to).arrayBuffer());
    for (const { start, size } of some) {
      const frame = decoder.decode(bytes.subarray(start - from, start - from + size));
      yield frame.map((channel) => Float32Array.from(channel, (value) => value / scale));
    }
  }
}

/** Samples that a decoder of MP3 puts before what it decodes (528, and one that is the filter's own). */
const DECODER_DELAY = 529;
/** Bytes of a first frame that are looked at. */
const HEAD_BYTES = 1024;

/** What of a decoded MP3 is no sound of its own, as it says itself; null where it does not. */
async function silenceOf(file: Blob): Promise<EncoderSilence | null> {
  const source = cachedSource(blobSource(file));
  const { audioStart } = await readMp3(source);
  const first = await findFirstFrame(source, audioStart);
  return first === null ? null : readEncoderSilence(await source.read(first, first + HEAD_BYTES));
}

/** Leaves out the first samples, and the last; what is left of a piece may be nothing. */
async function* within(
  samples: AsyncIterable<readonly Float32Array[]>,
  before: number,
  behind: number,
): AsyncGenerator<readonly Float32Array[]> {
  let skip = before;
  let held: readonly Float32Array[] = [];
  for await (const piece of samples) {
    const cut = Math.min(skip, piece[0]?.length ?? 0);
    skip -= cut;
    const all = piece.map((own, channel) => joined(held[channel], own.subarray(cut)));
    const count = all[0]?.length ?? 0;
    const told = Math.max(0, count - behind);
    held = all.map((own) => own.subarray(told));
    if (told > 0) yield all.map((own) => own.subarray(0, told));
  }
}

function joined(first: Float32Array | undefined, second: Float32Array): Float32Array {
  if (!first || first.length === 0) return second;
  const both = new Float32Array(first.length + second.length);
  both.set(first);
  both.set(second, first.length);
  return both;
}

/** What of a decoded file is its sound, and what its encoder put before and behind it. */
interface Extent {
  readonly silence: EncoderSilence | null;
  /** Null where nothing is said of that. */
  readonly span: SoundSpan | null;
}
const WHOLE: Extent = { silence: null, span: null };

/** Some seconds of one of several sounds. @param id by which its container knows it */
export async function openTrack(
  file: Blob,
  id: number,
  { fromSeconds, seconds }: { readonly fromSeconds: number; readonly seconds: number },
): Promise<SoundSource> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = (await input.getAudioTracks()).find((one) => one.id === id);
    if (!track) throw new NoDecoderError('there is no such sound in it', true);
    await expectDecoder(track);
    const { sampleRate, channels } = await whatComesOut(track);
    return {
      sampleRate,
      channels,
      bits: 24,
      samples: () => someSamples(track, fromSeconds, fromSeconds + seconds),
      end: () => input.dispose(),
    };
  } catch (error) {
    input.dispose();
    throw error;
  }
}

/** From the packet on in which a time lies. */
async function* someSamples(
  track: InputAudioTrack,
  from: number,
  to: number,
): AsyncGenerator<readonly Float32Array[]> {
  for await (const sample of new AudioSampleSink(track).samples(from, to)) {
    const { numberOfChannels, numberOfFrames } = sample;
    const planes = Array.from({ length: numberOfChannels }, (_, planeIndex) => {
      const plane = new Float32Array(numberOfFrames);
      sample.copyTo(plane, { planeIndex, format: 'f32-planar' });
      return plane;
    });
    sample.close();
    yield planes;
  }
}

/** @throws {NoDecoderError} naming the codec where nothing here decodes it */
export async function expectDecoder(track: InputAudioTrack): Promise<void> {
  if (track.codec === 'ac3' || track.codec === 'eac3') (await import('@mediabunny/ac3')).registerAc3Decoder();
  if (!(await track.canDecode()))
    throw new NoDecoderError(`the browser cannot decode ${track.codec ?? 'its codec'}`);
}

async function decodedSource(file: Blob, { silence, span }: Extent): Promise<SoundSource> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    if (!(await input.canRead()))
      throw new NoDecoderError('the browser has no decoder for files of this kind');
    const track = await input.getPrimaryAudioTrack();
    if (!track) throw new NoDecoderError('there is no sound in it', true);
    await expectDecoder(track);
    // What comes out may have another rate and other channels than the file says (AAC with SBR and PS does).
    const { sampleRate, channels } = await whatComesOut(track);
    return {
      sampleRate,
      channels,
      bits: await bitsOf(track),
      samples: () =>
        silence
          ? within(
              decodedSamples(track, null),
              silence.before + DECODER_DELAY,
              Math.max(0, silence.behind - DECODER_DELAY),
            )
          : decodedSamples(track, span),
      end: () => input.dispose(),
    };
  } catch (error) {
    input.dispose();
    throw error;
  }
}

/** Rate and channels of the first sound that decodes: the first packets of some codecs give none. */
async function whatComesOut(track: InputAudioTrack) {
  for await (const sample of new AudioSampleSink(track).samples()) {
    const { sampleRate, numberOfChannels: channels } = sample;
    sample.close();
    return { sampleRate, channels };
  }
  throw new Error('no sound comes out of it');
}

async function* decodedSamples(
  track: InputAudioTrack,
  span: SoundSpan | null,
): AsyncGenerator<readonly Float32Array[]> {
  let rate: number | null = null;
  for await (const sample of new AudioSampleSink(track).samples()) {
    const { numberOfChannels, numberOfFrames, timestamp, sampleRate } = sample;
    rate ??= sampleRate;
    if (sampleRate !== rate) {
      sample.close();
      throw new Error(`its sample rate changes from ${rate} to ${sampleRate} Hz`);
    }
    // What lies before its start, or behind its end, is the encoder's own.
    const first = Math.max(0, Math.round(((span?.start ?? 0) - timestamp) * sampleRate));
    const last = span ? Math.round((span.end - timestamp) * sampleRate) : numberOfFrames;
    try {
      if (first >= Math.min(last, numberOfFrames)) continue;
      yield Array.from({ length: numberOfChannels }, (_, planeIndex) => {
        const plane = new Float32Array(numberOfFrames);
        sample.copyTo(plane, { planeIndex, format: 'f32-planar' });
        return plane.subarray(first, Math.min(last, numberOfFrames));
      });
    } finally {
      sample.close();
    }
  }
}

/** Bits of a sample as FLAC says them in its STREAMINFO (RFC 9639, section 8.2); 24 for what is decoded to more than 16. */
async function bitsOf(track: InputAudioTrack): Promise<number> {
  if (track.codec !== 'flac') return track.codec?.startsWith('pcm-') ? pcmBits(track.codec) : 24;
  const { description } = (await track.getDecoderConfig()) ?? {};
  if (!description) return 24;
  const bytes = ArrayBuffer.isView(description)
    ? new Uint8Array(description.buffer, description.byteOffset, description.byteLength)
    : new Uint8Array(description);
  // Its mark, and the head of the block.
  const at = 8 + 12;
  return (((bytes[at] ?? 0) & 1) << 4) + ((bytes[at + 1] ?? 0xf0) >> 4) + 1;
}

const pcmBits = (codec: string): number => Math.min(24, Number(/\d+/.exec(codec)?.[0] ?? 16));
