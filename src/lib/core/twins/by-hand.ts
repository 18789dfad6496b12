import { KINDS } from '../kinds';
import {
  RULEBOOK_VERSION,
  readRulebook,
  type VideoWishes,
  type Rulebook,
  type TwinWishes,
} from '../rulebooks';
import { codecFacts } from './codecs';
import { isVideoWishes, type AnyWishes } from './named-recipe';
import { pictureCodecName, containerFacts } from './video-codecs';

/** Names that are asked for most: by what tags say, or as they are. */
export const HAND_PATTERNS = [
  ':albumArtist|artist|show/:album|show/{:disc-}{:track }:title|sourceName',
  ':sourceFolder/:sourceName',
  ':sourceName',
] as const;

/**
 * The rulebook of a place that takes exactly what a recipe makes, with names by a pattern. With it, converting by hand
 * is a run like any other: it is rehearsed, can be resumed and can be taken back.
 * @throws {ValidationError} if the pattern is invalid
 */
export function handRulebook(name: string, wishes: AnyWishes, pattern: string): Rulebook {
  return readRulebook({
    version: RULEBOOK_VERSION,
    id: 'by-hand',
    name,
    initial: name.charAt(0).toUpperCase() || 'C',
    about: 'converted by hand',
    takes: [{ kinds: [...KINDS], ...(isVideoWishes(wishes) ? videosOf(wishes) : soundsOf(wishes)) }],
    places: [
      {
        kinds: [...KINDS],
        folder: '',
        pattern,
        alike: false,
        asks: [],
        reads: { from: 'tags', needs: [] },
        groups: [['album', 'maker']],
        various: null,
      },
    ],
    beside: [],
    tags: { id3: [3, 4] },
    ...(isVideoWishes(wishes) ? { videoTwins: wishes } : { twins: wishes }),
    disk: {
      unsafe: '<>:"|?*',
      replacements: {
        ':': ' -',
        '/': '-',
        '\\': '-',
        '"': "'",
        '<': '(',
        '>': ')',
        '|': '-',
        '?': '',
        '*': '',
      },
      fallback: '_',
      unicode: 'NFC',
      deviceNames: true,
      caseSensitive: false,
      leadingDot: '_',
      unit: 'bytes',
      maxName: 200,
      maxPath: 480,
      numberWidth: 2,
    },
  });
}

function soundsOf({ codec }: TwinWishes) {
  const { format, named } = codecFacts(codec);
  return { formats: [format], codecs: format === 'mp4' ? [named] : null };
}

const NO_LIMITS = { bytes: null, seconds: null, sampleRate: null, bits: null, channels: null, width: null };

function videosOf({ container, codec, mostHeight }: VideoWishes) {
  const { format, holds, sound } = containerFacts(container);
  const codecs = [holds[pictureCodecName(codec)], holds[codecFacts(sound).called]];
  return { formats: [format], codecs, most: { ...NO_LIMITS, height: mostHeight } };
}
