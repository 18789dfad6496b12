import { TRACK_FLAGS, codecName, type Stream, type Track, type TrackFlag } from '$lib/core/items';
import { bytes, counted } from './amounts';

export const TRACK_TYPES: Readonly<Record<Track['type'], string>> = {
  sound: 'sound',
  picture: 'picture',
  subtitle: 'subtitles',
};

export const FLAG_WORDS: Readonly<Record<TrackFlag, string>> = {
  isDefault: 'default',
  isForced: 'forced',
  isOriginal: 'original language',
  isCommentary: 'commentary',
  isForHearing: 'for the hard of hearing',
  isForSeeing: 'audio description',
};

/** What a track is for, in words; empty where nothing is set. */
export const flagsWords = (track: Track): string =>
  TRACK_FLAGS.filter((flag) => track[flag])
    .map((flag) => FLAG_WORDS[flag])
    .join(', ');

/** What is in a track, such as `AAC, 6 channels`. */
export function streamWords({ type, codec, channels, width, height }: Stream): string {
  const said =
    type === 'picture'
      ? width && height && `${width}×${height}`
      : type === 'sound' &&
        (channels === 1 ? 'mono' : channels === 2 ? 'stereo' : channels && `${channels} channels`);
  return [codec && codecName(codec), said].filter(Boolean).join(', ');
}

/** How many tracks of each type, such as `2 sound, 1 subtitles`. */
export function tracksWords(tracks: readonly Pick<Track, 'type'>[]): string {
  const types = ['picture', 'sound', 'subtitle'] as const;
  return types
    .flatMap((type) => {
      const count = tracks.filter((track) => track.type === type).length;
      return count === 0 ? [] : [`${count} ${TRACK_TYPES[type]}`];
    })
    .join(', ');
}

/** What leaving tracks out saves; empty where their bytes are not known. */
export const savedWords = (saved: number | null): string =>
  saved === null || saved === 0 ? '' : `saves about ${bytes(saved)}`;

export const trackCount = (count: number): string => counted(count, 'track');
