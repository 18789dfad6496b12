import type { Store } from '$lib/core/run';
import { DeviceStore } from './device-store';
import { FolderStore } from './folder-store';

/** Where the store of a target is. */
export type StoreAddress =
  | { readonly type: 'device'; readonly device: string }
  | { readonly type: 'folder'; readonly handle: FileSystemDirectoryHandle };

/** The way to a place that files can be read from, written to and taken back from. */
export const storeOf = (at: StoreAddress): Store<Blob> =>
  at.type === 'device' ? new DeviceStore(at.device) : new FolderStore(at.handle);
