import { beforeEach, describe, expect, test, vi } from 'vitest';
import {
  doubleOf,
  editContent,
  type Arrival,
  type Item,
  type ItemId,
  type PictureId,
} from '../../src/lib/core/items';
import { OpenError, openItem } from '../../src/lib/io/take-in/open-item';
import { noteDoubles } from '../../src/lib/state/find-doubles';
import { Intake } from '../../src/lib/state/intake.svelte';
import { Library } from '../../src/lib/state/library.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import type { ParsePool } from '../../src/lib/workers/parse-pool';
import type { ReadOutcome } from '../../src/lib/workers/parse-protocol';
import { forgetAll } from '../helpers/fake-forage';
import { makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));

beforeEach(forgetAll);

describe('taking in', () => {
  const reading = (title: string): ReadOutcome => {
    const { format, facts, file, native, guess } = makeItem('x', { title, artist: ['A'] });
    return { type: 'read', read: { format, facts, file, native, bytesRead: 1 }, guess };
  };
  const pool = (answer: (path: string) => ReadOutcome) => () =>
    ({ read: async (path: string) => answer(path) }) as unknown as ParsePool;
  const given = (...paths: string[]) => ({
    label: 'drop',
    handle: null,
    files: (async function* () {
      for (const path of paths)
        yield { path, size: path.length, modified: 1, file: new File(['x'.repeat(path.length)], path) };
    })(),
  });

  test('keeps files, sets others aside, lists what could not be read', async () => {
    const library = new Library('home');
    const work = new Work();
    const answer = (path: string): ReadOutcome =>
      path.startsWith('bad') ? { type: 'unread', code: 'empty', detail: 'no bytes' } : reading(path);
    await new Intake(library, pool(answer), work).takeIn([
      given('a/1.mp3', 'bad.flac', 'a/1.slip', 'a/notes.txt'),
    ]);
    expect(library.items.map(({ path, beside }) => [path, beside])).toEqual([['a/1.mp3', ['a/1.slip']]]);
    const [arrival] = library.arrivals as [Arrival];
    expect(arrival).toMatchObject({
      label: 'drop',
      setAside: 2,
      aside: ['a/1.slip', 'a/notes.txt'],
      unread: [{ path: 'bad.flac', code: 'empty' }],
    });
    expect(work.finished?.text).toBe('drop: 1 file taken in, 1 could not be read');
    const [item] = library.items as [Item];
    expect((await openItem(library.storage, item.source, item.path)).size).toBe(7);
    await expect(openItem(library.storage, item.source, 'gone.mp3')).rejects.toBeInstanceOf(OpenError);
  });

  test('files that are the same, byte for byte, are called so, as long as both are what they were', async () => {
    const library = new Library('home');
    const work = new Work();
    const bytesOf = (path: string) => (path === '3.mp3' ? 'abd' : 'abc');
    const files = (...paths: string[]) => ({
      label: 'drop',
      handle: null,
      files: (async function* () {
        for (const path of paths) yield { path, size: 3, modified: 1, file: new File([bytesOf(path)], path) };
      })(),
    });
    const taken: ItemId[][] = [];
    const intake = new Intake(library, pool(reading), work, (ids) => taken.push([...ids]));
    await intake.takeIn([files('1.mp3', '2.mp3', '3.mp3'), { ...files('a/1.mp3'), label: 'later' }]);
    for (const ids of taken) await noteDoubles(library, work, ids);
    const same = () =>
      library.items.map((item) => [item.path, doubleOf(item, (id) => library.find(id))?.path ?? null]);
    expect(same()).toEqual([
      ['1.mp3', null],
      ['2.mp3', '1.mp3'],
      ['3.mp3', null],
      ['a/1.mp3', '1.mp3'],
    ]);
    // It is kept, and goes with the one that it is told of.
    await library.flush();
    const again = new Library('home');
    await again.load();
    expect(again.items[1]?.facts.sameAs?.item).toBe(again.items[0]?.id);
    library.act('Forget', [library.items[0] as Item], () => null);
    expect(same().map(([, other]) => other)).toEqual([null, null, null]);
  });

  test('a second time brings nothing, and no arrival', async () => {
    const library = new Library('home');
    const work = new Work();
    const intake = new Intake(library, pool(reading), work);
    await intake.takeIn([given('1.mp3', '2.mp3')]);
    await intake.takeIn([given('1.mp3', '2.mp3')]);
    expect(library.items).toHaveLength(2);
    expect(library.arrivals).toHaveLength(1);
    expect(library.sources).toHaveLength(1);
    expect(work.finished?.text).toBe('drop: nothing new, 2 already in the library');
  });

  test('a changed file keeps its edits and what was settled', async () => {
    const library = new Library('home');
    const intake = new Intake(library, pool(reading), new Work());
    await intake.takeIn([given('1.mp3')]);
    library.edit('x', library.items, { title: 'Mine' });
    library.settle('x', library.items, () => 'podcast');
    const changed = given('1.mp3');
    await intake.takeIn([
      {
        ...changed,
        files: (async function* () {
          for await (const file of changed.files) yield { ...file, modified: 2 };
        })(),
      },
    ]);
    expect(library.items).toHaveLength(1);
    expect(library.items[0]).toMatchObject({
      modified: 2,
      settled: 'podcast',
      edits: { fields: { title: 'Mine' } },
    });
  });

  test('what the curator does while a changed file is read again is kept', async () => {
    const library = new Library('home');
    const pictured = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 1, width: 1, height: 1 };
    const answer = (path: string): ReadOutcome => {
      const [item] = library.items.filter((one) => one.path === path);
      if (item && path === '1.mp3') {
        library.edit('x', [item], { title: 'Meanwhile' });
        library.act('x', library.findAll([item.id]), (one) =>
          editContent(one, { pictures: { front: pictured } }),
        );
        library.settle('x', library.findAll([item.id]), () => 'podcast');
      }
      if (item && path === '2.mp3') library.act('Forget 1', [item], () => null);
      return reading(path);
    };
    const intake = new Intake(library, pool(answer), new Work());
    await intake.takeIn([given('1.mp3', '2.mp3')]);
    const again = given('1.mp3', '2.mp3');
    const files = (async function* () {
      for await (const file of again.files) yield { ...file, modified: 2 };
    })();
    await intake.takeIn([{ ...again, files }]);
    expect(library.items).toMatchObject([
      {
        path: '1.mp3',
        modified: 2,
        edits: { fields: { title: 'Meanwhile' }, pictures: { front: pictured } },
        settled: 'podcast',
      },
    ]);
    library.undo();
    expect(library.find(library.items[0]?.id as ItemId)).not.toBeNull();
  });

  test('cancelling keeps what was read so far', async () => {
    const library = new Library('home');
    const work = new Work();
    const intake = new Intake(library, pool(reading), work);
    const files = (async function* () {
      for (let index = 0; index < 100; index++) {
        if (index === 10) work.jobs[0]?.cancel?.();
        yield { path: `${index}.mp3`, size: 1, modified: 1, file: new File(['x'], `${index}.mp3`) };
      }
    })();
    await intake.takeIn([{ label: 'drop', handle: null, files }]);
    expect(library.items).toHaveLength(10);
    expect(work.finished?.text).toContain('before you cancelled');
    expect(intake.busy).toBe(false);
  });
});
