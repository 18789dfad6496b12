import type { Stream } from '../items';
import type { Kind } from '../kinds';
import {
  refusalOf,
  takesOf,
  type VideoWishes,
  type PictureCodec,
  type Playable,
  type Rulebook,
  type Take,
} from '../rulebooks';
import { codecFacts } from './codecs';
import { rateFor } from './rates';
import {
  WRAPPING,
  bytesMade,
  pictureBytes,
  type PictureRecipe,
  type SoundRecipe,
  type TwinSource,
  type VideoRecipe,
} from './recipe';
import type { Unmakeable } from './unmakeable';
import { PICTURE_RATES, CONTAINERS, codeIn, pictureCodecName, type ContainerFacts } from './video-codecs';

/** Bits per second for stereo audio beside video. */
const SOUND_RATE = 192_000;
/** The length in seconds that is assumed if a file does not give it. */
const UNKNOWN_SECONDS = 1;

interface Source {
  readonly file: TwinSource;
  readonly picture: Stream;
  readonly sounds: readonly Stream[];
  /** Seconds. */
  readonly seconds: number;
}

/**
 * The recipe by which a player takes moving pictures that it does not take as they are. Packets that it takes are kept;
 * what is encoded is never larger, in pixels or bits, than it was.
 */
export function videoRecipeForPlayer(
  rulebook: Rulebook,
  kind: Kind,
  file: TwinSource,
): VideoRecipe | Unmakeable {
  const picture = file.streams.find(({ type }) => type === 'picture');
  if (!picture) return 'noCodec';
  const sounds = file.streams.filter(({ type }) => type === 'sound');
  const source = { file, picture, sounds, seconds: file.durationSeconds ?? UNKNOWN_SECONDS };
  let why: Unmakeable = 'noPicture';
  const { videoTwins: wishes } = rulebook;
  for (const container of wishedFirst(CONTAINERS, (one) => one.container === wishes?.container))
    for (const take of takesOf(rulebook, kind)) {
      if (!take.formats.includes(container.format)) continue;
      if (take.most.seconds !== null && source.seconds > take.most.seconds) {
        why = 'seconds';
        continue;
      }
      for (const recipe of recipesFor(container, take, rulebook.disk.largestFile, source, wishes)) {
        if (recipe === 'bytes') why = 'bytes';
        else if (refusalOf(rulebook, kind, asPlayable(container, recipe, source)) === null) return recipe;
      }
    }
  return why;
}

function wishedFirst<T>(all: readonly T[], isWished: (one: T) => boolean): readonly T[] {
  return [...all.filter(isWished), ...all.filter((one) => !isWished(one))];
}

/** What may serve, the least work first. */
function* recipesFor(
  container: ContainerFacts,
  take: Take,
  largestFile: number | null,
  source: Source,
  wishes: VideoWishes | null,
): Generator<VideoRecipe | 'bytes'> {
  const sound = soundFor(container, take, source);
  const kept: VideoRecipe = { container: container.container, picture: null, sound };
  const room = Math.min(take.most.bytes ?? Infinity, largestFile ?? Infinity);
  if (codeIn(container, source.picture.codec) !== null && !passes(source, wishes))
    yield bytesMade(kept, source.file) > room ? 'bytes' : kept;
  const rest = bytesMade({ ...kept, picture: NO_PICTURE }, source.file);
  for (const codec of wishedFirst(container.pictures, (one) => one === wishes?.codec)) {
    const picture = pictureFor(codec, take, wishes, source, ((room - rest) * 8) / WRAPPING / source.seconds);
    yield picture ? { ...kept, picture } : 'bytes';
  }
}
const NO_PICTURE: PictureRecipe = { codec: 'avc', width: 0, height: 0, bitrate: 0 };

/** Bits a second of moving pictures. */
const ownRate = ({ file, seconds }: Source): number => (pictureBytes(file) * 8) / seconds;

/** Whether its packets exceed the wanted bit rate. */
const passes = (source: Source, wishes: VideoWishes | null): boolean =>
  (source.picture.height ?? 0) > (wishes?.mostHeight ?? Infinity) ||
  ownRate(source) > (wishes?.mostBitrate ?? Infinity);

/** @param fits bits per second for which there is room @returns null if the result would not be recognisable */
function pictureFor(
  codec: PictureCodec,
  { most }: Take,
  wishes: VideoWishes | null,
  source: Source,
  fits: number,
): PictureRecipe | null {
  const [own, tall] = [source.picture.width ?? 1280, source.picture.height ?? 720];
  const highest = Math.min(most.height ?? Infinity, wishes?.mostHeight ?? Infinity);
  const scale = Math.min(1, (most.width ?? Infinity) / own, highest / tall);
  const [width, height] = [even(own * scale), even(tall * scale)];
  const pixels = width * height;
  const { good, least } = PICTURE_RATES[codec];
  const rate = ownRate(source) * Math.min(1, pixels / (own * tall));
  const wished = Math.min(good * pixels, rate, wishes?.mostBitrate ?? Infinity);
  const bitrate = Math.floor(Math.min(wished, fits) / 1000) * 1000;
  return bitrate < Math.min(least * pixels, wished / 2) || bitrate <= 0
    ? null
    : { codec, width, height, bitrate };
}

/** Encoders take even numbers of pixels alone. */
const even = (pixels: number): number => Math.max(2, Math.floor(pixels / 2 + 1e-6) * 2);

/** What audio is encoded to; null if all tracks are copied, or there are none. */
function soundFor(container: ContainerFacts, { codecs, most }: Take, { sounds }: Source): SoundRecipe | null {
  const known = codecs?.map((codec) => codec.toLowerCase());
  const isTaken = ({ codec, sampleRate, channels, bits }: Stream) => {
    const code = codeIn(container, codec);
    return (
      code !== null &&
      (!known || known.includes(code.toLowerCase())) &&
      (sampleRate ?? 0) <= (most.sampleRate ?? Infinity) &&
      (bits ?? 0) <= (most.bits ?? Infinity) &&
      (channels ?? 0) <= (most.channels ?? Infinity)
    );
  };
  if (sounds.every(isTaken)) return null;
  const facts = codecFacts(container.sound);
  const channels = Math.min(2, most.channels ?? 2, Math.max(...sounds.map((one) => one.channels ?? 2)));
  const highest = Math.max(...sounds.map((one) => one.sampleRate ?? 48_000));
  const sampleRate = rateFor(highest, facts.rates, most.sampleRate ?? Infinity) ?? 48_000;
  const bitrate = channels === 1 ? SOUND_RATE / 2 : SOUND_RATE;
  return { codec: container.sound, bitrate, sampleRate, channels, mostBits: null };
}

function asPlayable(
  container: ContainerFacts,
  { picture, sound, ...rest }: VideoRecipe,
  { file, picture: own, sounds }: Source,
): Playable {
  const asPicture: Stream = picture
    ? { ...own, ...picture, codec: container.holds[pictureCodecName(picture.codec)] ?? null }
    : { ...own, codec: codeIn(container, own.codec) };
  const asSound = (stream: Stream): Stream =>
    sound
      ? { ...stream, ...sound, codec: container.holds[codecFacts(sound.codec).called] ?? null }
      : { ...stream, codec: codeIn(container, stream.codec) };
  return {
    format: container.format,
    size: bytesMade({ picture, sound, ...rest }, file),
    durationSeconds: file.durationSeconds,
    streams: [asPicture, ...sounds.map(asSound)],
  };
}
