import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { editItem, type Item } from '../items';
import { readHead, readItems } from './export';
import { sameOriginal, sameSaid } from './kept-item';
import { EMPTY_HISTORY, record, redo, undo, type Change } from './history';
import { EMPTY_PARTS, LIBRARY_VERSION } from './head';
import { migrateHead } from './migrations/head';
import { findBeside, isSameFile } from './take-in';

test.each([
  [{}, true],
  [{ size: 999 }, false],
  [{ modified: 2 }, false],
  [{ path: 'other.flac' }, false],
])('a file with %j is the one taken in: %s', (change, same) => {
  const item = makeItem('x', {}, { path: 'x.flac' });
  expect(isSameFile({ path: 'x.flac', size: 1000, modified: 1, ...change }, item)).toBe(same);
});

test('a sidecar lies beside the file of its name, or beside the only one in its folder', () => {
  const beside = findBeside(
    ['a/x.mp4', 'a/y.mp4', 'b/z.mp4'],
    ['a/x.xml', 'b/other.xml', 'b/cover.jpg'],
    (path) => path.endsWith('.xml'),
  );
  expect([...beside]).toEqual([
    ['a/x.mp4', ['a/x.xml']],
    ['b/z.mp4', ['b/other.xml']],
  ]);
});

test('every part of an item counts, either as what its file is or as what is said of it', () => {
  const item = makeItem('1', { title: 'Low Water' });
  expect([sameOriginal(item, { ...item }), sameSaid(item, { ...item })]).toEqual([true, true]);
  for (const name of Object.keys(item) as (keyof Item)[]) {
    const other = { ...item, [name]: Symbol(name) };
    expect([name, sameOriginal(item, other) !== sameSaid(item, other)]).toEqual([name, true]);
  }
});

describe('undo and redo', () => {
  const apply = (items: ReadonlyMap<string, Item>, changes: readonly Change[]) => {
    const next = new Map(items);
    for (const { id, after } of changes) {
      if (after) next.set(id, after);
      else next.delete(id);
    }
    return next;
  };

  test('undoing everything restores, redoing everything repeats', () => {
    const act = fc.record({ item: fc.nat(4), title: fc.option(fc.string()), forget: fc.boolean() });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 20 }), (acts) => {
        const start = new Map(makeAlbum(5).map((item) => [item.id as string, item]));
        let items: ReadonlyMap<string, Item> = start;
        let history = EMPTY_HISTORY;
        for (const { item, title, forget } of acts) {
          const before = items.get(`song-${item + 1}`);
          if (!before) continue;
          const changes = [{ id: before.id, before, after: forget ? null : editItem(before, { title }) }];
          history = record(history, { label: 'x', changes });
          items = apply(items, changes);
        }
        const end = items;
        for (let step = undo(history); step; step = undo(history)) {
          items = apply(items, step.act.changes);
          history = step.history;
        }
        expect(items).toEqual(start);
        for (let step = redo(history); step; step = redo(history)) {
          items = apply(items, step.act.changes);
          history = step.history;
        }
        expect(items).toEqual(end);
      }),
      { seed: 41 },
    );
  });

  test('a new act closes the way to what was undone', () => {
    const [item] = makeAlbum(1) as [Item];
    const change = (title: string) => ({
      label: title,
      changes: [{ id: item.id, before: item, after: editItem(item, { title }) }],
    });
    const undone = undo(record(EMPTY_HISTORY, change('a')))?.history ?? EMPTY_HISTORY;
    expect(redo(undone)?.act.label).toBe('a');
    expect(redo(record(undone, change('b')))).toBeNull();
  });
});

describe('what comes from outside is checked', () => {
  const head = { ...EMPTY_PARTS, version: LIBRARY_VERSION, chunks: 1 };

  test('an exported library reads in as it was', () => {
    const items = makeAlbum(3);
    expect(readItems(JSON.stringify(items))).toEqual(items);
    expect(readHead(JSON.stringify(head))).toEqual(head);
  });

  test('an older head is migrated, a newer one refused', () => {
    expect(migrateHead({ version: 0, chunks: 0, sources: [], arrivals: [] })).toMatchObject({
      version: LIBRARY_VERSION,
      players: [],
      bases: [],
    });
    expect(() => migrateHead({ version: LIBRARY_VERSION + 1 })).toThrow(RangeError);
  });

  test.each([
    ['a size below nothing', { size: -1 }],
    ['an unknown format', { format: 'exe' }],
    ['an edit of no field', { edits: { fields: { nonsense: 'x' } } }],
    ['an edit of the wrong type', { edits: { fields: { date: 'soon' } } }],
  ])('%s is refused', (_what, wrong) => {
    expect(() => readItems(JSON.stringify([{ ...makeItem('x'), ...wrong }]))).toThrow();
  });
});
