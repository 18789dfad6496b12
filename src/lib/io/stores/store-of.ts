import { StoreError, type Store } from '$lib/core/run';
import { DeviceStore } from './device-store';
import { FolderStore } from './folder-store';

/** Where a target is, as a value that workers are sent. */
export type TargetAddress =
  | { readonly type: 'device'; readonly device: string }
  | { readonly type: 'folder'; readonly handle: FileSystemDirectoryHandle }
  /** A ZIP in the private file system, which each run makes anew. */
  | { readonly type: 'zip'; readonly name: string };

/** The way to what lies at a place between its runs. What is made anew by each run holds nothing then. */
export function storeOf(at: TargetAddress): Store<Blob> {
  switch (at.type) {
    case 'device':
      return new DeviceStore(at.device);
    case 'folder':
      return new FolderStore(at.handle);
    case 'zip':
      return EMPTY;
  }
}

const refused = (path: string): Promise<never> => Promise.reject(new StoreError('refused', path));
const nothing = (): Promise<void> => Promise.resolve();

const EMPTY: Store<Blob> = {
  list: () => Promise.resolve([]),
  room: () => Promise.resolve(null),
  listHeld: () => Promise.resolve([]),
  makeFolder: refused,
  hasFolder: () => Promise.resolve(false),
  write: refused,
  move: refused,
  remove: refused,
  removeEmptyFolder: nothing,
  find: () => Promise.resolve(null),
  read: (path) => Promise.reject(new StoreError('gone', path)),
};
