import { expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import { makeItem, planItem } from '../../../../../tests/helpers/items';
import type { ItemId } from '../../items';
import type { ListId, PlayerList } from '../../lists';
import { NO_CHOICES } from '../choices';
import { LivePlan } from '../live-plan';
import type { PlacedFile } from '../there/files';

const song = (id: string) =>
  planItem(
    makeItem(
      id,
      { title: id, artist: ['Orla Venn'], album: 'Ebb', track: 1 },
      { settled: 'song', format: 'mp3', path: `in/${id}.mp3` },
    ),
  );
const list = (name: string, ...items: string[]): PlayerList => ({
  id: name as ListId,
  name,
  group: null,
  type: 'hand',
  entries: items.map((item) => ({ item: item as ItemId })),
  allowsDoubles: false,
});

/** Plans for Pocket, on which all lies that was planned before; nothing more fits than `free` bytes. */
function planned(lists: readonly PlayerList[], placed: readonly PlacedFile[], free: number | null) {
  const live = new LivePlan(RULEBOOKS.pocket);
  const there = placed.map(({ path, size, digest }) => ({ path, size, digest }));
  live.see(there, { placed, choices: NO_CHOICES, policy: 'both', free });
  live.change(['a', 'b'].map(song), []);
  live.know(lists);
  return live;
}

/** What a run leaves there of a plan. */
const left = (live: LivePlan): readonly PlacedFile[] =>
  live.steps('t').flatMap((step): PlacedFile[] => {
    if (step.type !== 'copy' && step.type !== 'writeText') return [];
    const { path, owner, signature } = step;
    const size = step.type === 'writeText' ? step.text.length : step.original.size;
    return [{ path, owner, signature, size, digest: signature }];
  });

test('a list that lies on a full player stays there; one that would grow has no room', () => {
  const placed = left(planned([list('Ferry', 'a')], [], null));
  expect(placed.map(({ path }) => path)).toContain('Playlists/Ferry.m3u8');
  const full = planned([list('Ferry', 'a')], [...placed, ...left(planned([], [], null))], 0);
  expect([full.digest().lists.map(({ state }) => state), full.steps('u')]).toEqual([['goes'], []]);
  const more = planned([list('Ferry', 'a', 'b')], placed, 0);
  expect(more.digest().lists).toMatchObject([{ state: 'noRoom' }]);
  // What lies there of it stays as it is.
  expect(more.steps('u').filter(({ path }) => path.startsWith('Playlists'))).toEqual([]);
});

test('what falls out of a list is told with why', () => {
  const live = new LivePlan(RULEBOOKS.pocket);
  live.see([], { placed: [], choices: { ...NO_CHOICES, leftOut: ['b' as ItemId] }, policy: 'both' });
  live.change(['a', 'b'].map(song), []);
  const open = { path: 'x.mp3', title: 'X', artist: null, seconds: null };
  const own = list('Ferry', 'a', 'b', 'gone');
  live.know([{ ...own, entries: [...own.entries, { open }] }]);
  expect(live.digest().lists).toMatchObject([
    {
      ...{ name: 'Ferry', state: 'goes', path: 'Playlists/Ferry.m3u8', count: 4, written: 1 },
      leftOut: [
        { why: 'leftOut', count: 1, items: ['b'] },
        { why: 'open', count: 2, items: ['gone'] },
      ],
    },
  ]);
});
