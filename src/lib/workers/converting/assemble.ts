import { Resampler, mixDown } from '$lib/core/sound';
import { SoundMeter, type HeardSound, type SoundRecipe } from '$lib/core/twins';
import { fingerprint } from '$lib/io/fingerprint';
import type { AssemblePart } from '../convert-protocol';
import { openAnySound } from './any-sound';
import type { SoundWriter } from './writer';

/** Seconds of a sound that may be missed: decoders leave damaged frames out without a word. */
export const MOST_MISSED = 0.25;

/** How a sound begins and ends. Seconds. */
export interface Fades {
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
}

export interface Assembled {
  readonly heard: HeardSound;
  /** Seconds at which each part begins. */
  readonly starts: readonly number[];
}

/**
 * Writes parts of sounds one behind the other, brought to what a recipe asks for.
 * @param total seconds that they last together, as far as that is known: where the end fades from
 * @throws {Error} naming the part where one cannot be decoded
 */
export async function assemble(
  parts: readonly AssemblePart[],
  { sampleRate, channels }: SoundRecipe,
  fades: Fades,
  total: number,
  writer: SoundWriter,
  tellHeard: (seconds: number) => void,
): Promise<Assembled> {
  const meter = new SoundMeter(sampleRate);
  const gain = gainFor(fades, total, sampleRate);
  const starts: number[] = [];
  let frames = 0;
  const add = async (samples: readonly Float32Array[]) => {
    const count = samples[0]?.length ?? 0;
    if (count === 0) return;
    const own = gain ? samples.map((plane) => plane.map((value, at) => value * gain(frames + at))) : samples;
    frames += count;
    meter.feed(own);
    await writer.add(own);
  };
  for (const { name, file, format, fromSeconds, toSeconds, leastSeconds } of parts) {
    starts.push(frames / sampleRate);
    const before = frames;
    try {
      const source = await openAnySound(file, format);
      try {
        const resamplers =
          source.sampleRate === sampleRate
            ? null
            : Array.from({ length: channels }, () => new Resampler(source.sampleRate, sampleRate));
        for await (const samples of between(source.samples(), fromSeconds, toSeconds, source.sampleRate)) {
          const mixed = spread(mixDown(samples, channels), channels);
          await add(resamplers ? resamplers.map((one, channel) => one.feed(mixed[channel]!)) : mixed);
          tellHeard(frames / sampleRate);
        }
        if (resamplers) await add(resamplers.map((one) => one.end()));
      } finally {
        source.end();
      }
    } catch (error) {
      throw new Error(`${name}: ${error instanceof Error ? error.message : String(error)}`, { cause: error });
    }
    const decoded = (frames - before) / sampleRate;
    if (decoded === 0) throw new Error(`${name}: no sound came out of it`);
    // Half a sound is no part: what is missing would be lost without a word.
    if (leastSeconds !== null && decoded < leastSeconds - MOST_MISSED)
      throw new Error(`${name}: ${decoded.toFixed(1)} of ${leastSeconds.toFixed(1)} seconds decode`);
  }
  await writer.finish();
  return { heard: meter.heard(await fingerprint(meter.beginning(), sampleRate)), starts };
}

/** As many channels as are asked for, of a sound that has fewer. */
export const spread = (samples: readonly Float32Array[], channels: number): readonly Float32Array[] =>
  samples.length >= channels
    ? samples
    : Array.from({ length: channels }, (_, channel) => samples[Math.min(channel, samples.length - 1)]!);

/** The samples of a stretch of time. */
async function* between(
  samples: AsyncIterable<readonly Float32Array[]>,
  from: number,
  to: number | null,
  sampleRate: number,
): AsyncGenerator<readonly Float32Array[]> {
  const first = Math.round(from * sampleRate);
  const last = to === null ? Infinity : Math.round(to * sampleRate);
  let at = 0;
  for await (const piece of samples) {
    const count = piece[0]?.length ?? 0;
    const [start, end] = [Math.max(0, first - at), Math.min(count, last - at)];
    if (end > start) yield piece.map((plane) => plane.subarray(start, end));
    at += count;
    if (at >= last) return;
  }
}

/** How loud each sample is of one that fades; null where nothing does. A cosine: it begins and ends without a corner. */
function gainFor(
  { fadeInSeconds, fadeOutSeconds }: Fades,
  total: number,
  sampleRate: number,
): ((frame: number) => number) | null {
  if (fadeInSeconds <= 0 && fadeOutSeconds <= 0) return null;
  const [rise, fall, end] = [fadeInSeconds * sampleRate, fadeOutSeconds * sampleRate, total * sampleRate];
  const curve = (part: number) => (part >= 1 ? 1 : (1 - Math.cos(Math.PI * Math.max(0, part))) / 2);
  return (frame) => (rise > 0 ? curve(frame / rise) : 1) * (fall > 0 ? curve((end - frame) / fall) : 1);
}
