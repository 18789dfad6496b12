import { itemOf } from '../owner';
import { describe, expect, test } from 'vitest';
import { editItem, type Fields, type Item, type ItemId } from '../../items';
import { makeItem } from '../../../../../tests/helpers/items';
import { planFor, type PlayerName } from '../../../../../tests/helpers/plans';

const ALBUM: Partial<Fields> = {
  album: 'Salt Ledger',
  albumArtist: 'The Tidewrack Choir',
  artist: ['The Tidewrack Choir'],
  date: '2019',
};
const TITLES = ['Inventory of Gulls', 'Kelp Road', 'Low Water'];
const MP3 = { format: 'mp3', facts: { durationSeconds: 201, streams: [], tagFormats: ['ID3v2.3'] } } as const;

const edition = (folder: string, rest: Partial<Item> = {}, ending = 'flac'): Item[] =>
  TITLES.map((title, index) =>
    makeItem(
      `${folder} ${title}`,
      { ...ALBUM, title, track: index + 1 },
      {
        path: `Music/${folder}/${index + 1}.${ending}`,
        ...rest,
      },
    ),
  );

const plan = (items: readonly Item[], player: PlayerName = 'attic') => planFor(player, items);
const marks = (items: readonly Item[]) =>
  plan(items).findings.flatMap(({ code, remedy }) =>
    code === 'twoEditions' && remedy?.type === 'edition' ? [remedy] : [],
  );
const mended = (items: readonly Item[]) => {
  const said = new Map(marks(items).flatMap(({ items: ids, mark }) => ids.map((id) => [id, mark] as const)));
  return items.map((item) => editItem(item, { edition: said.get(item.id) ?? null }));
};

describe('two editions of one release', () => {
  test.each([
    [
      'by what their folders say',
      'Salt Ledger (2011 Remaster)',
      edition('Salt Ledger (2011 Remaster)'),
      '2011 Remaster',
    ],
    ['by their formats', 'as mp3', edition('as mp3', MP3, 'mp3'), 'MP3'],
    ['by their years', 'later', edition('later').map((item) => editItem(item, { date: '2024' })), null],
  ])('are told apart %s, in one finding', (_, folder, second, mark) => {
    const items = [...edition('Salt Ledger'), ...second];
    expect(marks(items)).toEqual(
      mark === null ? [] : [{ type: 'edition', items: TITLES.map((title) => `${folder} ${title}`), mark }],
    );
  });

  test('are told with one mark for one of them, whichever has the names', () => {
    const [first, second] = [edition('a'), edition('b', MP3, 'mp3')];
    const mixed = [0, 1, 2].flatMap((at) =>
      (at === 1 ? [second, first] : [first, second]).map((own) => own[at]),
    );
    for (const items of [mixed, [...mixed].reverse(), [...second, ...first]] as Item[][]) {
      const found = plan(items).findings.filter(({ code }) => code === 'twoEditions');
      expect(found.map(({ words }) => words.mark)).toEqual(['MP3']);
      expect(marks(items).flatMap(({ items: ids }) => [...ids].sort())).toEqual(
        second.map(({ id }) => id).sort(),
      );
    }
    // One whose folder has a word for it is marked by that, also where it comes first.
    const live = [...edition('Ledger (live)'), ...edition('Ledger')];
    expect(marks(live).map(({ mark }) => mark)).toEqual(['live']);
    expect(marks([...live].reverse())[0]?.items.every((id) => id.includes('live'))).toBe(true);
  });

  test('are collisions as any where nothing tells them apart, or one of them lasts longer', () => {
    const longer = edition('b (live)', { facts: { ...MP3.facts, durationSeconds: 260 } });
    for (const second of [edition('b'), longer]) {
      const items = [...edition('a'), ...second];
      expect(marks(items)).toEqual([]);
      expect(plan(items).findings.filter(({ code }) => code === 'collision')).toHaveLength(3);
    }
  });

  test('both go once one is marked: names and albums carry the mark, the field of the album does not', () => {
    const items = mended([...edition('Salt Ledger'), ...edition('Salt Ledger (2011 Remaster)')]);
    for (const player of ['attic', 'pocket'] as const) {
      const { paths, showing, findings } = plan(items, player);
      const going = player === 'attic' ? 6 : 0;
      expect(paths).toHaveLength(going);
      expect(findings.filter(({ severity, code }) => severity === 'blocks' || code === 'splitAlbum')).toEqual(
        [],
      );
      if (going === 0) continue;
      const titles = showing.nodes.map(({ facts }) => facts.title).sort();
      expect(titles).toEqual(['Salt Ledger', 'Salt Ledger [2011 Remaster]']);
      expect(paths.at(-1)?.path).toBe(
        'Music/The Tidewrack Choir/Salt Ledger [2011 Remaster] (2019)/03 Low Water.flac',
      );
    }
  });

  test('what is written into a copy says the mark in its album, and has the edition in a field of its own', () => {
    const items = mended([...edition('Salt Ledger'), ...edition('Salt Ledger (2011 Remaster)')]);
    const { steps } = plan(items);
    const copies = steps.flatMap((step) => (step.type === 'copy' ? [step] : []));
    const of = (id: string) => copies.find(({ owner }) => itemOf(owner) === (id as ItemId));
    expect(of('Salt Ledger Kelp Road')?.recipe).toEqual({ type: 'asIs' });
    expect(of('Salt Ledger (2011 Remaster) Kelp Road')?.recipe).toMatchObject({
      type: 'retag',
      changes: { fields: { edition: '2011 Remaster', album: 'Salt Ledger [2011 Remaster]' } },
      expect: { album: 'Salt Ledger [2011 Remaster]' },
    });
  });

  test('a marked edition that is torn apart is joined under its own name', () => {
    const items = mended([...edition('Salt Ledger'), ...edition('Salt Ledger (2011 Remaster)')]);
    const torn = items.map((item) =>
      item.id.endsWith('Remaster) Low Water') ? editItem(item, { date: '2011' }) : item,
    );
    const split = plan(torn).findings.find(({ code }) => code === 'splitAlbum');
    expect(split?.remedy).toEqual({
      type: 'edit',
      changes: [{ item: 'Salt Ledger (2011 Remaster) Low Water', edits: { date: '2019' } }],
    });
  });
});
