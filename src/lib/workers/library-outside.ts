import { cachedSource } from '$lib/core/bytes';
import { MOST_LIST_BYTES, listTextOf } from '$lib/core/list-files';
import { readMedia } from '$lib/formats/reading';
import { LARGEST_RECORD, RECORD_FOLDER, readRecord } from '$lib/core/run';
import { blobSource } from '$lib/io/blob-source';
import { digestOf } from '$lib/io/digest';
import { DeviceStore } from '$lib/io/stores/device-store';
import { storeOf } from '$lib/io/stores/store-of';
import { LibraryStorage } from '$lib/io/storage';
import { serveLibrary, type LibraryOutside } from './library-service';
import { makeContent } from './run-effects';
import { withRunLock } from './run-lock';
import type { Port } from './worker-client';

/** What the library worker reaches outside of itself: the browser's storage, and places. */
const OUTSIDE: LibraryOutside = {
  readItems: (library) => new LibraryStorage(library, () => false).readItems(),
  readTwins: (library) => new LibraryStorage(library, () => false).twins.all(),
  list: (at) => storeOf(at).list(),
  room: (at) => storeOf(at).room(),
  async examine(target, path, what) {
    try {
      const source = cachedSource(await storeOf(target).read(path));
      if (what === 'text')
        return { text: listTextOf(await source.read(0, Math.min(source.size, MOST_LIST_BYTES + 1))) };
      if (what === 'digest') return { digest: await digestOf(source) };
      return { says: (await readMedia(source, path)).file.fields };
    } catch {
      // A file that cannot be read is told apart by its size and digest alone.
      return {};
    }
  },
  scan: (device) => new DeviceStore(device).scan(),
  keepJournal: (library, target, journal, there) =>
    withRunLock(library, target, (storage) => storage.runs.start(target, journal, there)),
  findWriter: (library) => new LibraryStorage(library, () => false).head.findWriter(),
  async listRecords(target) {
    const records = await storeOf(target).listHeld(RECORD_FOLDER);
    return records.flatMap(({ path, size }) => (size > LARGEST_RECORD ? [] : path));
  },
  async readRecord(target, path) {
    try {
      const source = await storeOf(target).read(path);
      return await readRecord(await source.read(0, source.size), digestOf);
    } catch {
      return null;
    }
  },
  async wouldWrite(library, step, size) {
    try {
      const content = await makeContent(step, new LibraryStorage(library, () => false));
      return content.size === size ? await digestOf(blobSource(content)) : null;
    } catch {
      // What cannot be made is told by the run that would have to.
      return null;
    }
  },
  findPast: ({ library, target }) => new LibraryStorage(library, () => false).bases.findPast(target),
  findSeen: ({ library, target }) => new LibraryStorage(library, () => false).seen.find(target),
  keepSeen: ({ library, target, mayWrite }, seen) =>
    new LibraryStorage(library, () => mayWrite).seen.keep(target, seen),
};

export const serve = (port: Port): void => serveLibrary(port, OUTSIDE);
