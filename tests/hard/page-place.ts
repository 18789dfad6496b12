import { createHash } from 'node:crypto';
import { MemoryStore, type Store } from '../../src/lib/core/run';
import { ofPage } from '../helpers/fake-forage';

/* The one place that pages of a trial run into: in memory, with digests or without. */

export const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

let now = emptyPlace(true);

function emptyPlace(digests: boolean): MemoryStore {
  return new MemoryStore({ caseBlind: false, digests, digest: sha256 });
}

export const place = (): MemoryStore => now;

/** Begins anew with an empty place. @param digests whether it lists them */
export function newPlace(digests = true): MemoryStore {
  return (now = emptyPlace(digests));
}

/** The place as the application asks for it. A page that has ended hears nothing more. */
export function atPlace(store: MemoryStore = now): Store<Blob> {
  const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
  return {
    list: () => ofPage(() => store.list()),
    room: () => ofPage(() => store.room()),
    listHeld: (folder) => ofPage(() => store.listHeld(folder)),
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

/** Files in the open, by their paths, as text. */
export const openFiles = (): ReadonlyMap<string, string> =>
  new Map(
    [...now.files].flatMap(([path, bytes]) =>
      path.startsWith('.') ? [] : [[path, Buffer.from(bytes).toString()] as const],
    ),
  );
