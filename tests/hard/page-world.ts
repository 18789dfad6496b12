import { fieldsOf, type Item, type SourceId } from '../../src/lib/core/items';
import { newPlayer, type PlayerId } from '../../src/lib/core/library';
import type { ByteSource } from '../../src/lib/core/bytes';
import { RECORD_FOLDER, readRecord, type WritingStep } from '../../src/lib/core/run';
import { digestOf } from '../../src/lib/io/digest';
import { LibraryStorage } from '../../src/lib/io/storage';
import type { Given } from '../../src/lib/io/take-in/walk';
import { LibraryMirror } from '../../src/lib/state/library-mirror';
import { Library } from '../../src/lib/state/library.svelte';
import { PlayerDesk } from '../../src/lib/state/player/desk.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { RunClient } from '../../src/lib/workers/run-client';
import { withRunLock } from '../../src/lib/workers/run-lock';
import { serveRuns } from '../../src/lib/workers/run-service';
import { channel } from '../helpers/channel';
import { libraryClient } from '../helpers/library-worker';
import { atPlace, place, sha256 } from './page-place';
import { bytesOfSong, newSong, readSong } from './sync-world';

/*
 * Pages of the application at one place: a library, the desk of a player, and the workers in this thread. Each library has
 * a name of its own, as if it lay in a browser of its own. Songs are those of the world of syncs.
 */

const SOURCE = 'attic-source' as SourceId;
const ATTIC = newPlayer('attic' as PlayerId, 'attic');

/** Bytes of originals by their paths: those of files that came from the player stay where they were put. */
export const originals = new Map<string, Uint8Array>();

const wholeOf = async (source: ByteSource) => source.read(0, source.size);

async function makeContent(step: WritingStep): Promise<Blob> {
  if (step.type !== 'copy') return new Blob([step.type === 'writeText' ? step.text : step.picture.key]);
  const song = readSong(originals.get(step.original.path) as Uint8Array);
  const bytes = bytesOfSong({
    sound: song?.sound ?? '',
    fields: step.recipe.type === 'retag' ? step.recipe.expect : (song?.fields as Item['file']['fields']),
  });
  return new Blob([bytes as Uint8Array<ArrayBuffer>]);
}

export class Page {
  readonly library: Library;
  readonly desk: PlayerDesk;

  private constructor(name: string) {
    this.library = new Library(name);
    const client = libraryClient({
      list: () => atPlace().list(),
      examine: async (_target, path, what) => {
        const bytes = await wholeOf(await place().read(path));
        if (what === 'digest') return { digest: sha256(bytes) };
        const fields = readSong(bytes)?.fields;
        return fields ? { says: fields } : {};
      },
      keepJournal: (library, target, journal, there) =>
        withRunLock(library, target, (storage) => storage.runs.start(target, journal, there)),
      findPast: ({ library, target }) => new LibraryStorage(library).bases.findPast(target),
      findWriter: (library) => new LibraryStorage(library).head.findWriter(),
      listRecords: async () => (await atPlace().listHeld(RECORD_FOLDER)).map(({ path }) => path),
      readRecord: async (_target, path) => readRecord(await wholeOf(await place().read(path)), digestOf),
      async wouldWrite(_library, step, size) {
        const bytes = new Uint8Array(await (await makeContent(step)).arrayBuffer());
        return bytes.length === size ? sha256(bytes) : null;
      },
    });
    const runs = new RunClient(() =>
      channel((port) => {
        serveRuns(port, {
          storeOf: () => atPlace(),
          makeContent: (step) => makeContent(step),
          checkWritten: async () => undefined,
        });
      }),
    );
    const mirror = new LibraryMirror(this.library, client);
    const intake = { takeIn: (given: readonly Given[]) => this.takeIn(given), sourceOf: async () => SOURCE };
    this.desk = new PlayerDesk(ATTIC.id, this.library, new Work(), mirror, () => intake, runs);
  }

  static async open(name = 'home'): Promise<Page> {
    const page = new Page(name);
    await page.library.load();
    page.desk.rehearsal.isChosen = true;
    await page.desk.open();
    return page;
  }

  private async takeIn([given]: readonly Given[]) {
    for await (const file of given?.files ?? []) {
      if ('lost' in file) continue;
      const bytes = new Uint8Array(await file.file.arrayBuffer());
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
    // The place's own record of who left what is no part of what both sides hold.
    const held = [...place().files].filter(([path]) => !path.startsWith(RECORD_FOLDER));
    const files = held.map(([path, bytes]) => [path, Buffer.from(bytes).toString()]);
    return { titles: titles.sort(), files: files.sort() };
  }

  async runAll(): Promise<void> {
    if (this.desk.record.isUnfinished) await this.desk.runs.resume();
    // What a cut left to be rehearsed anew is looked at, and then run.
    for (let turn = 0; turn < 3 && !(this.desk.rehearsal.plan && isDone(this.desk)); turn++)
      await this.desk.runs.start();
    await this.library.flush();
  }
}

export const isDone = ({ rehearsal: { plan }, record }: PlayerDesk) =>
  !record.isUnfinished && plan !== null && plan.stepCount + plan.comes.edits + plan.comes.files === 0;
