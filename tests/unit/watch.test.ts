import { readFile } from 'node:fs/promises';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { ItemId, SourceId } from '../../src/lib/core/items';
import type { MirrorList } from '../../src/lib/core/lists';
import { Intake } from '../../src/lib/state/intake.svelte';
import { Library } from '../../src/lib/state/library.svelte';
import { WatchDesk } from '../../src/lib/state/sources/watch-desk.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { ParsePool } from '../../src/lib/workers/parse-pool';
import { serveParsing } from '../../src/lib/workers/parse-service';
import { channel } from '../helpers/channel';
import { DEMO } from '../helpers/demo';
import { databases } from '../helpers/fake-forage';
import { MemoryFolder } from '../helpers/memory-folder';

vi.mock('localforage', () => import('../helpers/fake-forage'));
vi.mock('../../src/lib/io/take-in/watch', () => ({ watchFolder: async () => () => undefined }));

const SONG = await readFile(`${DEMO}/Drop/from the old laptop/audio_4.mp3`);
/** The same with a letter behind its end: another file. */
const OTHER = Buffer.concat([SONG, Buffer.from('x')]);

/** Handles do not pass through the copying stand-in for storage: they are kept here, as the browser keeps them. */
class Handles {
  readonly kept = new Map<string, MemoryFolder>();
}

function makeDesk() {
  const library = new Library('home');
  const handles = new Handles();
  library.storage.handles.keep = async (source, handle) =>
    void handles.kept.set(source, handle as unknown as MemoryFolder);
  library.storage.handles.find = async (source) => handles.kept.get(source)?.asHandle() ?? null;
  const work = new Work();
  const pool = new ParsePool(() => channel(serveParsing), 1);
  const intake = new Intake(library, () => pool, work);
  const desk = new WatchDesk({ library, intake, work });
  return { library, desk, work, handles };
}

let tools: ReturnType<typeof makeDesk>;
let folder: MemoryFolder;
beforeEach(async () => {
  databases.clear();
  tools = makeDesk();
  folder = new MemoryFolder('Wave')
    .put('Choral/one.mp3', SONG, 1)
    .put('Reels/two.mp3', SONG, 2)
    .put('notes.txt', 'x');
  await tools.desk.tie(folder.asHandle(), { kind: 'song', genreFromFolder: true });
});

const source = () => tools.library.watched[0]?.source as SourceId;
const look = () => tools.desk.look(source());
const lists = () =>
  Object.fromEntries(
    tools.library.lists.map((list) => [
      list.name,
      tools.desk.itemsIn(list as MirrorList).map(({ path }) => path),
    ]),
  );

test('tying takes everything in, with a list, a kind and values for every folder', () => {
  expect(lists()).toEqual({ Wave: [], Choral: ['Choral/one.mp3'], Reels: ['Reels/two.mp3'] });
  expect(
    tools.library.items.map(({ edits, guess }) => [edits.fields?.genre, guess.kind, guess.certainty]),
  ).toEqual([
    [['Choral'], 'song', 'sure'],
    [['Reels'], 'song', 'sure'],
  ]);
  expect(tools.library.arrivals.map(({ origin }) => origin)).toEqual(['watched']);
});

test('looking again when nothing changed brings nothing', async () => {
  const before = tools.library.items;
  await look();
  expect(tools.library.items).toBe(before);
  expect(tools.library.arrivals).toHaveLength(1);
});

describe('what changes in the folder', () => {
  test('new files and new folders come, each into its list', async () => {
    folder.put('Choral/three.mp3', OTHER, 3).put('Shanties/Deep/four.mp3', SONG, 4);
    await look();
    expect(lists()).toMatchObject({
      Choral: ['Choral/one.mp3', 'Choral/three.mp3'],
      'Shanties / Deep': ['Shanties/Deep/four.mp3'],
    });
    expect(tools.library.items.at(-1)?.edits.fields?.genre).toEqual(['Deep']);
  });

  test('a changed file is read again and stays one item, with its edits', async () => {
    const [one] = tools.library.items;
    if (!one) throw new Error('nothing came');
    tools.library.edit('Title', [one], { title: 'Mine' });
    folder.take('Choral/one.mp3');
    folder.put('Choral/one.mp3', SONG, 99);
    await look();
    expect(tools.library.items).toHaveLength(2);
    expect(tools.library.find(one.id)).toMatchObject({ modified: 99, edits: { fields: { title: 'Mine' } } });
  });

  test('a moved file is the same item in another list', async () => {
    const [one] = tools.library.items;
    const file = folder.take('Choral/one.mp3');
    (folder.children.get('Reels') as MemoryFolder).children.set('one.mp3', file);
    await look();
    expect(lists()).toMatchObject({ Choral: [], Reels: ['Reels/one.mp3', 'Reels/two.mp3'] });
    expect(tools.library.items.map(({ id }) => id)).toContain(one?.id);
    expect(tools.library.items).toHaveLength(2);
  });

  test('a file that moves to another tree stays one item, though both are checked at once', async () => {
    const [one] = tools.library.items;
    const second = new MemoryFolder('Second').put('Mixed/notes.txt', 'x');
    await tools.desk.tie(second.asHandle(), { kind: 'song', genreFromFolder: true });
    // The larger tree takes longer to walk.
    for (let at = 0; at < 300; at++) folder.put(`Notes/${at}.txt`, 'x');
    (second.children.get('Mixed') as MemoryFolder).children.set('one.mp3', folder.take('Choral/one.mp3'));
    const [first, other] = tools.library.watched.map((tree) => tree.source) as [SourceId, SourceId];
    await Promise.all([tools.desk.look(first), tools.desk.look(other)]);
    expect(tools.library.items).toHaveLength(2);
    expect(tools.library.find(one?.id as ItemId)).toMatchObject({
      source: other,
      path: 'Mixed/one.mp3',
      gone: null,
    });
  });

  test('a vanished file is told and kept, and is there again when it comes back', async () => {
    const file = folder.take('Reels/two.mp3');
    await look();
    expect(tools.library.items.filter(({ gone }) => gone !== null).map(({ path }) => path)).toEqual([
      'Reels/two.mp3',
    ]);
    expect(lists().Reels).toEqual([]);
    (folder.children.get('Reels') as MemoryFolder).children.set('two.mp3', file);
    await look();
    expect(tools.library.items.every(({ gone }) => gone === null)).toBe(true);
    expect(tools.library.items).toHaveLength(2);
  });

  test('of files of one folder that are the same, byte for byte, one is kept; it is told, and comes when the other goes', async () => {
    folder
      .put('Choral/one (copy).mp3', SONG, 4)
      .put('Choral/other (1).mp3', OTHER, 5)
      .put('Choral/other.mp3', OTHER, 5);
    await look();
    await look();
    expect(lists().Choral).toEqual(['Choral/one.mp3', 'Choral/other.mp3']);
    expect(tools.library.arrivals.flatMap(({ unread }) => unread)).toEqual([
      { path: 'Choral/one (copy).mp3', code: 'double', detail: 'Choral/one.mp3' },
      { path: 'Choral/other (1).mp3', code: 'double', detail: 'Choral/other.mp3' },
    ]);
    expect(tools.work.finished?.text).toBe('Wave: 1 file taken in, 2 duplicates');
    folder.take('Choral/one.mp3');
    await look();
    expect(lists().Choral).toEqual(['Choral/one (copy).mp3', 'Choral/other.mp3']);
  });

  test('a double comes when the one that was kept says something else', async () => {
    folder.put('Choral/one (copy).mp3', SONG, 4);
    await look();
    expect(lists().Choral).toEqual(['Choral/one.mp3']);
    folder.take('Choral/one.mp3');
    folder.put('Choral/one.mp3', OTHER, Date.now() + 1000);
    await look();
    await look();
    expect(lists().Choral).toEqual(['Choral/one (copy).mp3', 'Choral/one.mp3']);
  });

  test('a file that cannot be read is listed once, not at every look', async () => {
    folder.put('Choral/broken.mp3', 'a letter', 5);
    await look();
    await look();
    expect(tools.library.arrivals.flatMap(({ unread }) => unread)).toMatchObject([
      { path: 'Choral/broken.mp3', code: 'notMedia' },
    ]);
  });
});

describe('a folder that cannot be looked at', () => {
  test.each([
    ['NotFoundError', 'gone', 'is missing'],
    ['NotAllowedError', 'shut', 'needs to be opened again'],
  ])('%s: nothing is lost, and it is told', async (name, phase, words) => {
    const before = tools.library.items;
    folder.failure = new DOMException('no', name);
    await look();
    expect(tools.desk.states.get(source())?.phase).toBe(phase);
    expect(tools.desk.trouble).toContain(words);
    expect(tools.library.items).toBe(before);
    expect(lists().Choral).toEqual(['Choral/one.mp3']);
    folder.failure = null;
    await look();
    expect(tools.desk.states.get(source())?.phase).toBe('watching');
  });
});

describe('what the curator changes', () => {
  const tree = () => tools.library.watched[0] as (typeof tools.library.watched)[number];

  test('values hold for files to come, and are given to all there on demand', async () => {
    const rule = tree().rules.find(({ folder: own }) => own === 'Choral');
    if (!rule) throw new Error('no rule');
    tools.desk.setRule(tree(), { ...rule, defaults: { genre: ['sea choir'], artist: ['The Choir'] } });
    folder.put('Choral/new.mp3', OTHER, 7);
    await look();
    expect(tools.library.items.map(({ edits }) => [edits.fields?.genre, edits.fields?.artist])).toEqual([
      [['Choral'], undefined],
      [['Reels'], undefined],
      [['sea choir'], ['The Choir']],
    ]);
    const list = tools.desk.listOf(tree(), 'Choral');
    if (list) tools.desk.giveDefaults(tree(), list);
    expect(tools.library.items[0]?.edits).toEqual({ fields: { genre: ['Choral'], artist: ['The Choir'] } });
    tools.library.undo();
    expect(tools.library.items[0]?.edits).toEqual({ fields: { genre: ['Choral'] } });
  });

  test('watching ends; items and lists stay', async () => {
    tools.desk.untie(tree());
    expect(tools.library.watched).toEqual([]);
    expect(tools.library.folderKinds).toEqual([]);
    expect(lists()).toMatchObject({ Choral: ['Choral/one.mp3'] });
    folder.put('Choral/later.mp3', SONG, 8);
    await tools.desk.look(source());
    expect(tools.library.items).toHaveLength(2);
  });
});

test('everything is there again at the next start', async () => {
  await tools.library.flush();
  const again = new Library('home');
  await again.load();
  expect(again.watched).toEqual(tools.library.watched);
  expect(again.lists).toEqual(tools.library.lists);
  expect(again.items.map(({ edits }) => edits.fields?.genre)).toEqual([['Choral'], ['Reels']]);
});
