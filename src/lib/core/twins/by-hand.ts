import { KINDS } from '../kinds';
import { RULEBOOK_VERSION, readRulebook, type Rulebook, type TwinWishes } from '../rulebooks';
import { codecFacts } from './codecs';

/** Names that are asked for most: by what tags say, or as they are. */
export const HAND_PATTERNS = [
  ':albumArtist|artist|show/:album|show/{:disc-}{:track }:title|sourceName',
  ':sourceFolder/:sourceName',
  ':sourceName',
] as const;

/**
 * The rulebook of a place that takes what a recipe makes and nothing else, under names by a pattern: by it, converting by
 * hand is a run like any other, rehearsed, taken up again and taken back.
 * @throws {ValidationError} where the pattern is none
 */
export function handRulebook(name: string, wishes: TwinWishes, pattern: string): Rulebook {
  const { format, named } = codecFacts(wishes.codec);
  return readRulebook({
    version: RULEBOOK_VERSION,
    id: 'by-hand',
    name,
    initial: name.charAt(0).toUpperCase() || 'C',
    about: 'converted by hand',
    takes: [{ kinds: [...KINDS], formats: [format], codecs: format === 'mp4' ? [named] : null }],
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
    twins: wishes,
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
