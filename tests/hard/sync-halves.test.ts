import { createHash } from 'node:crypto';
import { beforeEach, expect, test, vi } from 'vitest';
import { fieldsOf, type Item, type ItemId, type SourceId } from '../../src/lib/core/items';
import { newPlayer, type PlayerId } from '../../src/lib/core/library';
import type { ByteSource } from '../../src/lib/core/bytes';
import { MemoryStore, type Store, type WritingStep } from '../../src/lib/core/run';
import type { Given } from '../../src/lib/io/take-in/walk';
import { LibraryMirror } from '../../src/lib/state/library-mirror';
import { Library } from '../../src/lib/state/library.svelte';
import { PlayerDesk } from '../../src/lib/state/player-desk.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { RunClient } from '../../src/lib/workers/run-client';
import { withRunLock } from '../../src/lib/workers/run-lock';
import { serveRuns } from '../../src/lib/workers/run-service';
import { channel } from '../helpers/channel';
import {
  databases,
  endPageAfter,
  forgetAll,
  newPage,
  ofPage,
  writesOfThisPage,
} from '../helpers/fake-forage';
import { libraryClient } from '../helpers/library-worker';
import { bytesOfSong, newSong, readSong } from './sync-world';
import { TRIAL_TIME, sample, sized, tell } from './size';

vi.mock('localforage', () => import('../helpers/fake-forage'));
vi.mock('../../src/lib/io/stores/store-of', () => ({ storeOf: () => blobStore(place) }));

/*
 * A sync has two halves: what the library takes over from the player, and what the player gets. The page is ended at
 * every write to the browser's storage on the way, and opened again.
 */

const SOURCE = 'attic-source' as SourceId;
const ATTIC = newPlayer('attic' as PlayerId, 'attic');
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

let place: MemoryStore;
/** Bytes of originals by their paths: those of files that came from the player stay where they were put. */
const originals = new Map<string, Uint8Array>();

const newPlace = () => new MemoryStore({ caseBlind: false, digests: true, digest: sha256 });

/** The place as the application asks for it. A page that has ended hears nothing more. */
function blobStore(store: MemoryStore): Store<Blob> {
  const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
  return {
    list: () => ofPage(() => store.list()),
    makeFolder: (path) => ofPage(() => store.makeFolder(path)),
    hasFolder: (path) => ofPage(() => store.hasFolder(path)),
    write: (path, blob) => ofPage(async () => store.write(path, await bytesOf(blob))),
    move: (from, to) => ofPage(() => store.move(from, to)),
    remove: (path) => ofPage(() => store.remove(path)),
    removeEmptyFolder: (path) => ofPage(() => store.removeEmptyFolder(path)),
    find: (path) => ofPage(() => store.find(path)),
    read: (path) => ofPage(() => store.read(path)),
  };
}

const wholeOf = async (source: ByteSource) => source.read(0, source.size);

async function makeContent(step: WritingStep): Promise<Blob> {
  if (step.type !== 'copy') return new Blob([step.type === 'writeText' ? step.text : step.picture.key]);
  const song = readSong(originals.get(step.original.path) as Uint8Array);
  const bytes = bytesOfSong({
    sound: song?.sound ?? '',
    fields: step.expect ?? (song?.fields as Item['file']['fields']),
  });
  return new Blob([bytes as Uint8Array<ArrayBuffer>]);
}

class Page {
  readonly library = new Library('home');
  readonly desk: PlayerDesk;

  private constructor() {
    const client = libraryClient({
      list: () => blobStore(place).list(),
      examine: async (_target, path, what) => {
        const bytes = await wholeOf(await place.read(path));
        if (what === 'digest') return { digest: sha256(bytes) };
        const fields = readSong(bytes)?.fields;
        return fields ? { says: fields } : {};
      },
      keepJournal: (library, target, journal, there) =>
        withRunLock(library, target, (storage) => storage.runs.start(target, journal, there)),
    });
    const runs = new RunClient(() =>
      channel((port) => {
        serveRuns(port, {
          storeOf: () => blobStore(place),
          makeContent: (step) => makeContent(step),
          checkWritten: async () => undefined,
        });
      }),
    );
    const mirror = new LibraryMirror(this.library, client);
    const intake = { takeIn: (given: readonly Given[]) => this.takeIn(given), sourceOf: async () => SOURCE };
    this.desk = new PlayerDesk(ATTIC.id, this.library, new Work(), mirror, () => intake as never, runs);
  }

  static async open(): Promise<Page> {
    newPage();
    const page = new Page();
    await page.library.load();
    page.desk.isChosen = true;
    await page.desk.open();
    return page;
  }

  private async takeIn([given]: readonly Given[]) {
    for await (const file of given?.files ?? []) {
      if ('lost' in file) continue;
      const bytes = new Uint8Array(await (file.file as File).arrayBuffer());
      originals.set(file.path, bytes);
      const known = this.library.items.find(({ source, path }) => source === SOURCE && path === file.path);
      if (known) continue;
      const song = newSong(`taken ${file.path}`, readSong(bytes)?.fields ?? {});
      const item = { ...song, source: SOURCE, path: file.path, size: bytes.length };
      this.library.put([{ id: item.id, before: null, after: item }]);
    }
    return null;
  }

  /** What both sides hold. */
  get state() {
    const { items } = this.library;
    const titles = items.map((item) => [item.id, fieldsOf(item).title, fieldsOf(item).composer]);
    const files = [...place.files].map(([path, bytes]) => [path, Buffer.from(bytes).toString()]);
    return { titles: titles.sort(), files: files.sort() };
  }

  async runAll(): Promise<void> {
    if (this.desk.unfinished) await this.desk.resume();
    // What a cut left to be rehearsed anew is looked at, and then run.
    for (let turn = 0; turn < 3 && !(this.desk.plan && isDone(this.desk)); turn++) await this.desk.run();
    await this.library.flush();
  }
}

const isDone = ({ plan, unfinished }: PlayerDesk) =>
  !unfinished && plan !== null && plan.stepCount + plan.comes.edits + plan.comes.files === 0;

interface Saved {
  readonly databases: ReadonlyMap<string, ReadonlyMap<string, unknown>>;
  readonly files: ReadonlyMap<string, Uint8Array>;
  readonly folders: readonly string[];
}

const save = (): Saved => ({
  databases: structuredClone(new Map([...databases].map(([name, keys]) => [name, new Map(keys)]))),
  files: place.files,
  folders: place.folders,
});

async function restore({ databases: kept, files, folders }: Saved): Promise<void> {
  newPage();
  for (const [name, keys] of databases) {
    keys.clear();
    for (const [key, value] of kept.get(name) ?? []) keys.set(key, structuredClone(value));
  }
  place = newPlace();
  for (const folder of folders) await place.makeFolder(folder);
  for (const [path, bytes] of files) place.put(path, bytes);
}

/** A house that agreed, and whose two sides went on: a title and a file of the player's own there, a title here. */
async function house(): Promise<Saved> {
  place = newPlace();
  const page = await Page.open();
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
  const [first] = [...place.files].filter(([path]) => path.includes('Song 0')) as [[string, Uint8Array]];
  const song = readSong(first[1]);
  if (!song) throw new Error('no song');
  place.put(
    first[0],
    bytesOfSong({ ...song, fields: { ...song.fields, title: 'Said there', composer: ['Somebody'] } }),
  );
  const own = newSong('own', { title: 'Their own', album: 'Own', track: 1 }).file.fields;
  place.put(first[0].replace(/[^/]*$/, 'own.mp3'), bytesOfSong({ sound: 'own', fields: own }));
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
    let page = await Page.open();
    const before = page.state;
    expect(page.desk.plan?.comes).toEqual({ edits: 1, files: 1 });
    const count = await countWrites(() => page.runAll());
    const after = page.state;
    expect(after.titles.flat()).toEqual(expect.arrayContaining(['Said there', 'Said here', 'Their own']));
    const writes = Array.from({ length: count }, (_, index) => index);
    let halves = 0;
    for (const at of sample(writes, sized(count, 40)))
      for (const goesOn of [true, false]) {
        await restore(start);
        page = await Page.open();
        const first = page.desk.journal?.id;
        const ended = endPageAfter(at);
        await Promise.race([ended, page.runAll()]);
        page = await Page.open();
        const hasBegun = page.desk.journal?.id !== first;
        if (page.desk.journal?.state === 'taking') halves++;
        if (!hasBegun) expect([at, page.state]).toEqual([at, before]);
        if (goesOn) {
          await page.runAll();
          expect([at, withoutHeld(page.state)]).toEqual([at, withoutHeld(after)]);
        } else if (hasBegun) {
          await page.desk.takeBack();
          expect([at, page.state]).toEqual([at, before]);
          expect(page.desk.unfinished).toBe(false);
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
    let page = await Page.open();
    const before = page.state;
    await page.runAll();
    const done = save();
    await restore(done);
    page = await Page.open();
    const count = await countWrites(() => page.desk.takeBack());
    expect(page.state).toEqual(before);
    for (let at = 0; at < count; at++) {
      await restore(done);
      page = await Page.open();
      const ended = endPageAfter(at);
      await Promise.race([ended, page.desk.takeBack()]);
      page = await Page.open();
      if (page.desk.journal?.state !== 'takenBack') await page.desk.takeBack();
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

async function countWrites(act: () => Promise<unknown>): Promise<number> {
  const most = 10_000;
  const ended = endPageAfter(most);
  await Promise.race([act(), ended]);
  return most - (writesOfThisPage() ?? 0);
}
