import type { FormatId } from '../items';
import type { VideoContainer, PictureCodec, Playable, TwinCodec } from '../rulebooks';
import { codecFacts } from './codecs';
import { containerFacts } from './video-codecs';

/** How an audio stream is converted, in full detail, so that two players with the same needs share one twin. */
export interface SoundRecipe {
  readonly codec: TwinCodec;
  /** Bits per second; null for lossless codecs. */
  readonly bitrate: number | null;
  /** Hertz. */
  readonly sampleRate: number;
  readonly channels: number;
  /** The highest bit depth that is kept, for lossless codecs; null for others. */
  readonly mostBits: 16 | 24 | null;
  /** As many bits as each moment asks for, `bitrate` as a whole. */
  readonly variable?: true;
}

/** What moving pictures are encoded to. Pixels; bits a second. */
export interface PictureRecipe {
  readonly codec: PictureCodec;
  readonly width: number;
  readonly height: number;
  readonly bitrate: number;
}

/** How moving pictures with their sounds are made into others. */
export interface VideoRecipe {
  readonly container: VideoContainer;
  /** Null if its packets are copied. */
  readonly picture: PictureRecipe | null;
  /** What each audio track is encoded to, with at most its own number of channels; null if all are copied. */
  readonly sound: SoundRecipe | null;
}

export type TwinRecipe = SoundRecipe | VideoRecipe;

export const isVideo = (recipe: TwinRecipe): recipe is VideoRecipe => 'container' in recipe;

/** Equal for recipes that make the same of the same. */
export const recipeKey = (recipe: TwinRecipe): string =>
  isVideo(recipe) ? videoKey(recipe) : soundKey(recipe);

const soundKey = ({ codec, bitrate, sampleRate, channels, mostBits, variable }: SoundRecipe): string =>
  [codec, bitrate ?? '', sampleRate, channels, mostBits ?? '', ...(variable ? ['variable'] : [])].join(' ');

const videoKey = ({ container, picture, sound }: VideoRecipe): string =>
  [
    container,
    picture ? [picture.codec, `${picture.width}x${picture.height}`, picture.bitrate].join(' ') : 'kept',
    sound ? soundKey(sound) : 'kept',
  ].join(', ');

/** What a recipe makes, as a word that is kept: an audio codec, or a container. */
export const madeTo = (recipe: TwinRecipe): TwinCodec | VideoContainer =>
  isVideo(recipe) ? recipe.container : recipe.codec;

/** What kind of file a recipe makes. */
export const fileOf = (recipe: TwinRecipe): { readonly format: FormatId; readonly ending: string } =>
  isVideo(recipe) ? containerFacts(recipe.container) : codecFacts(recipe.codec);

/** A measure of how long a recipe takes per second of its source. */
export function effortOf(recipe: TwinRecipe): string {
  if (!isVideo(recipe)) return recipe.codec;
  const { picture, sound } = recipe;
  return picture ? `${picture.codec} ${picture.height}` : sound ? `kept ${sound.codec}` : 'kept';
}

/** The file that a twin is made from. */
export type TwinSource = Playable & { readonly soundBytes?: number | undefined };

/** The size of losslessly compressed audio relative to plain samples. */
const PACKED = 0.65;

/** Bytes that a recipe makes of a file, about. */
export const bytesMade = (recipe: TwinRecipe, source: TwinSource): number =>
  isVideo(recipe) ? videoBytes(recipe, source) : soundBytesMade(recipe, source);

/** The size of a container relative to its packets. */
export const WRAPPING = 1.01;

function videoBytes({ picture, sound }: VideoRecipe, source: TwinSource): number {
  const seconds = source.durationSeconds ?? 0;
  const { length } = source.streams.filter(({ type }) => type === 'sound');
  const ofPictures = picture ? (picture.bitrate * seconds) / 8 : pictureBytes(source);
  const ofSounds = sound ? (length * (sound.bitrate ?? 0) * seconds) / 8 : bytesOfSounds(source);
  return Math.round((ofPictures + ofSounds) * WRAPPING);
}

const bytesOfSounds = ({ streams }: TwinSource): number =>
  streams.reduce((sum, { type, bytes = 0 }) => (type === 'sound' ? sum + bytes : sum), 0);

/** Bytes of a file's video: all that is not audio, if the file does not give it. */
export const pictureBytes = (source: TwinSource): number =>
  source.streams.find(({ type }) => type === 'picture')?.bytes ?? source.size - bytesOfSounds(source);

function soundBytesMade(
  recipe: SoundRecipe,
  { format, size, soundBytes, durationSeconds, streams }: TwinSource,
): number {
  const seconds = durationSeconds ?? 0;
  if (recipe.bitrate !== null) return Math.round((seconds * recipe.bitrate) / 8);
  const sound = streams.find(({ type }) => type === 'sound');
  const samples = seconds * (sound?.sampleRate ?? recipe.sampleRate) * (sound?.channels ?? recipe.channels);
  const kept = samples === 0 ? 0 : (seconds * recipe.sampleRate * recipe.channels) / samples;
  const isDsd = format === 'dsf' || format === 'dff';
  const isPlain = isDsd || format === 'wav' || format === 'aiff';
  // A sample of DSD is one bit, and becomes one of as many as are kept.
  const own = (soundBytes ?? size) * (isDsd ? (recipe.mostBits ?? 16) : 1);
  if (recipe.codec === 'pcm' || recipe.codec === 'aiff')
    return Math.round((isPlain ? own : own / PACKED) * kept);
  return Math.round((isPlain ? own * PACKED : own) * kept);
}
