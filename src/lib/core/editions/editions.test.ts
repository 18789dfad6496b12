import { describe, expect, test } from 'vitest';
import { editItem, type Fields, type Item } from '../items';
import { findEditions } from '.';
import { makeItem } from '../../../../tests/helpers/items';

const TITLES = ['Inventory of Gulls', 'Kelp Road', 'The Harbour Clerk', 'Low Water'];
const album = (folder: string, rest: Partial<Item> = {}, fields: Partial<Fields> = {}, titles = TITLES) =>
  titles.map((title, index) =>
    makeItem(
      `${folder} ${title}`,
      { album: 'Salt Ledger', albumArtist: 'The Tidewrack Choir', title, track: index + 1, ...fields },
      { path: `Music/${folder}/${index + 1}`, ...rest },
    ),
  );
const lasting = (seconds: number): Partial<Item> => ({
  facts: { durationSeconds: seconds, streams: [], tagFormats: [] },
});

function found(items: readonly Item[], soundOf?: Parameters<typeof findEditions>[1]) {
  const steps = findEditions(items, soundOf);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
const told = (items: readonly Item[]) =>
  found(items).map(({ album: name, isTold, versions }) => [
    name,
    isTold,
    ...versions.map(({ home, mark, shared }) => [home, mark, shared]),
  ]);

describe('editions of a release', () => {
  test('are what has the same titles and lengths in another folder, with a mark for all but the first', () => {
    const items = [
      ...album('Salt Ledger'),
      ...album('Salt Ledger [2011 Remaster]', lasting(202), {}, TITLES.slice(0, 3)),
    ];
    expect(told(items)).toEqual([
      [
        'Salt Ledger',
        false,
        ['Music/Salt Ledger', null, 4],
        ['Music/Salt Ledger [2011 Remaster]', '2011 Remaster', 3],
      ],
    ]);
  });

  test('are found in one folder too, told apart by their format, and though one album says its mark in its name', () => {
    const items = [
      ...album('Salt Ledger'),
      ...album('Salt Ledger', { format: 'mp3' }, { album: 'Salt Ledger (lossy)' }),
    ];
    expect(told(items)).toEqual([
      ['Salt Ledger', false, ['Music/Salt Ledger', null, 4], ['Music/Salt Ledger', 'MP3', 4]],
    ]);
  });

  test('are no others: other titles, other lengths, another maker, half of a release in another format', () => {
    const first = album('a');
    for (const other of [
      album('b', {}, {}, ['Donkey Engine', 'Oil and Patience']),
      album('b', lasting(260)),
      album('b', {}, { albumArtist: 'Orla Venn' }),
      album('a', { format: 'mp3' }, {}, ['Ballast Stone', 'Kelp Road (again)', 'Steam Up']),
    ])
      expect(told([...first, ...other])).toEqual([]);
  });

  test('are told once they bear other marks', () => {
    const marked = album('b', { format: 'mp3' }).map((item) => editItem(item, { edition: 'MP3' }));
    expect(found([...album('a'), ...marked])).toMatchObject([
      { isTold: true, versions: [{ edition: null }, { edition: 'MP3' }] },
    ]);
  });

  test('say how far their sound lies apart, where both were heard', () => {
    const prints = new Map([
      ['a Kelp Road', new Uint32Array(100).fill(0)],
      ['b Kelp Road', new Uint32Array(100).fill(0xf)],
    ]);
    const [editions] = found([...album('a'), ...album('b')], ({ id }) => prints.get(id) ?? null);
    expect(editions?.versions.map(({ distance }) => distance)).toEqual([null, 0.125]);
  });
});
