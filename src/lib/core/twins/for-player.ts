import type { FormatId, Stream } from '../items';
import { isLossless } from '../items';
import type { Kind } from '../kinds';
import { refusalOf, takesOf, type Playable, type Rulebook, type Take, type TwinWishes } from '../rulebooks';
import { CODECS, codecFacts, type CodecFacts } from './codecs';
import { bytesMade, type SoundRecipe, type TwinSource } from './recipe';

/**
 * Why nothing that a player takes can be made of a file: it holds moving pictures, or no sound; it lasts too long; it
 * would be too large whatever it is made to; or the player takes nothing that can be made.
 */
export type Unmakeable = 'picture' | 'noSound' | 'seconds' | 'bytes' | 'noCodec';

/** Codecs that lose nothing, in containers whose name does not say so. */
const LOSSLESS = /^(A_)?(ALAC|FLAC|PCM|sowt|twos|in24|in32|fl32)/i;
export const SPOKEN: ReadonlySet<Kind> = new Set<Kind>(['audiobook', 'podcast']);

/**
 * The recipe by which a player takes a file that it does not take as it is: as its rulebook wishes, where it takes that,
 * else the best of what it takes. Nothing that has lost something is made larger than it is, and no rate goes up, but
 * where a codec knows no lower one.
 */
export function recipeForPlayer(rulebook: Rulebook, kind: Kind, file: TwinSource): SoundRecipe | Unmakeable {
  if (file.streams.some(({ type }) => type === 'picture')) return 'picture';
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
    mostBits: facts.lossless ? 24 : null,
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

/**
 * The rate that keeps most of a sound: its own, else the highest below, and of those that are high enough for all that
 * is heard one that divides it evenly. Null where the player takes no rate that the codec has.
 */
export function rateFor(own: number, rates: readonly number[] | null, highest: number): number | null {
  const usual = rates ?? [
    8000, 11_025, 16_000, 22_050, 32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000,
  ];
  if (own <= highest && (rates === null || rates.includes(own))) return own;
  const allowed = usual.filter((rate) => rate <= highest);
  const below = allowed.filter((rate) => rate < own);
  const even = below.findLast((rate) => own % rate === 0 && rate >= 44_100);
  return even ?? below.at(-1) ?? allowed[0] ?? null;
}

export const isLosslessSound = (format: FormatId, { codec }: Stream): boolean =>
  isLossless(format) || (codec !== null && LOSSLESS.test(codec));

function asPlayable({ format, named }: CodecFacts, recipe: SoundRecipe, file: TwinSource): Playable {
  const { sampleRate, channels } = recipe;
  return {
    format,
    size: bytesMade(recipe, file),
    durationSeconds: file.durationSeconds,
    streams: [{ type: 'sound', codec: named, channels, sampleRate, width: null, height: null }],
  };
}
