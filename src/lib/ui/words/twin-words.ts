import type { SoundRecipe, TwinCodec, Unmakeable } from '$lib/core/twins';

/** How people call what sound is made to. */
export const CODEC_LABELS: Readonly<Record<TwinCodec, string>> = {
  flac: 'FLAC',
  alac: 'ALAC',
  pcm: 'WAV',
  opus: 'Opus',
  aac: 'AAC',
  mp3: 'MP3',
};

/** Why no twin can be made that a player takes. */
export const UNMAKEABLE: Readonly<Record<Unmakeable, string>> = {
  picture: 'moving pictures are not converted here yet',
  noSound: 'there is no sound in it',
  seconds: 'it is too long for that player',
  bytes: 'it would be too large for that player, whatever it is made to',
  noCodec: 'that player takes nothing that can be made here',
};

const hertz = (rate: number): string => `${Number((rate / 1000).toFixed(3))} kHz`;
const CHANNELS: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

/** A recipe in a line: MP3, 256 kbit/s, 44.1 kHz, stereo. */
export function recipeWords({ codec, bitrate, sampleRate, channels }: SoundRecipe): string {
  const rate = bitrate === null ? 'nothing lost' : `${bitrate / 1000} kbit/s`;
  return [CODEC_LABELS[codec], rate, hertz(sampleRate), CHANNELS[channels] ?? `${channels} channels`].join(
    ', ',
  );
}
