/** Parts of the File System Access drafts that TypeScript's DOM library does not know yet. */

interface FileSystemHandle {
  queryPermission?(options: { mode: 'read' | 'readwrite' }): Promise<PermissionState>;
  requestPermission?(options: { mode: 'read' | 'readwrite' }): Promise<PermissionState>;
}

interface FileSystemFileHandle {
  /** Renames, crosses folders, and overwrites silently: look first. */
  move(folder: FileSystemDirectoryHandle, name: string): Promise<void>;
  /** In workers, for files of the private file system alone. */
  createSyncAccessHandle(): Promise<SyncAccessHandle>;
}

interface SyncAccessHandle {
  /** Answers how many bytes were written. */
  write(bytes: Uint8Array<ArrayBuffer>, options: { at: number }): number;
  close(): void;
}

interface DataTransferItem {
  getAsFileSystemHandle?(): Promise<FileSystemHandle | null>;
}

interface Window {
  showDirectoryPicker?(options?: {
    id?: string;
    mode?: 'read' | 'readwrite';
  }): Promise<FileSystemDirectoryHandle>;
}
