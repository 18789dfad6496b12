import { AtticStore } from '$lib/io/stores/attic-store';
import { FolderStore } from '$lib/io/stores/folder-store';
import { servePlanning } from './plan-service';
import { withRunLock } from './run-lock';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
servePlanning(self as unknown as Port, {
  async list(target) {
    if (target.type === 'attic') return new AtticStore().list();
    return target.type === 'folder' ? new FolderStore(target.handle).list() : [];
  },
  scan: () => new AtticStore().scan(),
  keepJournal: (library, target, journal) =>
    withRunLock(library, target, (storage) => storage.startJournal(target, journal)),
});
