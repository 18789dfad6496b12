import { readRulebook, type Rulebook } from '../../src/lib/core/rulebooks';
import galley from '../../src/lib/rulebooks/galley.json';

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';

/** A player that takes little: few letters, short names, few files, old tags and small pictures. For laws and cases. */
export const NARROW: Rulebook = readRulebook({
  ...galley,
  id: 'narrow',
  name: 'Narrow',
  twins: {
    codec: 'mp3',
    music: 128_000,
    speech: 64_000,
    mostRate: 44_100,
    mono: 'speech',
    mostBits: null,
    variable: false,
  },
  // It plays files in the order of their names: a list puts its number in front.
  places: galley.places.map((place) => ({
    ...place,
    pattern: place.pattern.replace(/([^/]*)$/, '{:place }$1'),
  })),
  beside: [
    ...galley.beside,
    {
      type: 'list',
      folder: '',
      pattern: '{:group }:list',
      format: 'm3u',
      paths: 'absolute',
      root: '/card',
      lineEnd: 'crlf',
      encoding: 'windows-1252',
      most: 4,
    },
  ],
  tags: { ...galley.tags, encoding: 'latin1', picture: { pixels: 400, bytes: 8000 } },
  disk: {
    ...galley.disk,
    alphabet: 'ascii',
    allowed: `${LETTERS}0123456789 -.,'()[]&_`,
    maxStem: 40,
    maxEnding: 3,
    shownLetters: 8,
    maxLevels: 2,
    filesInFolder: 4,
    files: 14,
    order: 'written',
  },
});
