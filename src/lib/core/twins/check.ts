import { FINGERPRINT_SECONDS, MonoBuffer, SAME_SOUND, soundDistance, type Fingerprint } from '../sound';

/** What is heard of a sound from its beginning to its end. */
export interface HeardSound {
  readonly seconds: number;
  /** The loudest moment; 1 is as loud as whole numbers can say. */
  readonly peak: number;
  /** Moments at which several consecutive samples have the maximum value: they were clipped. */
  readonly cutOff: number;
  /** Null if it is too short to tell. */
  readonly fingerprint: Fingerprint | null;
}

/** Samples that stay at the loudest before that counts as cut off. */
const CUT_RUN = 3;
const LOUDEST = 0.9999;

/** Hears a sound as it comes. */
export class SoundMeter {
  private frames = 0;
  private peak = 0;
  private cutOff = 0;
  private readonly runs: number[] = [];
  private readonly mono: MonoBuffer;

  /** @param sampleRate in hertz */
  constructor(private readonly sampleRate: number) {
    this.mono = new MonoBuffer(FINGERPRINT_SECONDS * sampleRate);
  }

  get seconds(): number {
    return this.frames / this.sampleRate;
  }

  feed(samples: readonly Float32Array[]): void {
    this.frames += samples[0]?.length ?? 0;
    if (!this.mono.isFull) this.mono.addChannels(samples);
    samples.forEach((own, channel) => this.look(own, channel));
  }

  /** The beginning of it in one channel, for a fingerprint. */
  beginning(): Int16Array {
    return this.mono.samples();
  }

  heard(fingerprint: Fingerprint): HeardSound {
    const { seconds, peak, cutOff } = this;
    return { seconds, peak, cutOff, fingerprint: fingerprint.length > 0 ? fingerprint : null };
  }

  private look(own: Float32Array, channel: number): void {
    let { peak } = this;
    let run = this.runs[channel] ?? 0;
    for (let at = 0; at < own.length; at++) {
      const loud = Math.abs(own[at]!);
      if (loud > peak) peak = loud;
      run = loud >= LOUDEST ? run + 1 : 0;
      if (run === CUT_RUN) this.cutOff++;
    }
    this.peak = peak;
    this.runs[channel] = run;
  }
}

/**
 * What is wrong with a twin: its length differs, it is silent, it is clipped more often, or it has other audio or
 * another picture.
 */
export type TwinFault = 'length' | 'silent' | 'cutOff' | 'otherSound' | 'otherPicture';

/** Seconds by which a twin may last longer or shorter. */
const LENGTH_APART = 0.05;
/** Of a moment's loudness, the part that must be left. */
const LEAST_LEFT = 1 / 30;
/** A loudness that counts as silence. */
const SILENCE = 0.001;
/** Clipped moments per second that an encoder may cause. */
const MOST_CUT_A_SECOND = 0.5;

/** What is wrong with a twin, as far as its original and it were decoded; null for nothing. */
export function faultOf(original: HeardSound, twin: HeardSound): TwinFault | null {
  if (Math.abs(original.seconds - twin.seconds) > LENGTH_APART) return 'length';
  if (original.peak > SILENCE && twin.peak < original.peak * LEAST_LEFT) return 'silent';
  if (twin.cutOff > original.cutOff * 1.5 + original.seconds * MOST_CUT_A_SECOND + 1) return 'cutOff';
  const apart =
    original.fingerprint && twin.fingerprint ? soundDistance(original.fingerprint, twin.fingerprint) : null;
  return apart !== null && apart > SAME_SOUND ? 'otherSound' : null;
}

/**
 * The part of all brightness by which pictures of one moment may differ, because of encoding and neighbouring frames.
 */
const MOST_LIGHT_APART = 0.1;

/**
 * What is wrong with a twin's video; null for nothing.
 * @param original pictures of some moments, small and of equal size
 * @param twin those of the same moments; null for pictures that could not be decoded, because not every file can be
 * sought
 * @param secondsApart by how much one is longer than the other
 */
export function pictureFaultOf(
  original: readonly (ArrayLike<number> | null)[],
  twin: readonly (ArrayLike<number> | null)[],
  secondsApart: number,
): Extract<TwinFault, 'length' | 'otherPicture'> | null {
  if (Math.abs(secondsApart) > LENGTH_APART) return 'length';
  const isOther = original.some((picture, index) => {
    const other = twin[index];
    return picture && other && lightApart(picture, other) > MOST_LIGHT_APART;
  });
  return isOther ? 'otherPicture' : null;
}

function lightApart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0;
  for (let at = 0; at < a.length; at++) sum += Math.abs(a[at]! - (b[at] ?? 0));
  return a.length === 0 ? 0 : sum / a.length / 255;
}
