import { TWIN_CODECS, type TwinCodec, type TwinWishes } from '../rulebooks';
import { codecFacts } from './codecs';
import { rateFor } from './rates';
import type { SoundRecipe } from './recipe';

export type RecipeId = string & { readonly __brand: 'RecipeId' };

/** A way to convert that the curator keeps by name. */
export interface NamedRecipe {
  readonly id: RecipeId;
  readonly name: string;
  readonly wishes: TwinWishes;
}

/** What a recipe wishes before anything is said of it. */
export const plainWishes = (codec: TwinCodec): TwinWishes => ({
  codec,
  music: null,
  speech: null,
  mostRate: null,
  mono: 'never',
});

/** Recipes by which wishes are tried out: music of a disc, and speech, of one channel where that is wished. */
export function triedRecipes({ codec, music, speech, mostRate, mono }: TwinWishes): readonly SoundRecipe[] {
  const { rates, lossless, good } = codecFacts(codec);
  const sampleRate = rateFor(44_100, rates, mostRate ?? Infinity);
  if (sampleRate === null) return [];
  const recipe = (bitrate: number, channels: number): SoundRecipe => ({
    codec,
    bitrate: lossless ? null : bitrate,
    sampleRate,
    channels,
    mostBits: lossless ? 24 : null,
  });
  return [
    recipe(music ?? good.music, mono === 'always' ? 1 : 2),
    recipe(speech ?? good.speech, mono === 'never' ? 2 : 1),
  ];
}

/**
 * Wishes from a file that came from outside; null where they are none.
 * @param json as it was parsed
 */
export function readWishes(json: unknown): Pick<NamedRecipe, 'name' | 'wishes'> | null {
  const { name, wishes } = (json ?? {}) as { name?: unknown; wishes?: Partial<TwinWishes> };
  const codec = TWIN_CODECS.find((one) => one === wishes?.codec);
  const number = (value: unknown) =>
    Number.isSafeInteger(value) && (value as number) > 0 ? (value as number) : null;
  if (typeof name !== 'string' || name.trim() === '' || !wishes || !codec) return null;
  const mono = wishes.mono === 'speech' || wishes.mono === 'always' ? wishes.mono : 'never';
  const { music, speech, mostRate } = wishes;
  return {
    name: name.slice(0, 200),
    wishes: { codec, music: number(music), speech: number(speech), mostRate: number(mostRate), mono },
  };
}
