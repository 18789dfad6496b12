import type { FormatId } from '../items';
import type { TwinCodec } from '../rulebooks';

/** What sound can be encoded to here, and what files of it are like. */
export interface CodecFacts {
  readonly codec: TwinCodec;
  readonly format: FormatId;
  /** Ending of its files, without a dot. */
  readonly ending: string;
  /** As people call it. */
  readonly called: string;
  /** As its files name it in their facts. */
  readonly named: string;
  readonly lossless: boolean;
  /** It can take as many bits as each moment asks for. */
  readonly varies?: true;
  /** Hertz that it is encoded at, rising; null for all up to 192 kHz. */
  readonly rates: readonly number[] | null;
  readonly mostChannels: number;
  /** Bit rates in ascending order; empty for lossless codecs. */
  readonly bitrates: readonly number[];
  /** Bits per second at which stereo music, and speech, lose nothing that can be heard. */
  readonly good: { readonly music: number; readonly speech: number };
}

const NO_BITRATE = { music: 0, speech: 0 };
const kilobits = (...values: number[]) => values.map((value) => value * 1000);
const UP_TO_48 = [8000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000];

/** In the order in which they serve a player that takes several: what keeps most of a sound comes first. */
export const CODECS: readonly CodecFacts[] = [
  {
    codec: 'flac',
    format: 'flac',
    ending: 'flac',
    called: 'FLAC',
    named: 'FLAC',
    lossless: true,
    rates: null,
    mostChannels: 8,
    bitrates: [],
    good: NO_BITRATE,
  },
  {
    codec: 'alac',
    format: 'mp4',
    ending: 'm4a',
    called: 'ALAC',
    named: 'alac',
    lossless: true,
    rates: null,
    mostChannels: 2,
    bitrates: [],
    good: NO_BITRATE,
  },
  {
    codec: 'pcm',
    format: 'wav',
    ending: 'wav',
    called: 'PCM',
    named: 'PCM',
    lossless: true,
    rates: null,
    mostChannels: 8,
    bitrates: [],
    good: NO_BITRATE,
  },
  {
    codec: 'aiff',
    format: 'aiff',
    ending: 'aif',
    called: 'AIFF',
    named: 'PCM',
    lossless: true,
    rates: null,
    mostChannels: 8,
    bitrates: [],
    good: NO_BITRATE,
  },
  {
    codec: 'opus',
    format: 'opus',
    ending: 'opus',
    called: 'Opus',
    named: 'Opus',
    lossless: false,
    rates: [48_000],
    mostChannels: 2,
    bitrates: kilobits(24, 32, 40, 48, 64, 80, 96, 112, 128, 160, 192, 256),
    good: { music: 160_000, speech: 64_000 },
  },
  {
    codec: 'aac',
    format: 'mp4',
    ending: 'm4a',
    called: 'AAC',
    named: 'mp4a',
    lossless: false,
    rates: UP_TO_48,
    mostChannels: 2,
    bitrates: kilobits(32, 40, 48, 64, 80, 96, 112, 128, 160, 192, 224, 256),
    good: { music: 256_000, speech: 96_000 },
  },
  {
    codec: 'mp3',
    format: 'mp3',
    ending: 'mp3',
    called: 'MP3',
    named: 'MPEG 1 Layer 3',
    lossless: false,
    varies: true,
    // Many players do not support MPEG-2.5, which is below 16 kHz.
    rates: [16_000, 22_050, 24_000, 32_000, 44_100, 48_000],
    mostChannels: 2,
    bitrates: kilobits(32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320),
    good: { music: 256_000, speech: 96_000 },
  },
];

export const codecFacts = (codec: TwinCodec): CodecFacts =>
  CODECS.find((one) => one.codec === codec) as CodecFacts;
