import { AtticStore } from '$lib/io/stores/attic-store';
import { FolderStore } from '$lib/io/stores/folder-store';
import { LibraryStorage } from '$lib/io/storage/library-storage';
import { serveLibrary } from './library-service';
import { withRunLock } from './run-lock';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveLibrary(self as unknown as Port, {
  readItems: (library) => new LibraryStorage(library, () => false).readItems(),
  async list(target) {
    if (target.type === 'attic') return new AtticStore().list();
    return target.type === 'folder' ? new FolderStore(target.handle).list() : [];
  },
  scan: () => new AtticStore().scan(),
  keepJournal: (library, target, journal) =>
    withRunLock(library, target, (storage) => storage.startJournal(target, journal)),
});
