import type { FormatId } from '$lib/core/items';
import type { Levels } from '$lib/core/sound';

/** What listening to a file finds out. */
export interface Listened {
  /** Fingerprint as text, or null when there was too little sound. */
  readonly fingerprint: string | null;
  /** Seconds that really decode, up to where listening stopped. */
  readonly decodedSeconds: number;
  /** The whole file was listened to, not only its beginning. */
  readonly whole: boolean;
  /** Share of the sound that is spoken, 0 to 1; null when too little was heard. */
  readonly speech: number | null;
  /** Why decoding broke off before the end; null when it did not. */
  readonly brokeOff: string | null;
}

/** How loud a sound is; why hearing broke off before the end, where it did. */
export type HeardLevels = Levels & { readonly brokeOff: string | null };

export type SoundRequest = { readonly id: number; readonly file: Blob; readonly format: FormatId } & (
  | /** `whole` listens to the end; otherwise enough for a fingerprint. */
    { readonly type: 'listen'; readonly whole: boolean }
    /** How loud it is from its beginning to its end; parts tell seconds that were heard. */
  | { readonly type: 'levels' }
  /** How loud each of its moments is, as a player is told by gain; parts tell seconds that were heard. */
  | { readonly type: 'loudness' }
  /** The sound as a WAV, for what no browser plays. */
  | { readonly type: 'plain' }
  /** Some seconds of one track of sound, as a WAV. */
  | {
      readonly type: 'excerpt';
      readonly track: number;
      readonly fromSeconds: number;
      readonly seconds: number;
    }
  /** The same video with one of its sound tracks alone; nothing is decoded. */
  | { readonly type: 'withSound'; readonly track: number; readonly leaveOut: readonly number[] }
  /** The first texts of one track of subtitles. */
  | { readonly type: 'texts'; readonly track: number; readonly most: number }
  /** A digest of sound and picture data, tags left aside. */
  | { readonly type: 'digest' }
);
