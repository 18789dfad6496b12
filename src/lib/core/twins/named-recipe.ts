import {
  VIDEO_CONTAINERS,
  TWIN_CODECS,
  type VideoContainer,
  type VideoWishes,
  type PictureCodec,
  type Rulebook,
  type TwinCodec,
  type TwinWishes,
} from '../rulebooks';
import { codecFacts } from './codecs';
import { rateFor } from './rates';
import type { SoundRecipe, VideoRecipe } from './recipe';
import { PICTURE_RATES, containerFacts } from './video-codecs';

export type RecipeId = string & { readonly __brand: 'RecipeId' };

/** A way to convert that the curator keeps by name. */
export interface NamedRecipe {
  readonly id: RecipeId;
  readonly name: string;
  readonly wishes: AnyWishes;
}

/** What is wished of sound, or of moving pictures. */
export type AnyWishes = TwinWishes | VideoWishes;
export const isVideoWishes = (wishes: AnyWishes): wishes is VideoWishes => 'container' in wishes;

/** The defaults of a video recipe. */
export const plainVideoWishes = (container: VideoContainer): VideoWishes => ({
  container,
  codec: container === 'mp4' ? 'avc' : 'vp9',
  mostHeight: null,
  mostBitrate: null,
});

/** Pixels of pictures by which wishes are tried out. */
const TRIED_HEIGHT = 1080;

/** The recipe by which wishes of moving pictures are tried out. */
export function triedVideo({ container, codec, mostHeight, mostBitrate }: VideoWishes): VideoRecipe {
  const height = Math.min(TRIED_HEIGHT, mostHeight ?? TRIED_HEIGHT);
  const width = Math.round((height * 16) / 9 / 2) * 2;
  const bitrate = mostBitrate ?? PICTURE_RATES[codec].good * width * height;
  return { container, picture: { codec, width, height, bitrate }, sound: null };
}

/** Video codecs of a container. */
export const picturesIn = (container: VideoContainer): readonly PictureCodec[] =>
  containerFacts(container).pictures;

/** A rulebook that makes twins by a recipe. */
export function withRecipe(rulebook: Rulebook, recipe: NamedRecipe | null): Rulebook {
  if (!recipe) return rulebook;
  const { wishes } = recipe;
  return isVideoWishes(wishes) ? { ...rulebook, videoTwins: wishes } : { ...rulebook, twins: wishes };
}

/** The defaults of an audio recipe. */
export const plainWishes = (codec: TwinCodec): TwinWishes => ({
  codec,
  music: null,
  speech: null,
  mostRate: null,
  mono: 'never',
  mostBits: null,
  variable: false,
});

/** Examples of what a recipe makes: music from a disc, and speech, mono if the recipe says so. */
export function triedRecipes(wishes: TwinWishes): readonly SoundRecipe[] {
  const { codec, music, speech, mostRate, mono } = wishes;
  const { rates, lossless, good, varies } = codecFacts(codec);
  const sampleRate = rateFor(44_100, rates, mostRate ?? Infinity);
  if (sampleRate === null) return [];
  const recipe = (bitrate: number, channels: number): SoundRecipe => ({
    codec,
    bitrate: lossless ? null : bitrate,
    sampleRate,
    channels,
    mostBits: lossless ? (wishes.mostBits ?? 24) : null,
    ...(wishes.variable && varies && { variable: true }),
  });
  return [
    recipe(music ?? good.music, mono === 'always' ? 1 : 2),
    recipe(speech ?? good.speech, mono === 'never' ? 2 : 1),
  ];
}

/**
 * A recipe from an imported file; null if it is not one.
 * @param json the parsed file
 */
export function readWishes(json: unknown): Pick<NamedRecipe, 'name' | 'wishes'> | null {
  const { name, wishes } = (json ?? {}) as {
    name?: unknown;
    wishes?: Partial<Record<keyof TwinWishes | keyof VideoWishes, unknown>>;
  };
  const codec = TWIN_CODECS.find((one) => one === wishes?.codec);
  const number = (value: unknown) =>
    Number.isSafeInteger(value) && (value as number) > 0 ? (value as number) : null;
  if (typeof name !== 'string' || name.trim() === '' || !wishes) return null;
  const container = VIDEO_CONTAINERS.find((one) => one === wishes.container);
  const pictures = container && picturesIn(container).find((one) => one === wishes.codec);
  if (container && pictures) {
    const [mostHeight, mostBitrate] = [number(wishes.mostHeight), number(wishes.mostBitrate)];
    return { name: name.slice(0, 200), wishes: { container, codec: pictures, mostHeight, mostBitrate } };
  }
  if (!codec) return null;
  const mono = wishes.mono === 'speech' || wishes.mono === 'always' ? wishes.mono : 'never';
  const { music, speech, mostRate } = wishes;
  return {
    name: name.slice(0, 200),
    wishes: {
      codec,
      music: number(music),
      speech: number(speech),
      mostRate: number(mostRate),
      mono,
      mostBits: wishes.mostBits === 16 ? 16 : null,
      variable: wishes.variable === true,
    },
  };
}
