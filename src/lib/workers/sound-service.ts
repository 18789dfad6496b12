import loadChromaprint from '@unimusic/chromaprint/dist/chromaprint.js';
import wasmUrl from '@unimusic/chromaprint/dist/chromaprint.wasm?url';
import { ALL_FORMATS, AudioSampleSink, BlobSource, Input } from 'mediabunny';
import { FINGERPRINT_SECONDS, SpeechMeter, fingerprintText } from '$lib/core/sound';
import { fingerprintOf } from '$lib/io/chromaprint.js';
import { serveAnswers } from './asker';
import type { Port } from './parse-protocol';
import type { Listened, SoundRequest } from './sound-protocol';

let chromaprint: Promise<unknown> | null = null;
const loadOnce = () => (chromaprint ??= loadChromaprint({ locateFile: () => wasmUrl }));

/** Decodes files and says what is heard, for whoever asks through a port. */
export function serveListening(port: Port): void {
  serveAnswers<SoundRequest>(port, ({ file, whole }) => listen(file, whole));
}

/** @throws {Error} naming the codec when the browser cannot decode it */
async function listen(file: Blob, whole: boolean): Promise<Listened> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await input.getPrimaryAudioTrack();
    if (!track) throw new Error('there is no sound in it');
    if (!(await track.canDecode()))
      throw new Error(`the browser cannot decode ${track.codec ?? 'its codec'}`);
    const { sampleRate } = track;
    const mono = new MonoBuffer(FINGERPRINT_SECONDS * sampleRate);
    const meter = new SpeechMeter(sampleRate);
    let decodedSeconds = 0;
    let stopped = false;
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
    const print = fingerprintOf(await loadOnce(), mono.samples(), sampleRate, 1);
    return {
      fingerprint: print.length > 0 ? fingerprintText(print) : null,
      decodedSeconds,
      whole: !stopped,
      speech: meter.share(),
    };
  } finally {
    input.dispose();
  }
}

/** The beginning of a sound, mixed to one channel of 16 bits. */
class MonoBuffer {
  private readonly buffer: Int16Array;
  private length = 0;

  constructor(most: number) {
    this.buffer = new Int16Array(most);
  }

  get isFull(): boolean {
    return this.length >= this.buffer.length;
  }

  /** Mixes interleaved samples in and answers with what was added. */
  add(interleaved: Float32Array, channels: number): Int16Array {
    const start = this.length;
    const frames = Math.min(interleaved.length / channels, this.buffer.length - start);
    for (let frame = 0; frame < frames; frame++) {
      let sum = 0;
      for (let channel = 0; channel < channels; channel++)
        sum += interleaved[frame * channels + channel] as number;
      this.buffer[start + frame] = Math.max(-1, Math.min(1, sum / channels)) * 32_767;
    }
    this.length += frames;
    return this.buffer.subarray(start, this.length);
  }

  samples(): Int16Array {
    return this.buffer.subarray(0, this.length);
  }
}
