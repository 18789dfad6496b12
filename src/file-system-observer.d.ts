/** The browser's file observer, as far as it is used here (WICG File System Observer). */
interface FileSystemObserver {
  observe(handle: FileSystemHandle, options?: { recursive?: boolean }): Promise<void>;
  disconnect(): void;
}

interface Window {
  FileSystemObserver?: new (callback: () => void) => FileSystemObserver;
}
