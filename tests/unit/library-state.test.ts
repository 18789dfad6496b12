import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { ItemId, PictureId } from '../../src/lib/core/items';
import { NO_CHOICES } from '../../src/lib/core/plan';
import { newPlayer, type PlayerId, type Target } from '../../src/lib/core/library';
import { Library } from '../../src/lib/state/library.svelte';
import { ScopeState } from '../../src/lib/state/scope.svelte';
import { exportLibrary, importLibrary } from '../../src/lib/state/library-file';
import { Work } from '../../src/lib/state/work.svelte';
import { LibraryFileClient } from '../../src/lib/workers/library-file-client';
import { serveLibraryFiles } from '../../src/lib/workers/library-file-service';
import { channel } from '../helpers/channel';
import { forgetAll } from '../helpers/fake-forage';
import { makeAlbum, makeItem } from '../helpers/items';
import { adding, many, titles } from '../helpers/libraries';

vi.mock('localforage', () => import('../helpers/fake-forage'));

beforeEach(forgetAll);

const ATTIC = newPlayer('attic' as PlayerId, 'attic');

test('rows of a library that begins empty are grouped like any others', () => {
  const library = new Library('home');
  const scope = new ScopeState(library);
  library.put(adding(many(2)));
  expect(scope.rows.map(({ type }) => type)).toEqual(['group', 'item', 'item']);
  scope.narrow({ kind: null, text: 'T1' });
  expect(scope.items.map(({ id }) => id)).toEqual(['i1']);
  library.edit('x', library.items, { title: 'T1 too' });
  expect(scope.items).toHaveLength(2);
});

describe('acts', () => {
  test('only what changes is an act', () => {
    const library = new Library('home');
    library.put(adding(makeAlbum(3)));
    library.settle('Kind of 3', library.items, () => 'song');
    expect(library.history.done).toEqual([]);
    library.settle('Kind of 3', library.items, ({ id }) => (id === 'song-2' ? 'podcast' : null));
    expect(library.history.done.map(({ label, changes }) => [label, changes.length])).toEqual([
      ['Kind of 3', 1],
    ]);
  });

  test('an act is on items as they are, whatever its list of them knows', () => {
    const library = new Library('home');
    library.put(adding(makeAlbum(3)));
    const held = library.items;
    library.edit('Genre of 3', held, { genre: ['folk'] });
    library.act('Forget 1', held.slice(0, 1), () => null);
    library.edit('Date of 3', held, { date: '1998' });
    expect(library.items.map(({ edits }) => [edits.fields?.genre, edits.fields?.date])).toEqual([
      [['folk'], '1998'],
      [['folk'], '1998'],
    ]);
  });

  test('what a take-in brings is no act of the curator', () => {
    const library = new Library('home');
    library.put(adding(many(2)));
    expect(library.undo()).toBeNull();
  });
});

const JPEG = Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 1, 2, 3);
const readIn = (library: Library, file: File) =>
  importLibrary(library, file, undefined, new LibraryFileClient(() => channel(serveLibraryFiles)));

test('what is decided of items holds for each target of a player, what is decided of files for that one alone', () => {
  const library = new Library('home');
  const [device, folder] = ATTIC.targets as readonly [Target, Target];
  const suffixes = [{ item: 'a' as ItemId, text: ' (2)' }];
  const replace = [{ path: 'x.mp3', was: { size: 1, digest: 'd' } }];
  library.setChoices(ATTIC, device, { ...NO_CHOICES, suffixes, replace }, 'Number items');
  const choicesOf = (target: Target) =>
    library.playerOf(ATTIC.id, 'attic').targets.find(({ id }) => id === target.id)?.choices;
  expect(choicesOf(device)).toEqual({ ...NO_CHOICES, suffixes, replace });
  expect(choicesOf(folder)).toEqual({ ...NO_CHOICES, suffixes });
  library.undo();
  expect(choicesOf(folder)).toEqual(NO_CHOICES);
});

describe('a library as a file', () => {
  test('goes out with its pictures and comes in elsewhere as one act', async () => {
    const library = new Library('home');
    const picture = { id: 'p1' as PictureId, mime: 'image/jpeg', bytes: 3, width: 1, height: 1 };
    await library.storage.pictures.keep(picture.id, new Blob([JPEG]));
    const ignored = { ...picture, id: 'p2' as PictureId };
    await library.storage.pictures.keep(ignored.id, new Blob([JPEG]));
    const found = {
      path: 'A/artist.jpg',
      size: 3,
      modified: 1,
      says: { pictures: { artist: ignored } },
      isIgnored: true as const,
    };
    const item = makeItem('with', {}, { edits: { pictures: { front: picture } }, foundBeside: [found] });
    library.put(adding([...makeAlbum(2), item]));
    library.setChoices(ATTIC, ATTIC.targets[0] as Target, { ...NO_CHOICES, leftOut: ['with' as ItemId] });
    const file = new File([await exportLibrary(library)], 'x.zip');
    const other = new Library('elsewhere');
    other.put(adding(many(1)));
    expect(await readIn(other, file)).toBe(3);
    expect(other.items).toHaveLength(4);
    expect(await (await other.storage.pictures.find(picture.id))?.arrayBuffer()).toEqual(JPEG.buffer);
    expect(other.find(item.id)?.foundBeside).toEqual([found]);
    expect(await other.storage.pictures.find(ignored.id)).not.toBeNull();
    expect(other.playerOf(ATTIC.id, 'attic').targets[0]?.choices.leftOut).toEqual(['with']);
    expect(other.undo()?.label).toBe('Read in x.zip');
    expect(titles(other)).toEqual(['T0']);
  });

  test('shows its first items in an empty library while it is checked, and keeps none of a broken one', async () => {
    const library = new Library('home');
    const picture = { id: 'p1' as PictureId, mime: 'image/jpeg', bytes: 3, width: 1, height: 1 };
    await library.storage.pictures.keep(picture.id, new Blob([JPEG]));
    library.put(adding([...many(1200), makeItem('with', {}, { edits: { pictures: { front: picture } } })]));
    const bytes = new Uint8Array(await (await exportLibrary(library)).arrayBuffer());
    const shownWhile = async (other: Library, file: File) => {
      const shown: [number, boolean][] = [];
      other.onChange(() => shown.push([other.items.length, other.mayWrite]));
      await readIn(other, file).catch(() => undefined);
      return shown;
    };
    const whole = new Library('elsewhere');
    expect(await shownWhile(whole, new File([bytes], 'x.zip'))).toEqual([
      [1000, false],
      [1201, true],
    ]);
    expect(await whole.storage.pictures.find(picture.id)).not.toBeNull();

    // The second part of the items is damaged.
    const at = bytes.findIndex(
      (_, index) => new TextDecoder().decode(bytes.subarray(index, index + 10)) === 'items/0001',
    );
    const broken = bytes.slice();
    broken.fill(0x7b, at + 40, at + 80);
    const none = new Library('third');
    expect(await shownWhile(none, new File([broken], 'x.zip'))).toEqual([
      [1000, false],
      [0, true],
    ]);
  });

  test.each([
    ['no ZIP', new File(['x'], 'x.zip'), 'it is no ZIP file'],
    [
      'an empty ZIP',
      new File([new Uint8Array([0x50, 0x4b, 5, 6, ...new Uint8Array(18)])], 'x.zip'),
      'library.json is missing',
    ],
  ])('%s is refused, and nothing changes', async (_what, file, reason) => {
    const library = new Library('home');
    await expect(readIn(library, file)).rejects.toThrow(reason);
    expect(library.items).toEqual([]);
  });
});

test('each job in hand has a line and a cancel of its own', () => {
  const work = new Work();
  const cancelled: string[] = [];
  const first = work.start('First', 10, () => cancelled.push('first'));
  const second = work.start('Second', null, () => cancelled.push('second'));
  first.progress(5);
  expect(work.jobs.map(({ label, done, total }) => [label, done, total])).toEqual([
    ['First', 5, 10],
    ['Second', 0, null],
  ]);
  work.jobs[0]?.cancel?.();
  second.finish('Second is done');
  expect(cancelled).toEqual(['first']);
  expect(work.jobs.map(({ label }) => label)).toEqual(['First']);
  expect(work.finished?.text).toBe('Second is done');
  first.end();
  expect(work.jobs).toEqual([]);
});
