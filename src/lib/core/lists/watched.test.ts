import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { Item, ItemId, SourceId } from '../items';
import type { MirrorList } from './list';
import {
  defaultsFor,
  findMoves,
  itemsOfMirror,
  mirrors,
  missingDefaults,
  tieTree,
  type WatchedTree,
} from './watched';

const source = 'source' as SourceId;
const tree = { source, label: 'Wave', since: 1, choice: { kind: null, genreFromFolder: true } } as const;
let count = 0;
const newId = () => `list-${++count}`;
const at = (path: string, rest: Partial<Item> = {}) => makeItem(path, {}, { path, ...rest });

describe('tying a tree', () => {
  const first = tieTree(tree, ['', 'Choral', 'Reels/Fast'], { tree: null, lists: [] }, newId);

  test('gives every folder a rule and a list of its own', () => {
    expect(first.tree.rules).toEqual([
      { folder: '', kind: null, defaults: {} },
      { folder: 'Choral', kind: null, defaults: { genre: ['Choral'] } },
      { folder: 'Reels/Fast', kind: null, defaults: { genre: ['Fast'] } },
    ]);
    expect(first.lists.map(({ name }) => name)).toEqual(['Wave', 'Choral', 'Reels / Fast']);
  });

  test('again adds only what is new, and keeps what was changed', () => {
    const changed: WatchedTree = {
      ...first.tree,
      rules: first.tree.rules.map((rule) => (rule.folder === 'Choral' ? { ...rule, defaults: {} } : rule)),
    };
    const again = tieTree(tree, ['', 'Choral', 'New'], { tree: changed, lists: first.lists }, newId);
    expect(again.tree.rules.find(({ folder }) => folder === 'Choral')?.defaults).toEqual({});
    expect(again.lists).toHaveLength(4);
    // A folder that is away keeps its rule until it comes back.
    expect(again.tree.rules.map(({ folder }) => folder)).toContain('Reels/Fast');
  });

  test('values of the nearest folder hold, and never over what a file says', () => {
    const rules = {
      ...first.tree,
      rules: [
        { folder: '', kind: null, defaults: { genre: ['sea'], artist: ['x'] } },
        ...first.tree.rules.slice(1),
      ],
    };
    expect(defaultsFor(rules, 'Choral/a.mp3')).toEqual({ genre: ['Choral'], artist: ['x'] });
    expect(defaultsFor(rules, 'Elsewhere/a.mp3')).toEqual({ genre: ['sea'], artist: ['x'] });
    const own = makeItem('a', { genre: ['folk'] });
    expect(missingDefaults(own, { genre: ['Choral'], artist: ['x'] })).toEqual({ artist: ['x'] });
    expect(missingDefaults({ ...own, edits: { fields: { artist: null } } }, { artist: ['x'] })).toEqual({});
  });
});

describe('a mirror list', () => {
  const [, list] = tieTree(tree, ['', 'Choral'], { tree: null, lists: [] }, newId).lists as MirrorList[];
  const items = [
    at('Choral/b.mp3'),
    at('Choral/a.mp3'),
    at('Choral/Deep/c.mp3'),
    at('Choral/d.mp3', { gone: 5 }),
  ];

  test('holds what lies in its folder, in order, once, and what is there', () => {
    const own = list as MirrorList;
    expect(itemsOfMirror(own, items).map(({ path }) => path)).toEqual(['Choral/a.mp3', 'Choral/b.mp3']);
    const deep = itemsOfMirror({ ...own, isDeep: true }, items);
    expect(deep.map(({ path }) => path)).toEqual(['Choral/Deep/c.mp3', 'Choral/a.mp3', 'Choral/b.mp3']);
  });

  test('an item is in the list of its folder alone, however it moves', () => {
    const tied = tieTree(tree, ['', 'Choral', 'Reels'], { tree: null, lists: [] }, newId);
    const lists = tied.lists as readonly MirrorList[];
    fc.assert(
      fc.property(fc.array(fc.constantFrom('Choral', 'Reels', 'Choral/Deep'), { minLength: 1 }), (moves) => {
        let item = at('x.mp3');
        for (const folder of moves) item = { ...item, path: `${folder}/x.mp3` };
        const last = moves.at(-1);
        const expected = lists.filter(({ folder }) => folder === last).map(({ name }) => name);
        expect(lists.filter((one) => mirrors(one, item)).map(({ name }) => name)).toEqual(expected);
      }),
      { seed: 3 },
    );
  });
});

describe('files that moved', () => {
  const file = (path: string, size = 1000, modified = 1) => ({ path, size, modified });

  test('are told by size, time and name', () =>
    expect(findMoves([at('a/x.mp3'), at('a/y.mp3')], [file('b/y.mp3'), file('b/z.mp3', 7)])).toEqual([
      { id: 'a/y.mp3', to: 'b/y.mp3' },
    ]));

  test('and renamed, where nothing else could be meant', () => {
    expect(findMoves([at('a/x.mp3')], [file('b/new name.mp3')])).toEqual([
      { id: 'a/x.mp3', to: 'b/new name.mp3' },
    ]);
    expect(findMoves([at('a/x.mp3'), at('a/y.mp3')], [file('b/new name.mp3')])).toEqual([]);
  });

  test('each only once', () => {
    const moves = findMoves([at('a/x.mp3')], [file('b/x.mp3'), file('c/x.mp3')]);
    expect(moves).toEqual([{ id: 'a/x.mp3' as ItemId, to: 'b/x.mp3' }]);
  });
});
