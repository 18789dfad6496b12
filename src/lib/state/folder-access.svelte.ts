import { askToRead, mayRead } from '$lib/io/take-in/open-item';
import type { Library } from './library.svelte';

/** Whether folders that items came from can still be read. */
export class FolderAccess {
  /** Folders whose permission ended with the last visit. */
  shut = $state.raw<readonly { label: string; handle: FileSystemDirectoryHandle }[]>([]);

  /** @param reopened is called once folders may be read again */
  constructor(
    private readonly library: Library,
    private readonly reopened: () => Promise<void>,
  ) {}

  /** Asks for every folder again whose permission has ended; must follow a click. */
  async reopen(): Promise<void> {
    for (const { handle } of this.shut) await askToRead(handle);
    await this.check();
    await this.reopened();
  }

  async check(): Promise<void> {
    const shut: { label: string; handle: FileSystemDirectoryHandle }[] = [];
    for (const source of this.library.sources) {
      const handle = source.type === 'folder' ? await this.library.storage.handles.find(source.id) : null;
      if (handle && !(await mayRead(handle))) shut.push({ label: source.label, handle });
    }
    this.shut = shut;
  }
}
