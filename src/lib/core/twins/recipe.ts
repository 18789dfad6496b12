import type { Playable, TwinCodec } from '../rulebooks';

/** How one sound is made into another one: all of it is settled, so that two players that ask for the same share one. */
export interface SoundRecipe {
  readonly codec: TwinCodec;
  /** Bits a second; null for what loses nothing. */
  readonly bitrate: number | null;
  /** Hertz. */
  readonly sampleRate: number;
  readonly channels: number;
  /** The most bits a sample that are kept, of what loses nothing; null elsewhere. */
  readonly mostBits: 16 | 24 | null;
}

/** Equal for recipes that make the same of the same. */
export const recipeKey = ({ codec, bitrate, sampleRate, channels, mostBits }: SoundRecipe): string =>
  [codec, bitrate ?? '', sampleRate, channels, mostBits ?? ''].join(' ');

/** What a twin is made from. */
export type TwinSource = Playable & { readonly soundBytes?: number | undefined };

/** Of what a sound takes as plain samples, the part that is left once it is packed without a loss. */
const PACKED = 0.65;

/** Bytes of a sound that a recipe makes of a file, about. */
export function bytesMade(
  recipe: SoundRecipe,
  { format, size, soundBytes, durationSeconds, streams }: TwinSource,
): number {
  const seconds = durationSeconds ?? 0;
  if (recipe.bitrate !== null) return Math.round((seconds * recipe.bitrate) / 8);
  const sound = streams.find(({ type }) => type === 'sound');
  const samples = seconds * (sound?.sampleRate ?? recipe.sampleRate) * (sound?.channels ?? recipe.channels);
  const kept = samples === 0 ? 0 : (seconds * recipe.sampleRate * recipe.channels) / samples;
  const isPlain = format === 'wav' || format === 'aiff';
  const own = soundBytes ?? size;
  if (recipe.codec === 'pcm') return Math.round((isPlain ? own : own / PACKED) * kept);
  return Math.round((isPlain ? own * PACKED : own) * kept);
}
