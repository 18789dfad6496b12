import { expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { twinsFor } from '../../../../tests/helpers/twins';
import { outgoingOf } from '$lib/formats';
import type { ItemId } from '../items';
import { NO_CHOICES, SELECT_ALL, planRun, toPlanItem, unheldBy } from '../plan';
import { HAND_PATTERNS, handRulebook } from './by-hand';
import { plainVideoWishes, plainWishes } from './named-recipe';

/** A place where nothing lies, and nothing was decided. */
const NOTHING_YET = { there: [], placed: [], choices: NO_CHOICES, policy: 'ask', token: 't' } as const;

test.each([
  [
    HAND_PATTERNS[0],
    ['The Tidewrack Choir/Salt Ledger/01 Song 1.mp3', 'The Tidewrack Choir/Salt Ledger/02 Song 2.mp3'],
  ],
  [HAND_PATTERNS[1], ['Album/song-1.mp3', 'Album/song-2.mp3']],
  [HAND_PATTERNS[2], ['song-1.mp3', 'song-2.mp3']],
])('items that are converted by hand go by %s, and no others', (pattern, paths) => {
  const rulebook = handRulebook('Car', plainWishes('mp3'), pattern);
  const chosen = makeAlbum(2);
  const items = [...chosen, makeItem('other', { title: 'Other' }), makeItem('open', {}, { settled: null })];
  const plan = planRun({
    items: items.map((item) => toPlanItem(item, outgoingOf, twinsFor(item, [rulebook]))),
    rulebook,
    ...NOTHING_YET,
    selection: { ...SELECT_ALL, with: chosen.map(({ id }): ItemId => id), only: true },
  });
  expect(plan.steps.flatMap((step) => (step.type === 'copy' ? step.path : []))).toEqual(paths);
  expect(plan.findings).toEqual([]);
});

test('a film that is converted by hand says of its tracks what is said of those of the original', () => {
  const stream = { channels: null, sampleRate: null, width: null, height: null };
  const film = makeItem(
    'film',
    { title: 'The Keeper', date: '1974' },
    {
      settled: 'film',
      path: 'Films/The Keeper (1974).mkv',
      format: 'matroska',
      size: 5_000_000,
      facts: {
        durationSeconds: 100,
        streams: [
          { ...stream, type: 'picture', codec: 'V_MPEGH/ISO/HEVC', width: 640, height: 360 },
          { ...stream, type: 'subtitle', codec: 'S_TEXT/UTF8' },
          { ...stream, type: 'sound', codec: 'A_AAC', channels: 2, sampleRate: 48_000 },
          { ...stream, type: 'sound', codec: 'A_AAC', channels: 2, sampleRate: 48_000 },
        ],
        tagFormats: ['matroska'],
      },
      edits: { tracks: [{ id: 3, isLeftOut: true }] },
    },
  );
  const tracks = [
    { id: 1, type: 'picture', language: null, name: '' },
    { id: 2, type: 'subtitle', language: 'eng', name: '' },
    { id: 3, type: 'sound', language: 'eng', name: 'Comments' },
    { id: 4, type: 'sound', language: 'nob', name: '' },
  ] as const;
  const item = { ...film, file: { ...film.file, tracks } };
  const rulebook = handRulebook('Screen', plainVideoWishes('webm'), HAND_PATTERNS[2]);
  const plan = planRun({
    items: [toPlanItem(item, outgoingOf, twinsFor(item, [rulebook]))],
    rulebook,
    ...NOTHING_YET,
  });
  expect(plan.steps.flatMap((step) => (step.type === 'copy' ? step.path : []))).toEqual([
    'The Keeper (1974).webm',
  ]);
  const [recipe] = plan.steps.flatMap((step) => (step.type === 'copy' ? step.recipe : []));
  expect(recipe).toMatchObject({
    type: 'twin',
    format: 'matroska',
    changes: {
      fields: { title: 'The Keeper' },
      // Its subtitles are none of the twin's, its second sound is left out.
      tracks: [
        { id: 2, language: 'eng', name: 'Comments', isLeftOut: true },
        { id: 3, language: 'nob' },
      ],
    },
  });
  expect(unheldBy(item, twinsFor(item, [rulebook])[0]!.recipe, outgoingOf)).toContain('subtitles');
});

test('a pattern that is none is refused by name', () => {
  expect(() => handRulebook('Car', plainWishes('mp3'), ':nothing')).toThrow(/pattern/);
});
