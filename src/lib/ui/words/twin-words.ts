import {
  isVideoWishes,
  isVideo,
  pictureCodecName,
  type AnyWishes,
  type SoundRecipe,
  type ToMake,
  type TwinRecipe,
  type Unmakeable,
  type VideoRecipe,
} from '$lib/core/twins';
import type { Refusal, VideoWishes, TwinCodec, TwinWishes } from '$lib/core/rulebooks';
import { bytes } from './amounts';

/** How people call what sound is made to. */
export const CODEC_LABELS: Readonly<Record<TwinCodec, string>> = {
  flac: 'FLAC',
  alac: 'ALAC',
  pcm: 'WAV',
  aiff: 'AIFF',
  opus: 'Opus',
  aac: 'AAC',
  mp3: 'MP3',
};

/** How people call what twins are made to: sound by its codec, video by its container. */
export const MADE_LABELS: Readonly<Record<string, string>> = { ...CODEC_LABELS, mp4: 'MP4', webm: 'WebM' };

/** Why a player does not take a file as it is. */
export const REFUSED: Readonly<Record<Refusal, string>> = {
  format: 'format not supported',
  codec: 'codec not supported',
  bytes: 'too large',
  seconds: 'too long',
  sampleRate: 'sample rate too high',
  bits: 'bit depth too high',
  channels: 'too many channels',
  width: 'picture too wide',
  height: 'picture too high',
};

/** Why no twin can be made that a player plays. */
export const UNMAKEABLE: Readonly<Record<Unmakeable, string>> = {
  noPicture: 'the player supports no video format that can be made here',
  noSound: 'it contains no sound',
  seconds: 'it is longer than the player allows',
  bytes: 'even the smallest version would be too large',
  noCodec: 'the player supports no format that can be made here',
};

const hertz = (rate: number): string => `${Number((rate / 1000).toFixed(3))} kHz`;
const CHANNELS: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

/** A recipe in a line: MP3, 256 kbit/s, 44.1 kHz, stereo; MP4, H.264 1280×720, 2,700 kbit/s, sound as it is. */
export const recipeWords = (recipe: TwinRecipe): string =>
  isVideo(recipe) ? videoWords(recipe) : soundWords(recipe);

function soundWords({ codec, bitrate, sampleRate, channels, mostBits, variable }: SoundRecipe): string {
  const rate =
    bitrate === null
      ? mostBits === 16
        ? 'lossless, 16 bits'
        : 'lossless'
      : `${variable ? 'variable, about ' : ''}${kilobits(bitrate)}`;
  return [CODEC_LABELS[codec], rate, hertz(sampleRate), CHANNELS[channels] ?? `${channels} channels`].join(
    ', ',
  );
}

function videoWords({ container, picture, sound }: VideoRecipe): string {
  const shown = picture
    ? `${pictureCodecName(picture.codec)} ${picture.width}×${picture.height}, ${kilobits(picture.bitrate)}`
    : 'picture unchanged';
  return [MADE_LABELS[container], shown, sound ? soundWords(sound) : 'sound unchanged'].join(', ');
}

const kilobits = (rate: number): string => `${(rate / 1000).toLocaleString('en')} kbit/s`;

/** The same in a word or two, for a cell. */
export const UNMAKEABLE_BRIEF: Readonly<Record<Unmakeable, string>> = {
  noPicture: 'no video',
  noSound: 'no sound',
  seconds: 'too long',
  bytes: 'too large',
  noCodec: 'no format',
};

/** How long making twins takes. @param seconds null while nothing was measured on this machine */
export function timeWords(seconds: number | null): string {
  if (seconds === null) return 'unknown until the first twin is made';
  if (seconds < 90) return `about ${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5400 ? `about ${Math.round(seconds / 60)} min` : `about ${Math.round(seconds / 3600)} h`;
}

/** What making twins costs, for a narrow place: 34 MB, 40 s. */
export function costWords({ bytes: room }: ToMake, seconds: number | null): string {
  return seconds === null ? bytes(room) : `${bytes(room)}, ${timeWords(seconds).replace('about ', '')}`;
}

/** Why a twin was not made, and what to do about it where something can be done. */
const FAILURES: Readonly<Record<string, string>> = {
  unreadable: 'the file cannot be read',
  noDecoder: 'no decoder here supports it',
  noEncoder: 'no encoder here supports this recipe',
  undecodable: 'decoding stopped early; check whether the file is complete',
  full: 'browser storage is full; delete unused twins, or free disk space',
  streams: 'the result has other streams than the recipe asks for, and was discarded',
  failed: 'converting failed',
  length: 'the result is longer or shorter than its original, and was discarded',
  silent: 'the result is silent, and was discarded',
  cutOff: 'the result clips more than its original, and was discarded',
  otherPicture: 'the result does not look like its original, and was discarded',
  otherSound: 'the result does not sound like its original, and was discarded',
};

export const convertFailure = ({
  code,
  detail,
}: {
  readonly code: string;
  readonly detail: string;
}): string => `${FAILURES[code] ?? code} (${detail})`;

/** What a recipe wishes, in a line. */
export const wishesWords = (wishes: AnyWishes): string =>
  isVideoWishes(wishes) ? videoWishesWords(wishes) : soundWishesWords(wishes);

function videoWishesWords({ container, codec, mostHeight, mostBitrate }: VideoWishes): string {
  return [
    MADE_LABELS[container],
    pictureCodecName(codec),
    ...(mostHeight === null ? [] : [`at most ${mostHeight} pixels high`]),
    ...(mostBitrate === null ? [] : [`at most ${kilobits(mostBitrate)}`]),
  ].join(', ');
}

function soundWishesWords({ codec, music, speech, mostRate, mono, mostBits, variable }: TwinWishes): string {
  const rates = [
    ...(music === null ? [] : [`music ${music / 1000} kbit/s`]),
    ...(speech === null ? [] : [`speech ${speech / 1000} kbit/s`]),
    ...(variable ? ['variable bit rate'] : []),
    ...(mostRate === null ? [] : [`at most ${hertz(mostRate)}`]),
    ...(mostBits === null ? [] : [`at most ${mostBits} bits a sample`]),
    ...(mono === 'never' ? [] : [mono === 'always' ? 'mono' : 'speech in mono']),
  ];
  return [CODEC_LABELS[codec], ...rates].join(', ');
}
