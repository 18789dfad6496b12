import { expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { twinsFor } from '../../../../tests/helpers/twins';
import { outgoingOf } from '$lib/formats';
import type { ItemId } from '../items';
import { NO_CHOICES, SELECT_ALL, planRun, toPlanItem } from '../plan';
import { HAND_PATTERNS, handRulebook } from './by-hand';
import { plainWishes } from './named-recipe';

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
    there: [],
    placed: [],
    choices: NO_CHOICES,
    policy: 'ask',
    token: 't',
    selection: { ...SELECT_ALL, with: chosen.map(({ id }): ItemId => id), only: true },
  });
  expect(plan.steps.flatMap((step) => (step.type === 'copy' ? step.path : []))).toEqual(paths);
  expect(plan.findings).toEqual([]);
});

test('a pattern that is none is refused by name', () => {
  expect(() => handRulebook('Car', plainWishes('mp3'), ':nothing')).toThrow(/pattern/);
});
