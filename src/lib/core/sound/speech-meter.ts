/** Seconds of one frame, short enough to fall between syllables. */
const FRAME_SECONDS = 0.025;
/** Frames of one window, about two seconds: speech pauses several times in it, music hardly does. */
const WINDOW_FRAMES = 80;
/** Share of frames well below the window's mean level from which a window counts as spoken. */
const SPOKEN_LOW_SHARE = 0.32;
/** Mean level below which a window counts as silence and is ignored. */
const SILENCE = 0.002;
/** Windows that are needed for a result. */
const LEAST_WINDOWS = 4;

/**
 * Distinguishes speech from music by the share of frames with low energy in each window: speech falls silent between
 * words and syllables, music keeps its level (after the measures of Saunders, 1996, and Scheirer, 1997). The
 * zero-crossing rate must also vary, as it does between vowels and sibilants.
 */
export class SpeechMeter {
  private readonly frameLength: number;
  private sum = 0;
  private crossings = 0;
  private count = 0;
  private last = 0;
  private energies: number[] = [];
  private rates: number[] = [];
  private spoken = 0;
  private windows = 0;

  /** @param sampleRate in hertz */
  constructor(sampleRate: number) {
    this.frameLength = Math.max(1, Math.round(sampleRate * FRAME_SECONDS));
  }

  /** @param samples one channel of 16-bit samples, in order */
  feed(samples: Int16Array): void {
    for (const sample of samples) {
      const value = sample / 32_768;
      this.sum += value * value;
      if (value >= 0 !== this.last >= 0) this.crossings++;
      this.last = value;
      if (++this.count === this.frameLength) this.endFrame();
    }
  }

  /** Share of windows that sound spoken, 0 to 1; null when too little was heard. */
  share(): number | null {
    return this.windows < LEAST_WINDOWS ? null : this.spoken / this.windows;
  }

  private endFrame(): void {
    this.energies.push(Math.sqrt(this.sum / this.count));
    this.rates.push(this.crossings / this.count);
    this.sum = this.crossings = this.count = 0;
    if (this.energies.length === WINDOW_FRAMES) this.endWindow();
  }

  private endWindow(): void {
    const mean = meanOf(this.energies);
    if (mean > SILENCE) {
      this.windows++;
      const low = this.energies.filter((energy) => energy < mean / 2).length / WINDOW_FRAMES;
      const voiced = this.rates.filter((_, index) => (this.energies[index] as number) > mean / 4);
      const rate = meanOf(voiced);
      const spread = Math.sqrt(meanOf(voiced.map((own) => (own - rate) ** 2)));
      if (low >= SPOKEN_LOW_SHARE && spread > rate * 0.3) this.spoken++;
    }
    this.energies = [];
    this.rates = [];
  }
}

const meanOf = (values: readonly number[]): number =>
  values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;
