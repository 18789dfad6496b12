import { beforeEach, expect, test, vi } from 'vitest';
import type { ItemId } from '../../src/lib/core/items';
import { databases, endPageAfter, forgetAll, newPage, writesOfThisPage } from '../helpers/fake-forage';
import { newPlace, place } from './page-place';
import { Page, isDone, originals } from './page-world';
import { bytesOfSong, newSong, readSong } from './sync-world';
import { TRIAL_TIME, sample, sized, tell } from './size';

vi.mock('localforage', () => import('../helpers/fake-forage'));
vi.mock('../../src/lib/io/stores/store-of', async () => {
  const { atPlace } = await import('./page-place');
  return { storeOf: () => atPlace() };
});

/*
 * A sync has two halves: what the library takes over from the player, and what the player gets. The page is ended at
 * every write to the browser's storage on the way, and opened again.
 */

interface Saved {
  readonly databases: ReadonlyMap<string, ReadonlyMap<string, unknown>>;
  readonly files: ReadonlyMap<string, Uint8Array>;
  readonly folders: readonly string[];
}

const save = (): Saved => ({
  databases: structuredClone(new Map([...databases].map(([name, keys]) => [name, new Map(keys)]))),
  files: place().files,
  folders: place().folders,
});

async function restore({ databases: kept, files, folders }: Saved): Promise<void> {
  newPage();
  for (const [name, keys] of databases) {
    keys.clear();
    for (const [key, value] of kept.get(name) ?? []) keys.set(key, structuredClone(value));
  }
  const store = newPlace();
  for (const folder of folders) await store.makeFolder(folder);
  for (const [path, bytes] of files) store.put(path, bytes);
}

/** A house that agreed, and whose two sides went on: a title and a file of the player's own there, a title here. */
async function house(): Promise<Saved> {
  newPlace();
  const page = await open();
  const { library, desk } = page;
  const songs = [0, 1, 2].map((index) =>
    newSong(`s${index}`, { title: `Song ${index}`, album: 'Ebb', track: index + 1 }),
  );
  for (const item of songs)
    originals.set(item.path, bytesOfSong({ sound: item.id, fields: item.file.fields }));
  library.put(songs.map((item) => ({ id: item.id, before: null, after: item })));
  library.setPlayer({ ...desk.player, policy: 'both' });
  await library.flush();
  await desk.look();
  await page.runAll();
  expect(isDone(desk)).toBe(true);
  const [first] = [...place().files].filter(([path]) => path.includes('Song 0')) as [[string, Uint8Array]];
  const song = readSong(first[1]);
  if (!song) throw new Error('no song');
  place().put(
    first[0],
    bytesOfSong({ ...song, fields: { ...song.fields, title: 'Said there', composer: ['Somebody'] } }),
  );
  const own = newSong('own', { title: 'Their own', album: 'Own', track: 1 }).file.fields;
  place().put(first[0].replace(/[^/]*$/, 'own.mp3'), bytesOfSong({ sound: 'own', fields: own }));
  library.edit('Title', library.findAll(['s1' as ItemId]), { title: 'Said here' });
  await library.flush();
  return save();
}

beforeEach(forgetAll);

test(
  'cut at any write, a sync goes on to its end or back to its start',
  { timeout: TRIAL_TIME },
  async () => {
    const start = await house();
    await restore(start);
    let page = await open();
    const before = page.state;
    expect(page.desk.rehearsal.plan?.comes).toEqual({ edits: 1, files: 1, lists: 0 });
    const count = await countWrites(() => page.runAll());
    const after = page.state;
    expect(after.titles.flat()).toEqual(expect.arrayContaining(['Said there', 'Said here', 'Their own']));
    const writes = Array.from({ length: count }, (_, index) => index);
    let halves = 0;
    for (const at of sample(writes, sized(count, 40)))
      for (const goesOn of [true, false]) {
        await restore(start);
        page = await open();
        const first = page.desk.record.journal?.id;
        const ended = endPageAfter(at);
        await Promise.race([ended, page.runAll()]);
        page = await open();
        const hasBegun = page.desk.record.journal?.id !== first;
        if (page.desk.record.journal?.state === 'taking') halves++;
        if (!hasBegun) expect([at, page.state]).toEqual([at, before]);
        if (goesOn) {
          await page.runAll();
          expect([at, withoutHeld(page.state)]).toEqual([at, withoutHeld(after)]);
        } else if (hasBegun) {
          await page.desk.runs.takeBack();
          expect([at, page.state]).toEqual([at, before]);
          expect(page.desk.record.isUnfinished).toBe(false);
        }
      }
    expect(halves).toBeGreaterThan(0);
    tell('syncs cut between their halves', { writes: count, 'cut in the first half': halves, failures: 0 });
  },
);

test(
  'a sync whose taking back is cut at any write goes back to its start',
  { timeout: TRIAL_TIME },
  async () => {
    const start = await house();
    await restore(start);
    let page = await open();
    const before = page.state;
    await page.runAll();
    const done = save();
    await restore(done);
    page = await open();
    const count = await countWrites(() => page.desk.runs.takeBack());
    expect(page.state).toEqual(before);
    for (let at = 0; at < count; at++) {
      await restore(done);
      page = await open();
      const ended = endPageAfter(at);
      await Promise.race([ended, page.desk.runs.takeBack()]);
      page = await open();
      if (page.desk.record.journal?.state !== 'takenBack') await page.desk.runs.takeBack();
      expect([at, page.state]).toEqual([at, before]);
    }
    tell('syncs whose taking back is cut', { writes: count, failures: 0 });
  },
);

/** What a run holds aside goes with the next one: it is no part of what both sides hold. */
const withoutHeld = ({ titles, files }: Page['state']) => ({
  titles,
  files: files.filter(([path]) => !path?.startsWith('.')),
});

/** A new page, as after a reload. */
async function open(): Promise<Page> {
  newPage();
  return Page.open();
}

async function countWrites(act: () => Promise<unknown>): Promise<number> {
  const most = 10_000;
  const ended = endPageAfter(most);
  await Promise.race([act(), ended]);
  return most - (writesOfThisPage() ?? 0);
}
