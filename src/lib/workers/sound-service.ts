import { ALL_FORMATS, BlobSource, Input, VideoSampleSink } from 'mediabunny';
import { createXXHash64 } from 'hash-wasm';
import { cachedSource } from '$lib/core/bytes';
import type { Cue, FormatId } from '$lib/core/items';
import {
  FINGERPRINT_SECONDS,
  LoudnessMeter,
  MonoBuffer,
  Resampler,
  SpeechMeter,
  WholeSamples,
  fingerprintText,
  levelOf,
  type LoudnessBlocks,
} from '$lib/core/sound';
import { wavHeader } from '$lib/formats/riff';
import { WRITABLE } from '$lib/formats';
import { locate } from '$lib/formats/payload';
import { blobSource } from '$lib/io/blob-source';
import { fingerprint } from '$lib/io/fingerprint';
import { spanBlob } from '$lib/io/span-blob';
import { openAnySound } from './converting/any-sound';
import { NoDecoderError, openSound, openTrack, type SoundSource } from './converting/sound-source';
import { serveAnswers, type Port } from './worker-client';
import type { HeardLevels, Listened, SoundRequest } from './sound-protocol';

type Asked<T> = Extract<SoundRequest, { type: T }>;

/** Decodes files and says what is heard, for whoever asks through a port. */
export function serveListening(port: Port): void {
  serveAnswers<SoundRequest, number>(port, (request, tellHeard) => {
    switch (request.type) {
      case 'listen':
        return listen(request.file, request.format, request.whole);
      case 'levels':
        return levels(request.file, request.format, tellHeard);
      case 'loudness':
        return loudness(request.file, request.format, tellHeard);
      case 'plain':
        return plain(request.file, request.format);
      case 'excerpt':
        return excerpt(request);
      case 'withSound':
        return withSound(request);
      case 'texts':
        return readTexts(request);
      case 'digest':
        return digest(request.file, request.format);
    }
  });
}

/** @throws {Error} naming the codec where nothing here decodes it */
async function listen(file: Blob, format: FormatId, whole: boolean): Promise<Listened> {
  const source = await openOrNull(file, format);
  if (!source) return lookOnly(file);
  const { sampleRate } = source;
  const mono = new MonoBuffer(FINGERPRINT_SECONDS * sampleRate);
  const meter = new SpeechMeter(sampleRate);
  let decodedSeconds = 0;
  let stopped = false;
  let brokeOff: string | null = null;
  try {
    for await (const samples of source.samples()) {
      decodedSeconds += (samples[0]?.length ?? 0) / sampleRate;
      if (!mono.isFull) meter.feed(mono.addChannels(samples));
      if (mono.isFull && !whole) {
        stopped = true;
        break;
      }
    }
  } catch (error) {
    // What decoded until then still says something.
    if (decodedSeconds === 0) throw error;
    brokeOff = error instanceof Error ? error.message : String(error);
  } finally {
    source.end();
  }
  if (whole) await checkPicture(file);
  const print = await fingerprint(mono.samples(), sampleRate);
  return {
    fingerprint: print.length > 0 ? fingerprintText(print) : null,
    decodedSeconds,
    whole: !stopped,
    speech: meter.share(),
    brokeOff,
  };
}

/** The sound of a file; null where there is none. @throws {NoDecoderError} naming the codec where nothing here decodes it */
async function openOrNull(file: Blob, format: FormatId): Promise<SoundSource | null> {
  try {
    return await openSound(file, format);
  } catch (error) {
    if (error instanceof NoDecoderError && error.isSilent) return null;
    throw error;
  }
}

/** Stretches of a second of which the loudest moment is kept. */
const LEVELS_PER_SECOND = 10;
/** Seconds of sound between two words of progress. */
const TOLD_EVERY = 20;

async function levels(
  file: Blob,
  format: FormatId,
  tellHeard: (seconds: number) => void,
): Promise<HeardLevels> {
  const source = await openAnySound(file, format);
  const peaks = new PeakMeter(source.sampleRate / LEVELS_PER_SECOND);
  let hasHeard = false;
  let brokeOff: string | null = null;
  try {
    await hearAll(source, tellHeard, (samples) => {
      peaks.feed(samples);
      hasHeard = true;
    });
  } catch (error) {
    // What was heard until then can be drawn.
    if (!hasHeard) throw error;
    brokeOff = error instanceof Error ? error.message : String(error);
  }
  return { perSecond: LEVELS_PER_SECOND, peaks: peaks.levels(), brokeOff };
}

/** @throws {Error} also where decoding breaks off: half a sound says nothing of the whole */
async function loudness(
  file: Blob,
  format: FormatId,
  tellHeard: (seconds: number) => void,
): Promise<LoudnessBlocks> {
  const source = await openAnySound(file, format);
  const meter = new LoudnessMeter(source.sampleRate, source.channels);
  await hearAll(source, tellHeard, (samples) => meter.feed(samples));
  return meter.blocks();
}

/** Feeds a sound to its end, and lets go of it. @throws {Error} where decoding breaks off */
async function hearAll(
  source: SoundSource,
  tellHeard: (seconds: number) => void,
  feed: (samples: readonly Float32Array[]) => void,
): Promise<void> {
  let [heard, told] = [0, 0];
  try {
    for await (const samples of source.samples()) {
      feed(samples);
      heard += (samples[0]?.length ?? 0) / source.sampleRate;
      if (heard - told < TOLD_EVERY) continue;
      told = heard;
      tellHeard(heard);
    }
  } finally {
    source.end();
  }
}

/** The sound of a file as a WAV of 16 bits, for files that no browser plays. */
const plain = async (file: Blob, format: FormatId): Promise<Blob> => asWav(await openAnySound(file, format));

const excerpt = async ({ file, track, ...range }: Asked<'excerpt'>): Promise<Blob> =>
  asWav(await openTrack(file, track, range));

async function readTexts({ file, format, track, most }: Asked<'texts'>): Promise<readonly Cue[]> {
  const source = cachedSource(blobSource(file));
  const { readFirstTexts } = await (format === 'mp4'
    ? import('$lib/formats/mp4')
    : import('$lib/formats/matroska'));
  return readFirstTexts(source, track, most);
}

/** The file without the other sound tracks, laid out again from its own bytes. @throws {FormatError} */
async function withSound({ file, format, track, leaveOut }: Asked<'withSound'>): Promise<Blob> {
  const writable = WRITABLE.get(format);
  if (!writable) throw new Error('its tracks cannot be separated');
  const { rewrite } = await writable.load();
  const tracks = [{ id: track, isDefault: true }, ...leaveOut.map((id) => ({ id, isLeftOut: true }))];
  const { spans } = await rewrite(blobSource(file), { fields: {}, tracks });
  return spanBlob(file, spans);
}

/** Hertz above which nothing is played: what is heard fits below, and a WAV lies in memory. */
const MOST_PLAYED = 96_000;

async function asWav(source: SoundSource): Promise<Blob> {
  const { channels, bits } = source;
  const by = source.sampleRate > MOST_PLAYED ? 4 : 1;
  const sampleRate = source.sampleRate / by;
  const resamplers =
    by === 1 ? null : Array.from({ length: channels }, () => new Resampler(source.sampleRate, sampleRate));
  const parts: Uint8Array<ArrayBuffer>[] = [];
  const whole = Array.from({ length: channels }, () => new WholeSamples(16, bits > 16));
  const add = (samples: readonly Float32Array[]) => parts.push(interleaved(samples, whole));
  try {
    for await (const samples of source.samples())
      add(resamplers ? resamplers.map((one, channel) => one.feed(samples[channel]!)) : samples);
    if (resamplers) add(resamplers.map((one) => one.end()));
  } finally {
    source.end();
  }
  const bytes = parts.reduce((sum, { length }) => sum + length, 0);
  return new Blob([wavHeader(channels, sampleRate, bytes), ...parts], { type: 'audio/wav' });
}

function interleaved(
  samples: readonly Float32Array[],
  whole: readonly WholeSamples[],
): Uint8Array<ArrayBuffer> {
  const count = samples[0]?.length ?? 0;
  const data = new Int16Array(count * samples.length);
  samples.forEach((own, channel) => {
    const values = whole[channel]!.of(own);
    for (let at = 0; at < count; at++) data[at * samples.length + channel] = values[at]!;
  });
  return new Uint8Array(data.buffer);
}

/** Loudest moments of equal stretches of a sound. */
class PeakMeter {
  private readonly found: number[] = [];
  private most = 0;
  private frames = 0;

  /** @param stretch frames of one; need be no whole number */
  constructor(private readonly stretch: number) {}

  feed(samples: readonly Float32Array[]): void {
    const count = samples[0]?.length ?? 0;
    for (let at = 0; at < count; at++) {
      for (const own of samples) {
        const peak = Math.abs(own[at]!);
        if (peak > this.most) this.most = peak;
      }
      if (++this.frames >= (this.found.length + 1) * this.stretch) this.close();
    }
  }

  levels(): Uint8Array {
    if (this.frames > this.found.length * this.stretch) this.close();
    return Uint8Array.from(this.found);
  }

  private close(): void {
    this.found.push(levelOf(this.most));
    this.most = 0;
  }
}

/** A picture without sound: it is looked at, and its length is what its packets say. */
async function lookOnly(file: Blob): Promise<Listened> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    if (!(await input.getPrimaryVideoTrack())) throw new Error('there is neither sound nor picture in it');
    await checkPicture(file);
    const decodedSeconds = await input.computeDuration();
    return { fingerprint: null, decodedSeconds, whole: true, speech: null, brokeOff: null };
  } finally {
    input.dispose();
  }
}

/** Where there is a moving picture, its first frame must decode too. @throws {Error} naming the codec */
async function checkPicture(file: Blob): Promise<void> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    if (!(await input.canRead())) return;
    const track = await input.getPrimaryVideoTrack();
    if (!track) return;
    if (!(await track.canDecode()))
      throw new Error(`the browser cannot decode the picture (${track.codec ?? 'unknown codec'})`);
    const first = await new VideoSampleSink(track).getSample(await track.getFirstTimestamp());
    if (!first) throw new Error('no frame of the picture decodes');
    first.close();
  } finally {
    input.dispose();
  }
}

/** Bytes that are digested at once. */
const PIECE_BYTES = 4_194_304;

/** 64 bits over the payload with its length, in hexadecimal; memory does not grow with the file. */
async function digest(file: Blob, format: FormatId): Promise<string> {
  const hash = await createXXHash64();
  let length = 0;
  for await (const { start, end } of locate(cachedSource(blobSource(file)), format))
    for (let at = start; at < end; at += PIECE_BYTES) {
      const piece = new Uint8Array(await file.slice(at, Math.min(end, at + PIECE_BYTES)).arrayBuffer());
      hash.update(piece);
      length += piece.length;
    }
  if (length === 0) throw new Error('no sound or picture data was found');
  // Without leading zeros, as digests have been kept from the first.
  return `${hash.digest('hex').replace(/^0+(?=.)/, '')}-${length}`;
}
