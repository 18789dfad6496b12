import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { ASKING } from '../browse';
import type { ArrivalId, Item, ItemId } from '../items';
import type { Asking } from '../query';
import { newHandList, newRuleList, type ListId, type MirrorList, type PlayList, type RuleList } from './list';
import { LiveLists, type ListWishes } from './live-lists';
import { playedAgain, type Play } from './plays';

type Own = Item & { readonly isGone: boolean };
const OWN_ASKING: Asking<Own> = ASKING;
const NOW = Date.parse('2026-06-15T12:00');
const id = (text: string) => text as ItemId;

const song = (name: string, more: Partial<Item> & { genre?: string; title?: string } = {}): Own => {
  const { genre = 'folk', title = name, ...rest } = more;
  const path = `Music/${name}.flac`;
  const own = makeItem(path, { genre: [genre], title }, { id: id(name), path, ...rest });
  return { ...own, facts: { ...own.facts, durationSeconds: 100 }, isGone: own.gone !== null };
};
const rule = (name: string, query: string, more: Partial<RuleList> = {}): RuleList => ({
  ...newRuleList(name as ListId, name),
  query,
  ...more,
});
const byTitle = { type: 'terms', terms: [{ by: 'title', down: false }] } as const;
const mirror: MirrorList = {
  ...{ id: 'music' as ListId, type: 'mirror' as const, name: 'Music', note: '', group: null },
  ...{ source: song('x').source, folder: 'Music', isDeep: false },
};

function make(lists: readonly PlayList[], items: readonly Own[], more: Partial<ListWishes> = {}) {
  const live = new LiveLists<Own>(OWN_ASKING);
  live.change(items, []);
  live.know({ lists, arrivals: [], players: [], now: NOW, ...more });
  return live;
}
const idsIn = (live: LiveLists<Own>, list: string) => live.listed(list as ListId).items.join('');

describe('a rule list', () => {
  const items = ['c', 'a', 'b', 'd'].map((name) => song(name));

  test('holds what meets its query, in its order, up to its limit; the next ones are told', () => {
    const live = make(
      [rule('r', 'genre is folk', { order: byTitle, limit: { by: 'items', most: 2 } })],
      items,
    );
    expect(live.listed('r' as ListId)).toEqual({ items: ['a', 'b'], beyond: ['c', 'd'] });
    expect(live.digests()).toEqual([
      {
        ...{ id: 'r', count: 2, seconds: 200, open: 0, beyond: 2, problem: null },
        bytes: 2 * items[0]!.size,
        cap: { used: 2, most: 2 },
      },
    ]);
    expect(live.why('r' as ListId, id('c'))).toEqual({ type: 'beyond', place: 2 });
  });

  test('is limited by length and by bytes: what would exceed it stays out', () => {
    const limit = (by: 'seconds' | 'bytes', most: number) =>
      idsIn(make([rule('r', '', { order: byTitle, limit: { by, most } })], items), 'r');
    expect(limit('seconds', 250)).toBe('ab');
    expect(limit('seconds', 300)).toBe('abc');
    expect(limit('bytes', items[0]!.size * 2.5)).toBe('ab');
  });

  test('is limited by what is free on a player, where what lies there already takes nothing of it', () => {
    const bytes = items[0]!.size;
    const own = rule('r', '', { order: byTitle, limit: { by: 'free', player: 'p' } });
    const live = make([own], items, {
      players: [['Pocket', [id('b')]]],
      free: [['p', 'Pocket', bytes * 2.5]],
    });
    expect(idsIn(live, 'r')).toBe('abc');
    expect(live.digests()[0]?.cap).toEqual({ used: bytes * 2, most: bytes * 2.5 });
    live.know({ free: [['p', 'Pocket', 0]], now: NOW });
    expect(idsIn(live, 'r')).toBe('');
    // Of a player that tells nothing, all are let in.
    expect(idsIn(make([own], items), 'r')).toBe('abcd');
  });

  test('goes by what was played', () => {
    const live = make([rule('new', 'never played', { order: byTitle })], items);
    live.know({ plays: [{ item: id('b'), count: 1, at: NOW }], now: NOW });
    expect(idsIn(live, 'new')).toBe('acd');
    live.know({ unplayed: [id('b')], now: NOW });
    expect(idsIn(live, 'new')).toBe('abcd');
  });

  test('that takes long to make is told once it is made, of the items as they are then', () => {
    const live = new LiveLists<Own>(OWN_ASKING);
    live.change(items, []);
    const lists = [rule('r', 'in list s', { order: byTitle }), rule('s', '', { order: byTitle })];
    const wishes = { arrivals: [], players: [], now: NOW };
    expect(live.know({ ...wishes, lists }, -1)).toBe(false);
    expect([live.digests(), live.why('r' as ListId, id('a'))]).toEqual([[], null]);
    live.change([], [id('b')]);
    // One that is taken out before it was made is no more.
    live.know({ lists: [rule('t', '')], now: NOW }, -1);
    live.know({ forgotten: ['t' as ListId], now: NOW }, -1);
    expect(live.know({ now: NOW })).toBe(true);
    expect([idsIn(live, 'r'), live.digests().map((one) => one.id)]).toEqual(['acd', ['r', 's']]);
  });

  test('what is dropped stays out, and the next ones move up', () => {
    const own = rule('r', '', { order: byTitle, limit: { by: 'items', most: 2 }, dropped: [id('a')] });
    const live = make([own], items);
    expect(idsIn(live, 'r')).toBe('bc');
    expect(live.why(own.id, id('a'))).toEqual({ type: 'dropped' });
    live.know({ lists: [{ ...own, dropped: [] }], now: NOW });
    expect(idsIn(live, 'r')).toBe('ab');
  });

  test('shuffled is always the same by one seed, and another by another', () => {
    const many = Array.from({ length: 40 }, (_, index) => song(`s${index}`));
    const order = (seed: number, own = many) =>
      make([rule('r', '', { order: { type: 'shuffled', seed } })], own).listed('r' as ListId).items;
    expect(order(1)).toEqual(order(1, [...many].reverse()));
    expect(order(1)).not.toEqual(order(2));
    expect(order(1).filter((one) => one !== 's7')).toEqual(
      order(
        1,
        many.filter((one) => one.id !== 's7'),
      ),
    );
  });

  test('asks when items came, who has them, and what other lists hold', () => {
    const first = 'first' as ArrivalId;
    const own = [song('a', { arrival: first }), song('b'), song('c', { arrival: first })];
    const hand = {
      ...newHandList('h' as ListId, 'Ferry'),
      suites: [{ name: null, entries: [{ item: id('a') }] }],
    };
    const live = make(
      [
        rule('new', 'added in the last 2 months and never on Pocket', { order: byTitle }),
        rule('rest', 'not in list Ferry', { order: byTitle }),
        rule('none', 'in no list', { order: byTitle }),
        hand,
      ],
      own,
      { arrivals: [[first, Date.parse('2026-05-01')]], players: [['Pocket', [id('c')]]] },
    );
    expect(idsIn(live, 'new')).toBe('a');
    expect(idsIn(live, 'rest')).toBe('bc');
    expect(idsIn(live, 'none')).toBe('bc');
    // Time alone makes another list of it.
    live.know({ now: Date.parse('2026-08-01') });
    expect(idsIn(live, 'new')).toBe('');
  });

  test('that would hold itself is refused by name; one that is wrong says where', () => {
    const live = make(
      [rule('One', 'in list Two'), rule('Two', 'in list One or genre is folk'), rule('Bad', 'genre is')],
      items,
    );
    const problems = Object.fromEntries(live.digests().map(({ id: own, problem }) => [own, problem]));
    expect(problems.One).toEqual({ type: 'holdsItself', by: 'Two' });
    expect(problems.Two).toMatchObject({ type: 'holdsItself' });
    expect(problems.Bad).toMatchObject({ type: 'query', problem: { code: 'needsText' } });
    expect(idsIn(live, 'Two')).toBe('');
    // What only asks for one of them holds nothing either, and is not to blame.
    expect(
      make([rule('C', 'in list A'), rule('A', 'in list B'), rule('B', 'in list A')], items).digests()[0],
    ).toMatchObject({
      id: 'C',
      count: 0,
      problem: null,
    });
    expect(make([rule('C', 'in list Bad'), rule('Bad', 'genre is')], items).digests()[0]?.problem).toBeNull();
    expect(make([rule('Gone', 'in list Nowhere')], items).digests()[0]?.problem).toMatchObject({
      problem: { code: 'noSuchList', text: 'Nowhere' },
    });
  });
});

describe('a list that is kept is what it would be if it were made anew', () => {
  const names = ['a', 'b', 'c', 'd', 'e', 'f'];
  const anySong = fc.record({
    name: fc.constantFrom(...names),
    genre: fc.constantFrom('folk', 'choral'),
    title: fc.constantFrom('Kelp', 'Low', 'Undertow', 'Ästuar'),
    gone: fc.constantFrom(null, null, null, 5),
  });
  const limit = fc.option(
    fc.oneof(
      fc.record({ by: fc.constantFrom('items', 'seconds', 'bytes'), most: fc.constantFrom(1, 2, 250, 5000) }),
      fc.constant({ by: 'free', player: 'pocket' } as const),
    ),
  );
  const order = fc.constantFrom(
    byTitle,
    { type: 'shuffled', seed: 3 } as const,
    {
      type: 'terms',
      terms: [
        { by: 'genre', down: true },
        { by: 'played', down: false },
        { by: 'added', down: false },
      ],
    } as const,
  );
  const query = fc.constantFrom(
    '',
    'genre is folk',
    'in list H',
    'not in list R0 and genre is choral',
    'in list R1',
    'in no list',
    'never on Pocket',
    'added in the last month',
    'in list M or title is kelp',
    'never played',
    'played under 2 times and in list R2',
    'genre is',
  );
  const anyList = fc.oneof(
    fc
      .record({ n: fc.nat(3), query, limit, order, dropped: fc.subarray(names.map(id)) })
      .map(({ n, ...own }): PlayList => rule(`R${n}`, own.query, own as Partial<RuleList>)),
    fc.subarray(names.map(id)).map((items): PlayList => ({
      ...newHandList('H' as ListId, 'H'),
      suites: items.map((item) => ({ name: null, entries: [{ item }] })),
    })),
    fc.boolean().map((isDeep): PlayList => ({ ...mirror, id: 'M' as ListId, name: 'M', isDeep })),
  );
  const act = fc.oneof(
    { weight: 4, arbitrary: anySong.map(({ name, ...more }) => ({ put: song(name, more) })) },
    fc.constantFrom(...names).map((name) => ({ remove: id(name) })),
    // More than are moved one by one.
    fc.array(anySong, { minLength: 40, maxLength: 45 }).map((songs) => ({
      many: songs.map(({ name, ...more }, index) => song(index < 6 ? name : `${name}${index}`, more)),
    })),
    { weight: 2, arbitrary: anyList.map((list) => ({ list })) },
    fc.nat(3).map((n) => ({ forget: `R${n}` })),
    fc.subarray(names.map(id)).map((items) => ({ pocket: items })),
    fc.integer({ min: 0, max: 60 }).map((days) => ({ days })),
    fc.constantFrom(...names).map((name) => ({ plays: id(name) })),
    fc.constantFrom(...names).map((name) => ({ unplays: id(name) })),
    fc.constantFrom(0, 2500, 1e6).map((free) => ({ free })),
  );

  test('whatever is done to items, lists, players, plays and the day', () => {
    fc.assert(
      fc.property(fc.array(act, { minLength: 1, maxLength: 25 }), (acts) => {
        const live = new LiveLists<Own>(OWN_ASKING);
        const items = new Map<ItemId, Own>();
        const lists = new Map<ListId, PlayList>();
        const plays = new Map<ItemId, Play>();
        let wishes: Omit<ListWishes, 'lists'> = {
          arrivals: [[song('a').arrival, NOW]],
          players: [['Pocket', []]],
          now: NOW,
        };
        live.know(wishes);
        for (const one of acts) {
          if ('put' in one) {
            items.set(one.put.id, one.put);
            live.change([one.put], []);
          } else if ('remove' in one) {
            items.delete(one.remove);
            live.change([], [one.remove]);
          } else if ('many' in one) {
            for (const own of one.many) items.set(own.id, own);
            live.change(one.many, []);
          } else if ('list' in one) {
            lists.set(one.list.id, one.list);
            live.know({ lists: [one.list], now: wishes.now });
          } else if ('forget' in one) {
            lists.delete(one.forget as ListId);
            live.know({ forgotten: [one.forget as ListId], now: wishes.now });
          } else if ('pocket' in one) {
            wishes = { ...wishes, players: [['Pocket', one.pocket]] };
            live.know({ players: [['Pocket', one.pocket]], now: wishes.now });
          } else if ('plays' in one) {
            const play = playedAgain(plays.get(one.plays) ?? null, one.plays, NOW);
            plays.set(one.plays, play);
            live.know({ plays: [play], now: wishes.now });
          } else if ('unplays' in one) {
            plays.delete(one.unplays);
            live.know({ unplayed: [one.unplays], now: wishes.now });
          } else if ('free' in one) {
            wishes = { ...wishes, free: [['pocket', 'Pocket', one.free]] };
            live.know({ free: wishes.free, now: wishes.now });
          } else {
            wishes = { ...wishes, now: NOW + one.days * 86_400_000 };
            live.know({ now: wishes.now });
          }
          const anew = new LiveLists<Own>(OWN_ASKING);
          anew.change([...items.values()], []);
          anew.know({ ...wishes, plays: [...plays.values()], lists: [...lists.values()] });
          const byId = (own: LiveLists<Own>) => new Map(own.digests().map((digest) => [digest.id, digest]));
          expect(byId(live)).toEqual(byId(anew));
          for (const id of lists.keys()) expect(live.listed(id)).toEqual(anew.listed(id));
        }
      }),
      { numRuns: 300 },
    );
  });
});
