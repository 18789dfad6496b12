import { expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import type { Arrival, ArrivalId, SourceId } from '../items';
import { countKinds, inScope, toRows, type Row } from './index';

const arrivals: Arrival[] = [
  {
    id: 'arrival' as ArrivalId,
    source: 's' as SourceId,
    origin: 'folder' as const,
    label: 'drop',
    at: 5,
    unread: [],
    setAside: 0,
  },
];
const drawn = (rows: readonly Row[]) =>
  rows.map((row) => (row.type === 'group' ? `${'>'.repeat(row.depth + 1)} ${row.label}` : row.key));
const items = [
  ...makeAlbum(2),
  makeItem('loose', { title: 'Loose' }),
  makeItem('book', { album: 'Almanac' }, { settled: 'audiobook' }),
];

test('a scope narrows by kind and by words in any field', () => {
  expect(inScope(items, { kind: 'audiobook', text: '' }).map(({ id }) => id)).toEqual(['book']);
  expect(inScope(items, { kind: null, text: 'tidewrack song-2' }).map(({ id }) => id)).toEqual(['song-2']);
  expect(inScope(items, { kind: null, text: '  ' })).toHaveLength(4);
});

test('kinds are counted', () =>
  expect([...countKinds(items)]).toEqual([
    ['song', 3],
    ['audiobook', 1],
  ]));

test('groups come in order, "unknown" last, songs by track', () => {
  expect(drawn(toRows([...items].reverse(), ['release'], arrivals, new Set()))).toEqual([
    '> Almanac',
    'book',
    '> Salt Ledger',
    'song-1',
    'song-2',
    '> No album',
    'loose',
  ]);
});

test('levels nest, and what is closed is left out', () => {
  const open = toRows(items, ['kind', 'release'], arrivals, new Set());
  const closed = new Set(
    open.filter((row) => row.type === 'group' && row.label === 'Salt Ledger').map(({ key }) => key),
  );
  const rows = toRows(items, ['kind', 'release'], arrivals, closed);
  expect(drawn(rows)).toEqual([
    '> songs',
    '>> Salt Ledger',
    '>> No album',
    'loose',
    '> audiobooks',
    '>> Almanac',
    'book',
  ]);
});

test('an arrival is known by its label', () =>
  expect(drawn(toRows(items, ['arrival', 'none'], arrivals, new Set()))[0]).toBe('> drop'));
