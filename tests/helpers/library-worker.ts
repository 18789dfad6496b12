import { LibraryStorage } from '../../src/lib/io/storage';
import { LibraryClient } from '../../src/lib/workers/library-client';
import { serveLibrary, type LibraryOutside } from '../../src/lib/workers/library-service';
import type { Port } from '../../src/lib/workers/worker-client';
import { channel } from './channel';

const OUTSIDE: LibraryOutside = {
  readItems: (library) => new LibraryStorage(library, () => false).readItems(),
  readTwins: (library) => new LibraryStorage(library, () => false).twins.all(),
  list: () => Promise.resolve([]),
  room: () => Promise.resolve(null),
  examine: async () => ({}),
  scan: () => Promise.resolve({ nodes: [], unplaced: [], lists: [] }),
  keepJournal: () => Promise.resolve(),
  findWriter: () => Promise.resolve(null),
  listRecords: () => Promise.resolve([]),
  readRecord: () => Promise.resolve(null),
  wouldWrite: () => Promise.resolve(null),
  findPast: () => Promise.resolve([]),
  findSeen: () => Promise.resolve(null),
  keepSeen: () => Promise.resolve(),
};

/** The library worker in this thread, with some of the world outside. @param watch sees its end of the channel first */
export function libraryClient(
  outside: Partial<LibraryOutside> = {},
  watch = (_port: Port) => {},
): LibraryClient {
  return new LibraryClient(() =>
    channel((port) => {
      watch(port);
      serveLibrary(port, { ...OUTSIDE, ...outside });
    }),
  );
}
