import { describe, expect, test } from 'vitest';
import { after, finding, pathsOf, plan } from '../../../../../tests/helpers/attic-plan';
import { makeAlbum, makeItem } from '../../../../../tests/helpers/items';
import { editItem, type Item, type ItemId } from '../../items';
import { HOLD_FOLDER } from '../there/files';
import { ofItem } from '../owner';

/** Of a file whose tags cannot be written: what is said of it changes its name alone. */
const BOUND: Item['facts'] = { ...makeItem('x').facts, locked: 'foreignTags' };

describe('what is there already', () => {
  test('a second plan has nothing to do', () => {
    const items = makeAlbum(3);
    const made = plan(items, after(plan(items)));
    expect(made.steps).toEqual([]);
    expect(made.current).toBe(4);
  });

  test('a folder’s picture belongs to what is shown by it, whichever of its items goes', () => {
    const items = makeAlbum(3);
    const made = plan(items);
    const picture = made.steps.find(({ type }) => type === 'writePicture');
    const folder = 'Music/The Tidewrack Choir/Salt Ledger (2019)';
    expect(picture).toMatchObject({ owner: { type: 'shelf', folder }, path: `${folder}/sleeve.jpg` });
    const world = after(made);
    expect(plan(items.slice(1), world).steps.map(({ type, path }) => [type, path])).toEqual([
      ['remove', `${folder}/01 Song 1.flac`],
    ]);
    // It was noted under one of them once.
    const old = world.placed.map((file) => ({ ...file, owner: ofItem(items[0]?.id as ItemId) }));
    expect(plan(items, { ...world, placed: old }).steps.filter(({ path }) => path.endsWith('jpg'))).toEqual(
      [],
    );
    // It goes along where the release gets another name, and away with the last of them.
    const renamed = items.map((item) => editItem(item, { album: 'Ebb Ledger' }));
    expect(plan(renamed, world).steps.find(({ path }) => path.endsWith('sleeve.jpg'))?.type).toBe('move');
    expect(plan([], world).steps.map(({ type }) => type)).toEqual(Array(4).fill('remove'));
  });

  test('a new title moves nothing anew but the one file, and its tags change with it', () => {
    const items = makeAlbum(3);
    const world = after(plan(items));
    const [first, ...rest] = items as [Item, ...Item[]];
    const made = plan([editItem(first, { title: 'New' }), ...rest], world);
    expect(made.steps.map(({ type }) => type)).toEqual(['copy', 'remove']);
  });

  test('a file whose tags are not written and whose name changes is moved, not sent again', () => {
    const [song] = makeAlbum(1) as [Item];
    const item = { ...song, facts: BOUND, format: 'opus' as const, path: 'a/01.opus' };
    const made = plan([editItem(item, { title: 'New' })], after(plan([item])));
    expect(made.steps.filter(({ type }) => type !== 'makeFolder')).toEqual([
      expect.objectContaining({
        type: 'move',
        from: expect.stringContaining('Song 1.opus'),
        path: expect.stringContaining('New.opus'),
      }),
    ]);
  });

  test('names that chase each other go by way of a third', () => {
    const opus = (id: string, title: string) =>
      makeItem(
        id,
        { ...makeAlbum(1)[0]?.file.fields, title },
        { facts: BOUND, format: 'opus', path: `a/${id}.opus` },
      );
    const a = opus('a', 'A');
    const b = opus('b', 'B');
    const made = plan([editItem(a, { title: 'B' }), editItem(b, { title: 'A' })], after(plan([a, b])));
    const moves = made.steps.filter((step) => step.type === 'move');
    expect(moves).toHaveLength(4);
    const names = new Map(after(plan([a, b])).there.map(({ path }) => [path, path]));
    for (const { from, path } of moves) {
      expect(names.has(path)).toBe(false);
      names.set(path, names.get(from) as string);
      names.delete(from);
    }
    const folder = 'Music/The Tidewrack Choir/Salt Ledger (2019)';
    expect(names.get(`${folder}/01 A.opus`)).toBe(`${folder}/01 B.opus`);
  });

  test('what was placed and another hand changed is not removed unless the curator says so', () => {
    const world = after(plan(makeAlbum(1)));
    const there = world.there.map((file) => ({ ...file, size: 99 }));
    const made = plan([], { ...world, there });
    expect(made.steps).toEqual([]);
    expect(made.foreign).toBe(2);
    const told = finding(made, 'changedUnwanted');
    expect(told).toMatchObject({ severity: 'note', words: { count: '2' } });
    if (told?.remedy?.type !== 'decide') throw new Error('no choice');
    const sides = told.remedy.files.map((file) => ({ ...file, side: 'here' as const }));
    const chosen = plan([], { ...world, there, choices: { sides } });
    expect(chosen.steps.map((step) => step.type === 'remove' && step.was)).toEqual([
      { size: 99, digest: expect.any(String) },
      { size: 99, digest: expect.any(String) },
    ]);
  });

  test('names that differ in letter case alone pass through the run’s own folder', () => {
    const bound = { facts: BOUND, format: 'opus', path: 'a/a.opus' } as const;
    const opus = makeItem('a', makeAlbum(1)[0]?.file.fields, bound);
    const made = plan([editItem(opus, { album: 'SALT LEDGER' })], after(plan([opus])));
    const moves = made.steps.filter((step) => step.type === 'move');
    expect(moves.map(({ path }) => path.split('/')[0])).toEqual([HOLD_FOLDER, HOLD_FOLDER, 'Music', 'Music']);
    expect(new Set(moves.map(({ path }) => path)).size).toBe(4);
    const removed = plan([], after(plan([opus]))).steps;
    expect(removed.map(({ type }) => type)).toEqual(['remove', 'remove']);
  });

  test('a spelling that the player keeps its own way is left at that', () => {
    const items = makeAlbum(2);
    const world = after(plan(items));
    const there = world.there.map((file) => ({ ...file, path: file.path.replace('Salt', 'salt') }));
    expect(plan(items, { ...world, there }).steps).toEqual([]);
  });

  test('a folder that others use keeps its spelling', () => {
    const there = [{ path: 'Music/the tidewrack choir/other/x.mp3', size: 1, digest: null }];
    for (const path of pathsOf(plan(makeAlbum(1), { there })))
      expect(path).toMatch(/^Music\/the tidewrack choir\/Salt Ledger/);
  });

  test('what an item that is held back now left there stays', () => {
    const [song] = makeAlbum(1) as [Item];
    const made = plan([editItem(song, { album: null })], after(plan([song])));
    expect(made.held).toEqual([song.id]);
    expect(made.steps).toEqual([]);
  });

  test('edits in another order are the same edits', () => {
    const [song] = makeAlbum(1) as [Item];
    const one = editItem(editItem(song, { genre: ['x'] }), { composer: ['y'] });
    const other = editItem(editItem(song, { composer: ['y'] }), { genre: ['x'] });
    expect(plan([other], after(plan([one]))).steps).toEqual([]);
  });

  test('what is no longer wanted is removed, what is foreign is not', () => {
    const items = makeAlbum(2);
    const world = after(plan(items));
    const there = [...world.there, { path: 'Music/own.mp3', size: 3, digest: null }];
    const made = plan(items.slice(0, 1), { ...world, there });
    expect(made.steps).toMatchObject([{ type: 'remove', path: expect.stringContaining('Song 2') }]);
    expect(made.foreign).toBe(1);
  });

  test('a file that was changed on the player is written again once the curator says so', () => {
    const items = makeAlbum(1);
    const world = after(plan(items));
    const there = world.there.map((file) =>
      file.path.endsWith('flac') ? { ...file, digest: 'other' } : file,
    );
    const changed = plan(items, { ...world, there });
    expect(changed.steps).toEqual([]);
    const path = there[0]?.path as string;
    expect(finding(changed, 'changedThere')).toMatchObject({
      severity: 'blocks',
      remedy: { type: 'decide', files: [{ path, was: { size: 1, digest: 'other' } }] },
    });
    const chosen = (digest: string) =>
      plan(items, {
        ...world,
        there,
        choices: { sides: [{ path, was: { size: 1, digest }, side: 'here' }] },
      });
    expect(chosen('other').steps).toMatchObject([{ type: 'copy', replaces: { size: 1, digest: 'other' } }]);
    // What was decided of a file says nothing of what became of it since.
    expect(chosen('before').steps).toEqual([]);
  });
});
