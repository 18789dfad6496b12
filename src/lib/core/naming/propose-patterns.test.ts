import { describe, expect, test } from 'vitest';
import { proposePatterns } from './propose-patterns';
import { NOISE_RULES, type NoiseRule } from './read-names';

const ALL = new Set<NoiseRule>(NOISE_RULES);

describe('proposed patterns', () => {
  test.each([
    [['A/01 x', 'A/02 y'].map((path) => `Music/Orla Venn/${path}`), ':artist/:album/:track :title'],
    [['Orla Venn - Bell', 'Dag Holme - Neap'].map((name) => `Drop/${name}`), ':artist - :title'],
    [['01 Orla Venn - Bell', '02 Dag Holme - Neap'].map((name) => `Drop/${name}`), ':track :artist - :title'],
    [['Orla Venn/Wick (2016)/01 a', 'Dag Holme/Neap (2011)/02 b'], ':artist/:album{ (:year)}/:track :title'],
  ])('%j', (paths, best) => expect(proposePatterns(paths, ALL)[0]).toEqual({ text: best, fits: 2, of: 2 }));

  test.each([
    [
      'episode',
      ['The Ferry Inspector S01E02 Low Water', 'The Ferry Inspector S02E11 Fog'],
      ':show S:season\\E:episode :title',
    ],
    [
      'episode',
      ['The Ferry Inspector - 1x02 - Low Water', 'Tide Talk - 2x11 - Fog'],
      ':show - :season\\x:episode - :title',
    ],
    [
      'episode',
      ['Tide Talk/Season 1/02 Fog', 'Tide Talk/Season 2/03 Mist'],
      ':show/Season :season/:episode :title',
    ],
    ['film', ['The Weir (1962)', 'Slack Water (1971)'], ':title (:year)'],
    ['film', ['Films/The Weir', 'Films/Slack Water'], ':title'],
    [
      'song',
      ['Orla Venn - Wick - 01 - Bell', 'Orla Venn - Wick - 02 - Ebb'],
      ':artist - :album - :track - :title',
    ],
    [
      'song',
      ['Wick (2016)/Disc 1/01 Bell', 'Wick (2016)/Disc 2/02 Ebb'],
      ':album{ (:year)}/Disc :disc/:track :title',
    ],
    ['audiobook', ['Books/Wreckmasters/00', 'Books/Wreckmasters/01'], ':album/:track'],
    ['podcast', ['Tide Talk/012 - Fog', 'Tide Talk/013 - Mist'], ':show/:episode - :title'],
    ['musicVideo', ['Orla Venn - Bell (2016)', 'Dag Holme - Neap (2011)'], ':artist - :title (:year)'],
  ] as const)('%s: %j', (kind, paths, best) => expect(proposePatterns(paths, ALL, kind)[0]?.text).toBe(best));

  test('of a kind name nothing that such files do not say', () => {
    const films = proposePatterns(['The Weir (1962)', 'Slack Water (1971)'], ALL, 'film');
    for (const { text } of films) expect(text).not.toMatch(/:(track|album|artist|show)/);
  });

  test('none where nothing fits', () => expect(proposePatterns([], ALL)).toEqual([]));

  test('many names are sampled', () => {
    const paths = Array.from(
      { length: 50_000 },
      (_, index) => `Artist/Album ${index % 90}/0${index % 9} t${index}`,
    );
    expect(proposePatterns(paths, ALL)[0]?.of).toBeLessThanOrEqual(300);
  });
});
