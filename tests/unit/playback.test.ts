import { beforeEach, expect, test } from 'vitest';
import type { Item, ItemId } from '../../src/lib/core/items';
import type { ListId, Suite } from '../../src/lib/core/lists';
import { Playback, type KeptQueue } from '../../src/lib/state/playback.svelte';
import { makeItem } from '../helpers/items';

const items = new Map(['a', 'b', 'c', 'd', 'e'].map((id) => [id as ItemId, makeItem(id)] as const));
const item = (id: string) => items.get(id as ItemId) as Item;
const suite = (ids: string, name: string | null = null): Suite => ({
  name,
  entries: [...ids].map((id) => ({ item: id as ItemId })),
});
let kept: KeptQueue | null;
let heard: (readonly [string, string | null])[];

const begun = (find = (id: ItemId): Item | null => items.get(id) ?? null) =>
  new Playback({
    openFile: () => Promise.reject(new Error('no sound here')),
    find,
    heard: ({ id }, from) => heard.push([id, from]),
    queueChanged: (queue) => (kept = queue),
  });
const shown = ({ queue, at }: Playback) =>
  `${queue.suites.map(({ entries }) => entries.map((one) => ('item' in one ? one.item : '?')).join('')).join(' ')} at ${at}`;

beforeEach(() => {
  kept = null;
  heard = [];
});

test('what comes next stands behind the suite that is heard, as one suite; what waited comes sooner', async () => {
  const playback = begun();
  await playback.begin([suite('ab', 'One'), suite('c'), suite('d')]);
  playback.playNext([item('d'), item('e')]);
  expect(shown(playback)).toBe('ab de c at 0');
  playback.playLast([item('d')]);
  expect(shown(playback)).toBe('ab e c d at 0');
  // What is heard stays where it is.
  playback.playNext([item('a'), item('c')]);
  expect(shown(playback)).toBe('ab c e d at 0');
});

test('it goes on from what is heard, whatever is moved and taken out, and passes over what is gone', async () => {
  const playback = begun();
  await playback.begin(
    [suite('a'), { name: null, entries: [{ item: 'gone' as ItemId }] }, suite('b'), suite('c')],
    0,
  );
  await playback.ended();
  expect([playback.loaded?.id, playback.at]).toEqual(['b', 2]);
  playback.takeOut(new Set([0]));
  expect(shown(playback)).toBe('gone b c at 1');
  playback.takeOut(new Set([1]));
  expect([playback.loaded?.id, shown(playback)]).toEqual(['b', 'gone c at 0']);
  await playback.go(1);
  expect([playback.loaded?.id, shown(playback)]).toEqual(['c', 'gone c at 1']);
  playback.clear();
  expect(shown(playback)).toBe('c at 0');
});

test('an item that stands there twice is gone to where it stands', async () => {
  const playback = begun();
  await playback.begin([suite('a'), suite('b'), suite('a'), suite('c')], 2);
  expect(playback.at).toBe(2);
  await playback.go(1);
  expect([playback.loaded?.id, playback.at]).toEqual(['c', 3]);
});

test('what is heard to its end is told with its list; one that is heard alone leaves the queue as it is', async () => {
  const playback = begun();
  await playback.begin([suite('a'), suite('b')], 0, 'list' as ListId);
  await playback.ended();
  await playback.playAlone(item('e'));
  await playback.ended();
  expect(heard).toEqual([
    ['a', 'list'],
    ['e', null],
  ]);
  expect([playback.loaded?.id, shown(playback)]).toEqual(['e', 'a b at 1']);
});

test('it is taken up as it was left, and something that plays meanwhile goes on', async () => {
  const playback = begun();
  await playback.begin([suite('ab', 'One'), suite('c')], 1, 'list' as ListId);
  const next = begun();
  next.restore(kept as KeptQueue);
  expect([next.loaded?.id, next.from, shown(next)]).toEqual(['b', 'list', 'ab c at 1']);
  const other = begun();
  await other.playAlone(item('d'));
  other.restore(kept as KeptQueue);
  expect(other.loaded?.id).toBe('d');
});

test('of all that is in scope, those around the first one are queued', async () => {
  const many = Array.from({ length: 30_000 }, (_, index) => makeItem(String(index)));
  const byId = new Map(many.map((one) => [one.id, one]));
  const playback = begun((id) => byId.get(id) ?? null);
  await playback.playAll(many, many[20_000] as Item);
  expect([playback.entries.length, playback.at, playback.loaded]).toEqual([10_000, 100, many[20_000]]);
});
