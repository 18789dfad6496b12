import { expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import { makeItem, planItem } from '../../../../../tests/helpers/items';
import type { Item } from '../../items';
import { LivePlan } from '../live-plan';
import { SELECT_ALL, type FirstOfKind } from '../selection';
import { NO_CHOICES } from '../choices';

const song = (id: string, size: number, rating: number, date: string): Item =>
  makeItem(
    id,
    {
      title: id,
      album: 'Ebb',
      artist: ['Orla Venn'],
      albumArtist: 'Orla Venn',
      genre: ['folk'],
      rating,
      date,
    },
    { settled: 'song', format: 'mp3', path: `in/${id}.mp3`, size },
  );

const SONGS = [
  song('first', 600, 20, '2001'),
  song('rated', 500, 100, '1990-02-03'),
  song('latest', 700, 40, '2020-05'),
  song('small', 300, 60, '1980'),
];

function lettingIn(first: FirstOfKind | undefined, free: number) {
  const live = new LivePlan(RULEBOOKS.galley);
  const selection = { ...SELECT_ALL, ...(first && { first }) };
  live.see([], { placed: [], choices: NO_CHOICES, policy: 'leads', selection, free });
  live.change(SONGS.map(planItem), []);
  return { goes: live.paths().map(({ item }) => item), digest: live.digest() };
}

test.each([
  [undefined, ['first', 'small']],
  ['rated', ['rated', 'small']],
  ['latest', ['latest', 'small']],
  ['smallest', ['rated', 'small']],
] as const)('where room runs out, what comes first within a kind: %s', (first, goes) => {
  expect(lettingIn(first, 1000).goes.toSorted()).toEqual(goes.toSorted());
});

test('what has no room is told apart from what somebody has to mend', () => {
  const { digest } = lettingIn(undefined, 1000);
  expect([digest.held, digest.heldBy]).toEqual([2, { finding: 0, twin: 0, room: 2 }]);
  expect(digest.bySeverity.blocks).toBe(0);
});
