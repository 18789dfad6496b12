import type { ToMake, SoundRecipe, Unmakeable } from '$lib/core/twins';
import type { TwinCodec, TwinWishes } from '$lib/core/rulebooks';
import { bytes } from './amounts';

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

/** The same in a word or two, for a cell. */
export const UNMAKEABLE_BRIEF: Readonly<Record<Unmakeable, string>> = {
  picture: 'with pictures',
  noSound: 'no sound',
  seconds: 'too long',
  bytes: 'too large',
  noCodec: 'no format for it',
};

/** How long making twins takes. @param seconds null while nothing was measured on this machine */
export function timeWords(seconds: number | null): string {
  if (seconds === null) return 'not known before the first is made here';
  if (seconds < 90) return `about ${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5400 ? `about ${Math.round(seconds / 60)} min` : `about ${Math.round(seconds / 3600)} h`;
}

/** What making twins costs, for a narrow place: 34 MB, 40 s. */
export function costWords({ bytes: room }: ToMake, seconds: number | null): string {
  return seconds === null ? bytes(room) : `${bytes(room)}, ${timeWords(seconds).replace('about ', '')}`;
}

/** Why a twin was not made, and what mends it. */
const FAILURES: Readonly<Record<string, string>> = {
  unreadable: 'its file cannot be read',
  noDecoder: 'nothing here decodes it',
  noEncoder: 'nothing here encodes that',
  undecodable: 'decoding it broke off; check whether the file is whole',
  full: 'the browser keeps no more; clean up, or make room on this machine',
  streams: 'what came out is not what was asked for, and was thrown away',
  failed: 'making it failed',
  length: 'what came out is longer or shorter than its original, and was thrown away',
  silent: 'what came out is silent, and was thrown away',
  cutOff: 'what came out is cut off at its loudest, and was thrown away',
  otherSound: 'what came out sounds otherwise than its original, and was thrown away',
};

export const convertFailure = ({
  code,
  detail,
}: {
  readonly code: string;
  readonly detail: string;
}): string => `${FAILURES[code] ?? code} (${detail})`;

/** What a recipe wishes, in a line. */
export function wishesWords({ codec, music, speech, mostRate, mono }: TwinWishes): string {
  const rates = [
    ...(music === null ? [] : [`music ${music / 1000} kbit/s`]),
    ...(speech === null ? [] : [`speech ${speech / 1000} kbit/s`]),
    ...(mostRate === null ? [] : [`at most ${hertz(mostRate)}`]),
    ...(mono === 'never' ? [] : [mono === 'always' ? 'mono' : 'speech in mono']),
  ];
  return [CODEC_LABELS[codec], ...rates].join(', ');
}
