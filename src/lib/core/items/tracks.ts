/** A track of a container that holds several, as it says of itself. */
export interface Track {
  /** The number by which its container knows it. */
  readonly id: number;
  readonly type: 'sound' | 'picture' | 'subtitle';
  /** BCP 47 or ISO 639-2, as its file says it; null where that is not known. */
  readonly language: string | null;
  readonly name: string;
  /** Played where nothing else is chosen. */
  readonly isDefault: boolean;
  /** Shown even where subtitles are off. */
  readonly isForced: boolean;
}
