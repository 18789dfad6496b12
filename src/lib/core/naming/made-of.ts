import { codecName, languagesOf, type Content, type Overlay, type Stream } from '../items';

/** Properties of a file for names and sidecars; null for what it does not have. */
export interface MadeOf {
  /** Of its largest picture, such as `1080p`. */
  readonly resolution: string | null;
  /** Of its picture, else of its sound. */
  readonly codec: string | null;
  /** Of all its tracks of sound, such as `en+nb`. */
  readonly soundLanguages: string | null;
  readonly subtitleLanguages: string | null;
}

/** Names of all of these. */
export const MADE_OF: readonly (keyof MadeOf)[] = [
  'resolution',
  'codec',
  'soundLanguages',
  'subtitleLanguages',
];

/** The parts of an outgoing file that matter: with the edits that are written into its copy. */
export interface MadeFile {
  readonly streams: readonly Stream[];
  readonly file: Pick<Content, 'tracks'>;
  readonly outgoing: Overlay;
}

/** One property of a file, computed on demand. */
export function madeOf({ streams, file, outgoing }: MadeFile, name: keyof MadeOf): string | null {
  switch (name) {
    case 'resolution':
      return resolutionOf(streams);
    case 'codec': {
      const main =
        streams.find(({ type }) => type === 'picture') ?? streams.find(({ type }) => type === 'sound');
      return main?.codec ? codecName(main.codec) : null;
    }
    case 'soundLanguages':
      return languagesOf(file, outgoing, 'sound').join('+') || null;
    case 'subtitleLanguages':
      return languagesOf(file, outgoing, 'subtitle').join('+') || null;
  }
}

/** Widths in pixels from which a picture counts as of a size that has a name. */
const SIZES = [
  [3840, '2160p'],
  [1920, '1080p'],
  [1280, '720p'],
] as const;

/** The resolution of the largest picture among streams, such as `1080p`: wide films have fewer lines. Null for none. */
export function resolutionOf(
  streams: readonly { readonly width: number | null; readonly height: number | null }[],
): string | null {
  let [wide, high] = [0, 0];
  for (const { width, height } of streams)
    if ((width ?? 0) * (height ?? 0) > wide * high) [wide, high] = [width ?? 0, height ?? 0];
  if (high === 0) return null;
  return SIZES.find(([least]) => wide >= least)?.[1] ?? `${high}p`;
}
