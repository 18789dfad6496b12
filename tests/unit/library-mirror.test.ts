import { beforeEach, describe, expect, test, vi } from 'vitest';
import { gather, toGatherItem } from '../../src/lib/core/identify';
import { editItem, type Item } from '../../src/lib/core/items';
import { LibraryMirror } from '../../src/lib/state/library-mirror';
import { Library } from '../../src/lib/state/library.svelte';
import { databases, refuseAfter } from '../helpers/fake-forage';
import { makeAlbum } from '../helpers/items';
import { libraryClient } from '../helpers/library-worker';

vi.mock('localforage', () => import('../helpers/fake-forage'));

/** What was asked of the worker: of items how many, of all else its type. */
const asked: (string | number)[] = [];
let library: Library;
let mirror: LibraryMirror;

function mirrorOf(of: Library): LibraryMirror {
  const client = libraryClient();
  const { load, forget, update } = client;
  vi.spyOn(client, 'load').mockImplementation(
    (...request) => (asked.push('load'), load.apply(client, request)),
  );
  vi.spyOn(client, 'forget').mockImplementation(
    (...given) => (asked.push('forget'), forget.apply(client, given)),
  );
  vi.spyOn(client, 'update').mockImplementation(
    (...given) => (asked.push(given[0].length + given[1].length), update.apply(client, given)),
  );
  return new LibraryMirror(of, client);
}

const put = (items: readonly Item[], to = library) =>
  to.put(items.map((item) => ({ id: item.id, before: null, after: item })));

/** What the worker knows, as far as it gathers it. */
async function known(): Promise<unknown> {
  return mirror.client.gather(await mirror.bring());
}

const here = () => gather(library.items.map(toGatherItem));

beforeEach(() => {
  databases.clear();
  asked.length = 0;
  library = new Library('home');
  mirror = mirrorOf(library);
});

describe('the mirror of a library in its worker', () => {
  test('is read from the storage once, and told what changes from then on', async () => {
    put(makeAlbum(3));
    expect(await known()).toEqual(here());
    const [first, second] = library.items as [Item, Item];
    library.act('edit', [first], (item) => editItem(item, { album: 'Wick' }));
    library.act('forget', [second], () => null);
    expect(await known()).toEqual(here());
    expect(await known()).toEqual(here());
    expect(asked).toEqual(['load', 2, 0]);
  });

  test('has what was said before the page was opened, and no item that is gone', async () => {
    put(makeAlbum(3));
    const [first, second] = library.items as [Item, Item];
    library.act('edit', [first], (item) => editItem(item, { album: 'Wick' }));
    library.act('forget', [second], () => null);
    await library.flush();
    library = new Library('home');
    await library.load();
    mirror = mirrorOf(library);
    expect(await known()).toEqual(here());
    expect(asked).toEqual(['load']);
  });

  test('learns what changes while it is being brought up', async () => {
    put(makeAlbum(3));
    const bringing = mirror.bring();
    const [first] = library.items as [Item];
    library.act('edit', [first], (item) => editItem(item, { album: 'Wick' }));
    await bringing;
    expect(await known()).toEqual(here());
  });

  test('is sent everything where the storage refuses to keep it, or belongs to another tab', async () => {
    put(makeAlbum(2));
    refuseAfter(0);
    expect(await known()).toEqual(here());
    expect(asked).toEqual(['forget', 2]);
    refuseAfter(null);
    await library.flush();
    const other = new Library('home');
    put(makeAlbum(4), other);
    await other.flush();
    asked.length = 0;
    library = new Library('home');
    await library.load();
    library.works = false;
    put(makeAlbum(1), other);
    mirror = mirrorOf(library);
    expect(await known()).toEqual(here());
    expect(asked).toEqual(['forget', 4]);
  });

  test('is told everything anew where its worker was started anew, or could not be told', async () => {
    put(makeAlbum(2));
    await known();
    vi.spyOn(mirror.client, 'update').mockRejectedValueOnce(new Error('fell over'));
    library.act('edit', library.items.slice(0, 1), (item) => editItem(item, { album: 'Wick' }));
    await expect(mirror.bring()).rejects.toThrow('fell over');
    expect(await known()).toEqual(here());
    expect(asked).toEqual(['load', 'load']);
  });

  test('reads what is kept while the page does, and again only where the page keeps it anew', async () => {
    put(makeAlbum(3));
    await library.flush();
    for (const [asKept, loads] of [
      [true, ['load', 0]],
      [false, ['load', 'load']],
    ] as const) {
      asked.length = 0;
      library = new Library('home');
      mirror = mirrorOf(library);
      mirror.begin();
      expect(await library.load()).toBe(true);
      mirror.opened(asKept);
      expect(await known()).toEqual(here());
      expect(asked).toEqual(loads);
      library.act('edit', library.items.slice(0, 1), (item) => editItem(item, { album: `Wick ${asKept}` }));
      expect(await known()).toEqual(here());
      expect(asked.at(-1)).toBe(1);
      await library.flush();
    }
  });

  test('what could not be read early is read when it is asked for', async () => {
    put(makeAlbum(2));
    await library.flush();
    library = new Library('home');
    mirror = mirrorOf(library);
    vi.spyOn(mirror.client, 'load').mockRejectedValueOnce(new Error('fell over'));
    mirror.begin();
    mirror.opened(await library.load());
    expect(await known()).toEqual(here());
  });

  test('two that ask at once are answered one after the other', async () => {
    put(makeAlbum(2));
    await Promise.all([mirror.bring(), mirror.bring()]);
    expect(asked).toEqual(['load', 0]);
  });
});
