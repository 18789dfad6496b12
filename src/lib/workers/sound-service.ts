import {
  ALL_FORMATS,
  AudioSampleSink,
  BlobSource,
  Input,
  VideoSampleSink,
  type InputAudioTrack,
} from 'mediabunny';
import { createXXHash64 } from 'hash-wasm';
import { cachedSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { FINGERPRINT_SECONDS, MonoBuffer, SpeechMeter, fingerprintText, levelOf } from '$lib/core/sound';
import { locate } from '$lib/formats/payload';
import { blobSource } from '$lib/io/blob-source';
import { fingerprint } from '$lib/io/fingerprint';
import { serveAnswers, type Port } from './worker-client';
import type { HeardLevels, Listened, SoundRequest } from './sound-protocol';

/** Decodes files and says what is heard, for whoever asks through a port. */
export function serveListening(port: Port): void {
  serveAnswers<SoundRequest, number>(port, (request, tellHeard) => {
    switch (request.type) {
      case 'listen':
        return listen(request.file, request.whole);
      case 'levels':
        return levels(request.file, tellHeard);
      case 'digest':
        return digest(request.file, request.format);
    }
  });
}

/** @throws {Error} naming the codec when the browser cannot decode it */
async function listen(file: Blob, whole: boolean): Promise<Listened> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await soundTrack(input);
    if (!track) return await lookOnly(input);
    const { sampleRate } = track;
    const mono = new MonoBuffer(FINGERPRINT_SECONDS * sampleRate);
    const meter = new SpeechMeter(sampleRate);
    let decodedSeconds = 0;
    let stopped = false;
    let brokeOff: string | null = null;
    try {
      for await (const sample of new AudioSampleSink(track).samples()) {
        const channels = sample.numberOfChannels;
        const plane = new Float32Array(sample.numberOfFrames * channels);
        sample.copyTo(plane, { planeIndex: 0, format: 'f32' });
        decodedSeconds += sample.numberOfFrames / sample.sampleRate;
        sample.close();
        if (!mono.isFull) meter.feed(mono.add(plane, channels));
        if (mono.isFull && !whole) {
          stopped = true;
          break;
        }
      }
    } catch (error) {
      // What decoded until then still says something.
      if (decodedSeconds === 0) throw error;
      brokeOff = error instanceof Error ? error.message : String(error);
    }
    if (whole) await checkPicture(input);
    const print = await fingerprint(mono.samples(), sampleRate);
    return {
      fingerprint: print.length > 0 ? fingerprintText(print) : null,
      decodedSeconds,
      whole: !stopped,
      speech: meter.share(),
      brokeOff,
    };
  } finally {
    input.dispose();
  }
}

/** The sound that decodes; null where there is none. @throws {Error} naming the codec when the browser cannot decode it */
async function soundTrack(input: Input): Promise<InputAudioTrack | null> {
  if (!(await input.canRead())) throw new Error('the browser has no decoder for files of this kind');
  const track = await input.getPrimaryAudioTrack();
  if (track && !(await track.canDecode()))
    throw new Error(`the browser cannot decode ${track.codec ?? 'its codec'}`);
  return track;
}

/** Stretches of a second of which the loudest moment is kept. */
const LEVELS_PER_SECOND = 10;
/** Seconds of sound between two words of progress. */
const TOLD_EVERY = 20;

async function levels(file: Blob, tellHeard: (seconds: number) => void): Promise<HeardLevels> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await soundTrack(input);
    if (!track) throw new Error('there is no sound in it');
    const peaks = new PeakMeter(track.sampleRate / LEVELS_PER_SECOND);
    let heard = 0;
    let told = 0;
    let brokeOff: string | null = null;
    try {
      for await (const sample of new AudioSampleSink(track).samples()) {
        const plane = new Float32Array(sample.numberOfFrames * sample.numberOfChannels);
        sample.copyTo(plane, { planeIndex: 0, format: 'f32' });
        peaks.feed(plane, sample.numberOfChannels);
        heard += sample.numberOfFrames / sample.sampleRate;
        sample.close();
        if (heard - told < TOLD_EVERY) continue;
        told = heard;
        tellHeard(heard);
      }
    } catch (error) {
      // What was heard until then can be drawn.
      if (heard === 0) throw error;
      brokeOff = error instanceof Error ? error.message : String(error);
    }
    return { perSecond: LEVELS_PER_SECOND, peaks: peaks.levels(), brokeOff };
  } finally {
    input.dispose();
  }
}

/** Loudest moments of equal stretches of a sound. */
class PeakMeter {
  private readonly found: number[] = [];
  private most = 0;
  private frames = 0;

  /** @param stretch frames of one; need be no whole number */
  constructor(private readonly stretch: number) {}

  feed(interleaved: Float32Array, channels: number): void {
    for (let at = 0; at < interleaved.length; at += channels) {
      for (let channel = 0; channel < channels; channel++) {
        const peak = Math.abs(interleaved[at + channel] as number);
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
async function lookOnly(input: Input): Promise<Listened> {
  if (!(await input.getPrimaryVideoTrack())) throw new Error('there is neither sound nor picture in it');
  await checkPicture(input);
  const decodedSeconds = await input.computeDuration();
  return { fingerprint: null, decodedSeconds, whole: true, speech: null, brokeOff: null };
}

/** Where there is a moving picture, its first frame must decode too. @throws {Error} naming the codec */
async function checkPicture(input: Input): Promise<void> {
  const track = await input.getPrimaryVideoTrack();
  if (!track) return;
  if (!(await track.canDecode()))
    throw new Error(`the browser cannot decode the picture (${track.codec ?? 'unknown codec'})`);
  const first = await new VideoSampleSink(track).getSample(await track.getFirstTimestamp());
  if (!first) throw new Error('no frame of the picture decodes');
  first.close();
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
