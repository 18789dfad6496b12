import type { Store } from '$lib/core/run';
import { AtticStore } from './attic-store';
import { FolderStore } from './folder-store';

/** Where the store of a target is. */
export type StoreAddress =
  { readonly type: 'attic' } | { readonly type: 'folder'; readonly handle: FileSystemDirectoryHandle };

/** The way to a place that files can be read from, written to and taken back from. */
export const storeOf = (at: StoreAddress): Store<Blob> =>
  at.type === 'attic' ? new AtticStore() : new FolderStore(at.handle);
