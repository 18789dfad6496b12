import { codecName } from '../items';
import type { VideoContainer, PictureCodec } from '../rulebooks';

/**
 * Bits per pixel and second at 30 frames per second: at which no loss shows, and below which nothing is recognisable.
 */
export const PICTURE_RATES: Readonly<
  Record<PictureCodec, { readonly good: number; readonly least: number }>
> = {
  avc: { good: 3, least: 0.3 },
  vp9: { good: 2, least: 0.2 },
  vp8: { good: 3, least: 0.3 },
  av1: { good: 1.6, least: 0.16 },
};

/** A container of moving pictures that twins are written in. */
export interface ContainerFacts {
  readonly container: VideoContainer;
  readonly format: 'mp4' | 'matroska';
  readonly ending: string;
  /** Codecs that it can hold by their usual names, each with its code in files. */
  readonly holds: Readonly<Record<string, string>>;
  /** What pictures are encoded to for it, in the order in which they serve. */
  readonly pictures: readonly PictureCodec[];
  /** What sounds are encoded to for it. */
  readonly sound: 'aac' | 'opus';
}

export const CONTAINERS: readonly ContainerFacts[] = [
  {
    container: 'mp4',
    format: 'mp4',
    ending: 'mp4',
    holds: {
      'H.264': 'avc1',
      'H.265': 'hvc1',
      VP9: 'vp09',
      AV1: 'av01',
      AAC: 'mp4a',
      Opus: 'Opus',
      FLAC: 'fLaC',
      'AC-3': 'ac-3',
      'E-AC-3': 'ec-3',
    },
    pictures: ['avc', 'vp9', 'av1'],
    sound: 'aac',
  },
  {
    container: 'webm',
    format: 'matroska',
    ending: 'webm',
    holds: { VP8: 'V_VP8', VP9: 'V_VP9', AV1: 'V_AV1', Opus: 'A_OPUS', Vorbis: 'A_VORBIS' },
    pictures: ['vp9', 'vp8', 'av1'],
    sound: 'opus',
  },
];

export const containerFacts = (container: VideoContainer): ContainerFacts =>
  CONTAINERS.find((one) => one.container === container) as ContainerFacts;

const CALLED: Readonly<Record<PictureCodec, string>> = { avc: 'H.264', vp9: 'VP9', vp8: 'VP8', av1: 'AV1' };
/** As people call it. */
export const pictureCodecName = (codec: PictureCodec): string => CALLED[codec];

/** The code of a codec in a container, from its code in another; null if the container cannot hold it. */
export const codeIn = ({ holds }: ContainerFacts, code: string | null): string | null =>
  code === null ? null : (holds[codecName(code)] ?? null);
