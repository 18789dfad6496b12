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
}

export type SoundRequest =
  /** The beginning only, enough for a fingerprint. */
  { readonly type: 'listen'; readonly id: number; readonly file: Blob; readonly whole: boolean };
