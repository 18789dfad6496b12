/** Discs that lie beside the drive. Lengths are in whole seconds, as the sound is made. */
export interface Disc {
  readonly id: string;
  /** What will be written on it by hand or in print; a drive does not know it. */
  readonly written: string;
  readonly tracks: readonly { readonly seconds: number; readonly seed: number; readonly damaged?: boolean }[];
}

const tracks = (first: number, ...lengths: number[]) =>
  lengths.map((seconds, index) => ({ seconds, seed: first + index }));

export const DISCS: readonly Disc[] = [
  { id: 'lights', written: 'Lights Along the Sound', tracks: tracks(400, 31, 24, 42, 28, 36) },
  { id: 'tin-chapel', written: 'Tin Chapel', tracks: tracks(410, 27, 33, 39, 22) },
  { id: 'mix', written: 'for the boat, summer', tracks: tracks(420, 26, 35, 21, 30, 29) },
  {
    id: 'scratched',
    written: 'Nine Knots, a long scratch across it',
    tracks: tracks(430, 45, 32, 58, 20).map((track, index) => ({ ...track, damaged: index === 2 })),
  },
];
