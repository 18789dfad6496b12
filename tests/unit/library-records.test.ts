import { beforeEach, describe, expect, test, vi } from 'vitest';
import {
  type ArrivalId,
  type Item,
  type ItemId,
  type PictureId,
  type SourceId,
} from '../../src/lib/core/items';
import { newHandList, newRuleList, type HandList, type ListId } from '../../src/lib/core/lists';
import { NO_CHOICES } from '../../src/lib/core/plan';
import {
  LIBRARY_VERSION,
  packItems,
  unpackItems,
  unpackSaid,
  type SaidRecord,
  type Target,
} from '../../src/lib/core/library';
import { JOURNAL_VERSION } from '../../src/lib/core/run';
import { CHUNK_ITEMS, LookingOnError } from '../../src/lib/io/storage';
import { Library } from '../../src/lib/state/library.svelte';
import { eventually } from '../helpers/eventually';
import { asking, databases, forgetAll, refuseAfter, writes } from '../helpers/fake-forage';
import { ATTIC, DEVICE, adding, kept, many, manyUnsaid, reopened, titles } from '../helpers/libraries';

vi.mock('localforage', () => import('../helpers/fake-forage'));

beforeEach(forgetAll);

test('the first items of a large library can be looked at, and not changed, while the rest is read', async () => {
  const large = new Library('large');
  large.put(adding(many(5000)));
  await large.flush();
  const library = new Library('large');
  const seen: unknown[] = [];
  await library.load(() => {
    library.edit('too early', library.items.slice(0, 1), { title: 'lost' });
    seen.push(library.items.length, library.expected, library.mayWrite, titles(library)[0]);
  });
  expect(seen).toEqual([2000, 5000, false, 'T0']);
  expect(library.items).toHaveLength(5000);
  expect(library.mayWrite).toBe(true);
});

test('the first items of a large library are shown with what is said of them, before all that is said is read', async () => {
  const large = new Library('large');
  large.put(adding(manyUnsaid(5000)));
  large.edit('late', large.items.slice(4000, 4300), { title: 'Late' });
  large.edit('first', large.items.slice(7, 8), { title: 'First' });
  await large.flush();
  // Which records those of the first items are is found when it is opened as a large one.
  await (await reopened('large')).flush();
  const asked: string[] = [];
  const readBefore = await asking(asked, async () => {
    const library = new Library('large');
    let seen: unknown;
    await library.load(() => (seen = [titles(library)[7], asked.filter((one) => one.includes('-said'))]));
    expect(titles(library)[4299]).toBe('Late');
    return seen;
  });
  expect(readBefore).toEqual(['First', ['lectorum-large-said 12']]);
});

test('what is said of a first item is shown from the first, also where it was said later', async () => {
  const large = new Library('large');
  large.put(adding(manyUnsaid(5000)));
  await large.flush();
  const working = await reopened('large');
  working.edit('late', working.items.slice(4000, 4300), { title: 'Late' });
  working.edit('first', working.items.slice(7, 8), { title: 'First' });
  await working.flush();
  const library = new Library('large');
  let seen: unknown;
  await library.load(() => (seen = titles(library)[7]));
  expect(seen).toBe('First');
});

test('a tab that takes a large library over keeps what its first items go by', async () => {
  const large = new Library('large');
  large.put(adding(many(5000)));
  await large.flush();
  const library = new Library('large');
  library.works = false;
  await library.load();
  expect(databases.get('lectorum-large-library')?.has('said of first')).toBe(false);
  library.works = true;
  await library.keepAsNow();
  await library.flush();
  const records = Array.from({ length: 80 }, (_, index) => index);
  expect(databases.get('lectorum-large-library')?.get('said of first')).toEqual(records);
});

test('a record of edits goes with the last of them', async () => {
  const library = new Library('home');
  library.put(adding(manyUnsaid(1)));
  library.edit('x', library.items, { title: 'y' });
  await library.flush();
  expect([...(databases.get('lectorum-home-said')?.keys() ?? [])]).toEqual(['0']);
  library.undo();
  await library.flush();
  expect([...(databases.get('lectorum-home-said')?.keys() ?? [])]).toEqual([]);
  expect(titles(await reopened())).toEqual(['T0']);
});

describe('what a library keeps', () => {
  test('items, sources and arrivals are there again', async () => {
    const library = new Library('home');
    library.addSource({ id: 's' as SourceId, type: 'kept', label: 'drop' });
    library.addArrival({
      id: 'a' as ArrivalId,
      source: 's' as SourceId,
      label: 'drop',
      at: 1,
      unread: [],
      setAside: 0,
      origin: 'folder' as const,
    });
    library.put(adding(many(3)));
    library.edit('Title', library.items.slice(0, 1), { title: 'New' });
    await library.flush();
    const again = await reopened();
    expect(titles(again)).toEqual(['New', 'T1', 'T2']);
    expect(again.sources).toEqual(library.sources);
    expect(again.arrivals).toEqual(library.arrivals);
  });

  test('libraries are apart', async () => {
    const library = new Library('demo');
    library.put(adding(many(1)));
    await library.flush();
    expect((await reopened('home')).items).toEqual([]);
  });

  test('one edit writes one record of many', async () => {
    const library = new Library('home');
    library.put(adding(many(CHUNK_ITEMS * 3 + 1)));
    await library.flush();
    writes.length = 0;
    library.edit('x', [library.find(`i${CHUNK_ITEMS + 5}` as ItemId) as Item], { title: 'y' });
    await library.flush();
    const [stamp, record, ...others] = writes.filter((write) => !write.endsWith(' head'));
    // What was rehearsed of the library as it was must not be taken for news of what comes next.
    expect(stamp).toBe('lectorum-home-library stamp');
    expect([record, others]).toEqual([expect.stringMatching(/^lectorum-home-said \d+$/), []]);
    const size = (database: string, key: string) => JSON.stringify(databases.get(database)?.get(key)).length;
    expect(size('lectorum-home-said', record?.split(' ')[1] ?? '')).toBeLessThan(
      size('lectorum-home-library', 'items:1') / 20,
    );
    expect((await reopened()).find(`i${CHUNK_ITEMS + 5}` as ItemId)?.edits.fields?.title).toBe('y');
    expect((await reopened()).items).toHaveLength(CHUNK_ITEMS * 3 + 1);
  });

  test('what a library of an earlier version kept is written anew, edits apart and first', async () => {
    const store = new Map<string, unknown>();
    databases.set('lectorum-home-library', store);
    store.set('head', JSON.parse(kept('library-2.json')));
    store.set('items:0', JSON.parse(kept('items-2.json')));
    const head = { version: JOURNAL_VERSION, id: 'run', state: 'stopped', placedBefore: [], stepCount: 0 };
    databases.set('lectorum-home-journals', new Map([['attic:head', head]]));
    const library = await reopened();
    const before = library.items;
    expect(before[0]?.edits.fields).toMatchObject({ album: 'Wick', date: '2017' });
    await library.flush();
    const records = writes.filter((write) => !write.includes('journals'));
    const first = records.slice(0, records.indexOf('lectorum-home-library items:0'));
    expect(first).toEqual(
      expect.arrayContaining(['lectorum-home-said 0', 'lectorum-home-bases attic.device']),
    );
    expect(unpackItems(store.get('items:0') as string)).toEqual([
      expect.not.objectContaining({ edits: expect.anything() as unknown }),
    ]);
    writes.length = 0;
    const again = await reopened();
    expect(again.items).toEqual(before);
    expect(again.baseOf(DEVICE)).toHaveLength(2);
    expect(await again.storage.runs.latest(DEVICE)).toMatchObject({ id: 'run', state: 'stopped' });
    expect(writes).toEqual([]);
    again.act('Put back', again.items, (item) => ({ ...item, edits: {}, settled: null, identity: null }));
    await again.flush();
    expect((await reopened()).items[0]?.edits).toEqual({});
  });

  test('a library whose records version 9 kept is the same, and is written anew, its head last', async () => {
    type Kept = Readonly<Record<'library' | 'said' | 'bases', Readonly<Record<string, unknown>>>>;
    const old = JSON.parse(kept('browser-9.json')) as Kept;
    for (const [part, records] of Object.entries(old))
      databases.set(`lectorum-nine-${part}`, new Map(Object.entries(records)));
    const library = await reopened('nine');
    expect(library.items.map(({ id, file, settled }) => [id, file.fields.title, settled])).toEqual([
      ['i1', 'Bell 1', 'song'],
      ['i2', 'Bell 2', 'song'],
      ['i3', 'Bell 3', null],
    ]);
    expect(library.items[1]?.edits).toEqual({ fields: { genre: ['Reels', 'dance'] } });
    expect(library.items[2]?.edits).toEqual({});
    expect(library.baseOf(DEVICE)).toHaveLength(1);
    await library.flush();
    expect(writes.at(-1)).toBe('lectorum-nine-library head');
    const record = databases.get('lectorum-nine-library')?.get('items:0') as string;
    expect(unpackItems(record)).toEqual(unpackItems(old.library['items:0'] as string));
    expect(record.length).toBeLessThan((old.library['items:0'] as string).length / 2);
    const said = databases.get('lectorum-nine-said')?.get('0') as SaidRecord;
    expect(unpackSaid({ ...said, version: 2 })).toEqual(unpackSaid(said));
    expect(() => unpackSaid({ ...said, version: 4 })).toThrow(RangeError);
    expect(() => unpackSaid({ version: 0, said: [] })).toThrow(RangeError);
    expect(unpackSaid(said)[0]).toEqual([
      'i1',
      { settled: 'song', edits: { fields: { genre: ['Reels', 'dance'] } } },
    ]);
    const again = await reopened('nine');
    expect(again.items).toEqual(library.items);
    expect(again.headParts()).toEqual(library.headParts());
    // What did not change from item to item is one in memory.
    expect(again.items[2]?.guess).toBe(again.items[0]?.guess);
  });

  test('where the browser has no room for that, what is kept stays as it was', async () => {
    const store = new Map<string, unknown>();
    databases.set('lectorum-home-library', store);
    store.set('head', JSON.parse(kept('library-2.json')));
    store.set('items:0', JSON.parse(kept('items-2.json')));
    refuseAfter(0);
    const library = await reopened();
    await library.flush();
    refuseAfter(null);
    expect(library.keepFailure).toBe('QuotaExceededError');
    expect(store.get('items:0')).toEqual(JSON.parse(kept('items-2.json')));
    expect((await reopened()).items).toEqual(library.items);
    // A head of this version has no bases in it: they must not go with the first one that is written.
    library.setFeeds([]);
    await library.flush();
    expect((await reopened()).baseOf(DEVICE)).toHaveLength(2);
  });

  test('the parts of a head of version 4 get a record each, before that head is written over', async () => {
    // A library file has bases in it, the head that the browser kept had not.
    const { bases: _, ...head } = JSON.parse(kept('library-4.json')) as { readonly bases: unknown };
    const store = new Map<string, unknown>([['head', head]]);
    databases.set('lectorum-home-library', store);
    refuseAfter(4);
    const refused = await reopened();
    await refused.flush();
    refuseAfter(null);
    expect(store.get('head')).toEqual(head);
    const parts = (await reopened()).headParts();
    expect(parts.players[0]?.targets[0]?.choices.leftOut).toEqual(['other']);
    writes.length = 0;
    const library = await reopened();
    await library.flush();
    expect(writes.at(-1)).toBe('lectorum-home-library head');
    expect(store.get('head')).toEqual({ version: LIBRARY_VERSION, chunks: 1 });
    expect((await reopened()).headParts()).toEqual(parts);
  });

  test.each(['library-4.json', 'library-3.json'])(
    'a tab that takes over a library which an earlier version still wrote keeps all of it: %s',
    async (name) => {
      const old = JSON.parse(kept(name)) as { readonly version: number; readonly bases?: readonly unknown[] };
      const { bases, ...head } = old;
      const store = new Map<string, unknown>([['head', old.version < 4 ? old : head]]);
      databases.set('lectorum-home-library', store);
      const library = new Library('home');
      library.works = false;
      await library.load();
      const before = library.headParts();
      library.works = true;
      await library.keepAsNow();
      library.setFolderKind('s' as SourceId, 'a', 'rule', 'song');
      await library.flush();
      const after = (await reopened()).headParts();
      expect(after.folderKinds).toHaveLength(before.folderKinds.length + 1);
      expect(after).toEqual({ ...before, folderKinds: after.folderKinds });
      expect(after.bases).toHaveLength(old.version < 4 ? 1 : 0);
      expect(bases === undefined).toBe(old.version < 4);
    },
  );

  test('a part that is written before its head was taken apart takes it apart', async () => {
    const { bases: _, ...head } = JSON.parse(kept('library-4.json')) as { readonly bases: unknown };
    databases.set('lectorum-attic-library', new Map<string, unknown>([['head', head]]));
    const library = new Library('attic');
    library.works = false;
    await library.load();
    const before = library.headParts();
    library.works = true;
    library.setFolderKind('s' as SourceId, 'a', 'rule', 'song');
    await eventually(() =>
      expect(databases.get('lectorum-attic-library')?.get('head')).toEqual({
        version: LIBRARY_VERSION,
        chunks: 1,
      }),
    );
    const again = new Library('attic');
    await again.load();
    expect(again.headParts()).toEqual({ ...before, folderKinds: library.folderKinds });
  });

  test('a change beside the items writes what it changed, and nothing else', async () => {
    const library = new Library('shelf');
    library.put(adding(many(1)));
    library.addSource({ id: 's' as SourceId, type: 'kept', label: 'drop' });
    await library.flush();
    writes.length = 0;
    library.setFolderKind('s' as SourceId, 'a', 'rule', 'song');
    const own = () => writes.filter((write) => write.startsWith('lectorum-shelf'));
    await eventually(() =>
      expect(own()).toEqual(['lectorum-shelf-library stamp', 'lectorum-shelf-library part:folderKinds']),
    );
    const again = new Library('shelf');
    await again.load();
    expect(again.folderKinds).toHaveLength(1);
    expect(again.sources).toHaveLength(1);
  });

  test('forgotten items stay forgotten, and come back by undo, also after a reload', async () => {
    const library = new Library('home');
    library.put(adding(many(4)));
    library.act('Forget 2', library.items.slice(1, 3), () => null);
    await library.flush();
    expect(titles(await reopened())).toEqual(['T0', 'T3']);
    expect(library.undo()?.label).toBe('Forget 2');
    await library.flush();
    expect(titles(await reopened()).sort()).toEqual(['T0', 'T1', 'T2', 'T3']);
  });

  test('an item that was kept twice is there once', async () => {
    const library = new Library('home');
    library.put(adding(many(2)));
    await library.flush();
    const records = databases.get('lectorum-home-library');
    const record = unpackItems(records?.get('items:0') as string) as readonly Item[];
    records?.set('items:0', packItems([...record, record[0] as Item]));
    expect(titles(await reopened())).toEqual(['T0', 'T1']);
  });

  test('a tab that looks on writes nothing', async () => {
    const library = new Library('home');
    library.works = false;
    library.put(adding(many(1)));
    expect(library.items).toEqual([]);
  });

  test('a tab that the library was taken from changes nothing more, and no write of its gets through', async () => {
    const library = new Library('home');
    library.put(adding(many(2)));
    library.edit('Title', library.items, { title: 'Here' });
    await library.flush();
    const head = library.headParts();
    const history = library.history;
    library.works = false;
    writes.length = 0;
    library.edit('Title', library.items, { title: 'Too late' });
    library.addSource({ id: 's' as SourceId, type: 'kept', label: 'drop' });
    library.setFeeds([]);
    library.setWatched([]);
    library.setFolderKind('s' as SourceId, 'a', 'rule', 'song');
    library.setChoices(ATTIC, ATTIC.targets[0] as Target, NO_CHOICES);
    library.setBase(DEVICE, [{ path: 'a.mp3', owner: null, signature: '', size: 1, digest: 'd' }]);
    await library.merge('Read in', head, many(5));
    expect(library.undo()).toBeNull();
    expect(library.redo()).toBeNull();
    await library.flush();
    expect(titles(library)).toEqual(['Here', 'Here']);
    expect(library.headParts()).toEqual(head);
    expect(library.history).toBe(history);
    const { storage } = library;
    const picture = 'p' as PictureId;
    for (const write of [
      () => storage.head.save(0),
      () => storage.head.savePart('feeds', []),
      () => storage.items.save(0, []),
      () => storage.clear(),
      () => storage.files.keep('s' as SourceId, 'a', new Blob([])),
      () => storage.files.drop('s' as SourceId, 'a'),
      () => storage.pictures.keep(picture, new Blob([])),
      () => storage.runs.drop(DEVICE),
      () => storage.runs.saveOutcomes(DEVICE, 'r', [], 0),
    ])
      await expect(write()).rejects.toThrow(LookingOnError);
    expect(writes).toEqual([]);
    expect(titles(await reopened())).toEqual(['Here', 'Here']);
  });

  test('a refusal of the browser is told', async () => {
    const library = new Library('home');
    vi.spyOn(library.storage.items, 'save').mockRejectedValue(new Error('the disk is full'));
    library.put(adding(many(1)));
    await library.flush();
    expect(library.keepFailure).toBe('the disk is full');
  });

  test('a newer version is refused, and left alone', async () => {
    databases.set('lectorum-home-library', new Map([['head', { version: 99 }]]));
    await expect(reopened()).rejects.toThrow('version 99');
    expect(writes).toEqual([]);
  });
});

test('a library of version 5 opens with all its parts, and is asked what other hands do', async () => {
  const {
    version: _,
    chunks: __,
    bases: ___,
    ...parts
  } = JSON.parse(kept('library-5.json')) as Record<string, unknown>;
  const store = new Map<string, unknown>([['head', { version: 5, chunks: 0 }]]);
  for (const [part, entries] of Object.entries(parts)) store.set(`part:${part}`, { version: 1, entries });
  databases.set('lectorum-five-library', store);
  const library = await reopened('five');
  expect(library.sources).toHaveLength(1);
  expect(library.playerOf(ATTIC.id, 'attic')).toMatchObject({
    policy: 'ask',
    targets: [{ choices: { leftOut: ['other'], sides: [] } }, {}, {}],
  });
  await library.flush();
  expect(store.get('head')).toEqual({ version: LIBRARY_VERSION, chunks: 0 });
  library.setPlayer({ ...library.playerOf(ATTIC.id, 'attic'), policy: 'both' });
  await library.flush();
  expect((await reopened('five')).playerOf(ATTIC.id, 'attic').policy).toBe('both');
});

test('what lies at a target is kept in parts, beside the head', async () => {
  const library = new Library('home');
  const placed = Array.from({ length: 1200 }, (_, index) => ({
    path: `a/${index}.mp3`,
    owner: null,
    signature: 's',
    size: index,
    digest: null,
  }));
  library.setBase(DEVICE, placed);
  await library.flush();
  expect(JSON.stringify(databases.get('lectorum-home-library')?.get('head'))).not.toContain('a/7.mp3');
  expect((await reopened()).baseOf(DEVICE)).toEqual(placed);
  library.setBase(DEVICE, placed.slice(0, 3));
  await library.flush();
  expect((await reopened()).baseOf(DEVICE)).toEqual(placed.slice(0, 3));
  library.setBase(DEVICE, []);
  await library.flush();
  expect(databases.get('lectorum-home-bases')?.size).toBe(0);
});

describe('storage that fails under an open library', () => {
  test('what was deleted is noticed with the next change, told, and kept anew', async () => {
    const library = new Library('home');
    library.put(adding(many(CHUNK_ITEMS + 2)));
    library.addSource({ id: 's' as SourceId, type: 'kept', label: 'drop' });
    library.setBase(DEVICE, [{ path: 'a.mp3', owner: null, signature: '', size: 1, digest: 'd' }]);
    library.edit('x', library.items.slice(0, 1), { title: 'Before' });
    await library.flush();
    expect(library.isStorageLost).toBe(false);
    for (const keys of databases.values()) keys.clear();
    library.edit('y', library.items.slice(1, 2), { title: 'After' });
    await library.flush();
    expect(library.isStorageLost).toBe(true);
    await library.flush();
    const again = await reopened();
    expect(titles(again).slice(0, 2)).toEqual(['Before', 'After']);
    expect(again.items).toHaveLength(CHUNK_ITEMS + 2);
    expect(again.headParts()).toEqual(library.headParts());
  });

  test('that all is kept by now takes the notice of a refusal away, by itself', async () => {
    vi.useFakeTimers();
    try {
      const library = new Library('home');
      library.put(adding(many(1)));
      await library.flush();
      refuseAfter(0);
      library.edit('x', library.items, { title: 'y' });
      await vi.advanceTimersByTimeAsync(1000);
      expect(library.keepFailure).toBe('QuotaExceededError');
      refuseAfter(null);
      await vi.advanceTimersByTimeAsync(6000);
      expect(library.keepFailure).toBeNull();
      expect(titles(await reopened())).toEqual(['y']);
    } finally {
      vi.useRealTimers();
    }
  });
});

test('of what is played, going on writes which entry is heard, and not all that is queued', async () => {
  const library = new Library('home');
  const suites = ['a', 'b'].map((item) => ({ name: null, entries: [{ item: item as ItemId }] }));
  const from = 'evening' as ListId;
  library.keepQueue({ suites, at: 0, from });
  await library.flush();
  writes.length = 0;
  library.keepQueue({ suites, at: 1, from });
  await library.flush();
  expect(writes.filter((key) => key.includes('queue'))).toEqual([expect.stringContaining('queue:place')]);
  expect(await (await reopened('home')).storage.head.findQueue()).toEqual({ suites, at: 1, from });
});

describe('lists', () => {
  const hand = (name: string, items: readonly string[] = []): HandList => ({
    ...newHandList(name as ListId, name),
    suites: [{ name: 'On deck', entries: items.map((item) => ({ item: item as ItemId })) }],
  });
  const rule = { ...newRuleList('rule' as ListId, 'New'), query: 'genre is folk' };

  test('are there again, each with what is in it, and an edit of one writes no other', async () => {
    const library = new Library('home');
    library.keepList(hand('One', ['a', 'b']), 'List One');
    library.keepList(hand('Two', ['c']), 'List Two');
    library.keepList(rule, 'List New');
    await library.flush();
    expect((await reopened('home')).lists).toEqual([hand('One', ['a', 'b']), hand('Two', ['c']), rule]);

    writes.length = 0;
    library.keepList(hand('Two', ['c', 'd']), 'Add 1 to Two');
    await library.flush();
    expect(writes.filter((key) => key.includes('list:'))).toEqual([expect.stringContaining('list:Two')]);
    library.undo();
    await library.flush();
    expect((await reopened('home')).lists).toEqual([hand('One', ['a', 'b']), hand('Two', ['c']), rule]);
  });

  test('one that is deleted takes its record along, and comes back whole by undo', async () => {
    const library = new Library('home');
    library.keepList(hand('One', ['a']), 'List One');
    await library.flush();
    library.forgetList(hand('One', ['a']));
    await library.flush();
    const again = await reopened('home');
    expect(again.lists).toEqual([]);
    expect(JSON.stringify([...(databases.get('lectorum-home-library') ?? [])])).not.toContain('list:One');
    library.undo();
    await library.flush();
    expect((await reopened('home')).lists).toEqual([hand('One', ['a'])]);
  });
});
