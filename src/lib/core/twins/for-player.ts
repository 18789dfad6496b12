import type { FormatId, Stream } from '../items';
import { isLossless } from '../items';
import type { Kind } from '../kinds';
import { refusalOf, takesOf, type Playable, type Rulebook, type Take, type TwinWishes } from '../rulebooks';
import { CODECS, codecFacts, type CodecFacts } from './codecs';
import { bytesMade, type SoundRecipe, type TwinRecipe, type TwinSource } from './recipe';
import { rateFor } from './rates';
import type { Unmakeable } from './unmakeable';
import { videoRecipeForPlayer } from './video-for-player';

/** Lossless codecs in containers whose name does not tell. */
const LOSSLESS = /^(A_)?(ALAC|FLAC|PCM|sowt|twos|in24|in32|fl32|DSD)/i;
export const SPOKEN: ReadonlySet<Kind> = new Set<Kind>(['audiobook', 'podcast']);

/**
 * The recipe for a file that a player does not take as it is: the one its rulebook prefers if the player takes that,
 * otherwise the best that it takes. Lossy audio never gets larger, and no sample rate rises unless the codec has no
 * lower one.
 */
export const recipeForPlayer = (rulebook: Rulebook, kind: Kind, file: TwinSource): TwinRecipe | Unmakeable =>
  file.streams.some(({ type }) => type === 'picture')
    ? videoRecipeForPlayer(rulebook, kind, file)
    : soundRecipeForPlayer(rulebook, kind, file);

function soundRecipeForPlayer(rulebook: Rulebook, kind: Kind, file: TwinSource): SoundRecipe | Unmakeable {
  const sound = file.streams.find(({ type }) => type === 'sound');
  if (!sound) return 'noSound';
  const loses = !isLosslessSound(file.format, sound);
  let why: Unmakeable = 'noCodec';
  const { twins: wishes } = rulebook;
  const wished = wishes && codecFacts(wishes.codec);
  for (const facts of wished ? [wished, ...CODECS.filter((one) => one !== wished)] : CODECS) {
    // What is lost does not come back.
    if (loses && facts.lossless) continue;
    for (const take of takesOf(rulebook, kind)) {
      if (!take.formats.includes(facts.format)) continue;
      const own = facts === wished ? wishes : null;
      const made = recipeFor(facts, take, rulebook.disk.largestFile, kind, { file, sound, loses }, own);
      if (typeof made === 'string') {
        if (made !== 'noCodec') why = made;
      } else if (refusalOf(rulebook, kind, asPlayable(facts, made, file)) === null) return made;
    }
  }
  return why;
}

interface Source {
  readonly file: TwinSource;
  readonly sound: Stream;
  readonly loses: boolean;
}

function recipeFor(
  facts: CodecFacts,
  { most }: Take,
  largestFile: number | null,
  kind: Kind,
  { file, sound, loses }: Source,
  wishes: TwinWishes | null,
): SoundRecipe | Unmakeable {
  const seconds = file.durationSeconds ?? 0;
  if (most.seconds !== null && seconds > most.seconds) return 'seconds';
  const isSpoken = SPOKEN.has(kind);
  const isMono = wishes?.mono === 'always' || (wishes?.mono === 'speech' && isSpoken);
  const channels = isMono ? 1 : Math.min(sound.channels ?? 2, facts.mostChannels, most.channels ?? Infinity);
  const mostRate = Math.min(most.sampleRate ?? Infinity, wishes?.mostRate ?? Infinity);
  const sampleRate = rateFor(sound.sampleRate ?? 44_100, facts.rates, mostRate);
  if (sampleRate === null) return 'noCodec';
  const plain: SoundRecipe = {
    codec: facts.codec,
    bitrate: null,
    sampleRate,
    channels,
    mostBits: facts.lossless ? bitsFor(Math.min(most.bits ?? 24, wishes?.mostBits ?? 24)) : null,
    ...(wishes?.variable && facts.varies && { variable: true as const }),
  };
  const room = Math.min(most.bytes ?? Infinity, largestFile ?? Infinity);
  if (facts.lossless) return bytesMade(plain, file) > room ? 'bytes' : plain;
  const told = isSpoken ? wishes?.speech : wishes?.music;
  const good = told ?? (isSpoken ? facts.good.speech : facts.good.music) * (channels === 1 ? 0.5 : 1);
  const own = loses && seconds > 0 ? ((file.soundBytes ?? file.size) * 8) / seconds : Infinity;
  const fits = seconds > 0 ? (room * 8) / seconds : Infinity;
  const wished = Math.min(good, Math.max(own, facts.bitrates[0] as number));
  const bitrate = facts.bitrates.findLast((one) => one <= wished && one <= fits);
  return bitrate === undefined ? 'bytes' : { ...plain, bitrate };
}

/** The bit depth to write, within the limit. */
const bitsFor = (most: number): 16 | 24 => (most < 24 ? 16 : 24);

export const isLosslessSound = (format: FormatId, { codec }: Stream): boolean =>
  isLossless(format) || (codec !== null && LOSSLESS.test(codec));

function asPlayable({ format, named }: CodecFacts, recipe: SoundRecipe, file: TwinSource): Playable {
  const { sampleRate, channels, mostBits } = recipe;
  const own = file.streams.find(({ type }) => type === 'sound')?.bits;
  const bits = mostBits === null || own === undefined ? null : Math.min(own, mostBits);
  return {
    format,
    size: bytesMade(recipe, file),
    durationSeconds: file.durationSeconds,
    streams: [
      {
        type: 'sound',
        codec: named,
        channels,
        sampleRate,
        width: null,
        height: null,
        ...(bits !== null && { bits }),
      },
    ],
  };
}
