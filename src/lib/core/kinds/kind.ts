export const KINDS = [
  'song',
  'musicVideo',
  'audiobook',
  'podcast',
  'film',
  'episode',
  'homeVideo',
  'ambience',
  'ringtone',
] as const;

/** What an item is. It decides fields, folder, sidecar and the player's section. */
export type Kind = (typeof KINDS)[number];

export interface KindFacts {
  /** The two letters of its spine label. */
  readonly letters: string;
  readonly one: string;
  readonly many: string;
}

export const KIND_FACTS: Readonly<Record<Kind, KindFacts>> = {
  song: { letters: 'SG', one: 'song', many: 'songs' },
  musicVideo: { letters: 'MV', one: 'music video', many: 'music videos' },
  audiobook: { letters: 'AB', one: 'audiobook', many: 'audiobooks' },
  podcast: { letters: 'PC', one: 'podcast episode', many: 'podcast episodes' },
  film: { letters: 'FM', one: 'film', many: 'films' },
  episode: { letters: 'EP', one: 'series episode', many: 'series episodes' },
  homeVideo: { letters: 'HV', one: 'home video', many: 'home videos' },
  ambience: { letters: 'AM', one: 'ambience', many: 'ambiences' },
  ringtone: { letters: 'RT', one: 'ringtone', many: 'ringtones' },
};

/** How certain a guess is, drawn as a solid, dashed, dotted or missing line. */
export type Certainty = 'sure' | 'likely' | 'guess' | 'open';

/** The ways in. */
export const ORIGINS = ['folder', 'watched', 'disc', 'feed', 'shelf', 'player', 'made'] as const;
export type Origin = (typeof ORIGINS)[number];

/** One fact behind a guess. The interface has a sentence for its code, which `detail` completes. */
export interface Evidence {
  readonly code: string;
  readonly detail: string;
  /** Points for the guessed kind; below zero it speaks against it. */
  readonly points: number;
}

export interface Guess {
  /** Null when no kind leads. */
  readonly kind: Kind | null;
  readonly certainty: Certainty;
  readonly points: number;
  /** Runner-up and its points. */
  readonly next: Kind | null;
  readonly nextPoints: number;
  /** Weightiest first. */
  readonly evidence: readonly Evidence[];
}
