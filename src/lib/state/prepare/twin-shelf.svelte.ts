import type { Item, ItemId } from '$lib/core/items';
import { isFresh, recipeKey, type TwinId, type TwinRecipe, type Twin } from '$lib/core/twins';
import { askToWrite, mayChange } from '$lib/io/take-in/open-item';
import { dropTwinFile, findTwinFile, listTwinFiles, writeTwinFile } from '$lib/io/twin-files';
import { TWIN_FOLDER, dropFromFolder, findInFolder, isReachable, writeToFolder } from '$lib/io/twin-folder';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';

const NONE: readonly Twin[] = [];

/** A folder for twins. */
export interface TwinFolder {
  readonly handle: FileSystemDirectoryHandle;
  /** Its permission ended with the last visit, or it is missing: its twins are not considered lost. */
  readonly isShut: boolean;
  /** It is on a disk that is not connected, or was deleted. */
  readonly isAway: boolean;
}

/** The twins of a library: their records and files. */
export class TwinShelf {
  private all = new Map<ItemId, readonly Twin[]>();
  /** Rises with each change. */
  version = $state(0);
  /** The folder that the curator chose for twins; null for the browser. */
  folder = $state.raw<TwinFolder | null>(null);

  constructor(
    private readonly library: Library,
    private readonly mirror: LibraryMirror,
    private readonly changed: () => void,
  ) {}

  /** Loads the records. A twin without its file is dropped; a file without a record was never finished. */
  async open(): Promise<void> {
    const { storage } = this.library;
    const noted = await storage.twins.all();
    this.all = new Map(noted);
    this.version++;
    const handle = await storage.handles.find(TWIN_FOLDER);
    this.folder = handle && (await this.look(handle));
    await this.leaveOutLost(noted);
  }

  private async look(handle: FileSystemDirectoryHandle): Promise<TwinFolder> {
    const isAllowed = await mayChange(handle);
    const isAway = isAllowed && !(await isReachable(handle));
    return { handle, isShut: !isAllowed || isAway, isAway };
  }

  private async leaveOutLost(noted: ReadonlyMap<ItemId, readonly Twin[]>): Promise<void> {
    const { storage, mayWrite } = this.library;
    const files = await listTwinFiles(storage.library);
    const known = new Set([...noted.values()].flat().map(({ id }) => id));
    if (mayWrite) for (const id of files.keys()) if (!known.has(id)) await dropTwinFile(storage.library, id);
    for (const [item, twins] of noted) {
      const there: Twin[] = [];
      for (const twin of twins) if (await this.isThere(twin, files)) there.push(twin);
      if (there.length === twins.length) continue;
      if (there.length > 0) this.all.set(item, there);
      else this.all.delete(item);
      if (mayWrite) {
        await storage.twins.keep(item, there);
        await this.mirror.tellTwins([[item, there]]);
      }
    }
    this.version++;
  }

  /** A folder that cannot be read has lost nothing. */
  private async isThere(twin: Twin, files: ReadonlyMap<TwinId, number>): Promise<boolean> {
    if (!twin.inFolder) return files.get(twin.id) === twin.size;
    if (!this.folder || this.folder.isShut) return this.folder !== null;
    const file = await findInFolder(this.folder.handle, twin).catch(() => null);
    return file?.size === twin.size;
  }

  /** Keeps twins in a folder from now on, moving the existing ones; must follow a click. @returns what went wrong */
  async useFolder(handle: FileSystemDirectoryHandle, tell: (moved: number) => void): Promise<string | null> {
    if (!(await askToWrite(handle))) return 'the browser has no permission to write there';
    const before = this.folder?.handle ?? null;
    const failed = before ? await this.copyAll(before, handle, tell) : null;
    if (failed !== null) return failed;
    await this.library.storage.handles.keep(TWIN_FOLDER, handle);
    this.folder = { handle, isShut: false, isAway: false };
    if (before && !(await before.isSameEntry(handle)))
      for (const twin of this.inFolder()) await dropFromFolder(before, twin);
    return this.move(true, tell);
  }

  private inFolder(): readonly Twin[] {
    return [...this.all.values()].flat().filter((twin) => twin.inFolder);
  }

  /** @returns what went wrong; then the copies are removed again */
  private async copyAll(
    from: FileSystemDirectoryHandle,
    to: FileSystemDirectoryHandle,
    tell: (moved: number) => void,
  ): Promise<string | null> {
    if (await from.isSameEntry(to)) return null;
    const copied: Twin[] = [];
    try {
      for (const twin of this.inFolder()) {
        const file = await findInFolder(from, twin);
        if (file) await writeToFolder(to, twin, file);
        copied.push(twin);
        tell(copied.length);
      }
      return null;
    } catch (error) {
      for (const twin of copied) await dropFromFolder(to, twin).catch(() => undefined);
      return error instanceof Error ? error.message : String(error);
    }
  }

  /** Asks for the folder again, and moves twins made meanwhile there; must follow a click. @returns what went wrong */
  async allow(tell: (moved: number) => void): Promise<string | null> {
    const { folder } = this;
    if (!folder) return null;
    if (!(await askToWrite(folder.handle))) return 'the browser has no permission to write there';
    this.folder = await this.look(folder.handle);
    if (this.folder.isShut) return 'the folder is missing; connect its disk';
    await this.leaveOutLost(new Map(this.all));
    return this.move(true, tell);
  }

  /** Has the browser keep twins again, and takes them out of the folder. @returns what went wrong: they stay there then */
  async leaveFolder(tell: (moved: number) => void): Promise<string | null> {
    const failed = await this.move(false, tell);
    if (failed !== null) return failed;
    await this.library.storage.handles.drop(TWIN_FOLDER);
    this.folder = null;
    return null;
  }

  /** The number of twins that are not where they should be. */
  elsewhere(inFolder: boolean): number {
    let count = 0;
    for (const twins of this.all.values())
      for (const twin of twins) if (!!twin.inFolder !== inFolder) count++;
    return count;
  }

  private async move(inFolder: boolean, tell: (moved: number) => void): Promise<string | null> {
    let moved = 0;
    for (const twins of [...this.all.values()])
      for (const twin of twins) {
        if (!!twin.inFolder === inFolder) continue;
        try {
          await this.moveOne(twin, inFolder);
        } catch (error) {
          return error instanceof Error ? error.message : String(error);
        }
        tell(++moved);
      }
    return null;
  }

  /** The file is copied first, then recorded, then removed from the old place. */
  private async moveOne(twin: Twin, inFolder: boolean): Promise<void> {
    const { handle } = this.folder ?? {};
    const { library } = this.library.storage;
    if (!handle) return;
    const file = inFolder ? await findTwinFile(library, twin.id) : await findInFolder(handle, twin);
    if (!file) return;
    if (inFolder) await writeToFolder(handle, twin, file);
    else await writeTwinFile(library, twin.id, file);
    const { inFolder: _, ...rest } = twin;
    const placed: Twin = inFolder ? { ...rest, inFolder } : rest;
    const own = this.all.get(twin.item) ?? NONE;
    await this.put(
      twin.item,
      own.map((one) => (one.id === twin.id ? placed : one)),
    );
    await this.drop(twin);
  }

  private async drop(twin: Twin): Promise<void> {
    if (!twin.inFolder) await dropTwinFile(this.library.storage.library, twin.id);
    else if (this.folder && !this.folder.isShut) await dropFromFolder(this.folder.handle, twin);
  }

  of(item: ItemId): readonly Twin[] {
    void this.version;
    return this.all.get(item) ?? NONE;
  }

  /** Whether there is a twin of an item's present file by a recipe. */
  has(item: Item, recipe: TwinRecipe): boolean {
    const key = recipeKey(recipe);
    return this.of(item.id).some((twin) => isFresh(twin, item) && recipeKey(twin.recipe) === key);
  }

  /** Records a new twin. Of several by one recipe, the last one counts. */
  async keep(twin: Twin): Promise<void> {
    const before = this.all.get(twin.item) ?? NONE;
    const key = recipeKey(twin.recipe);
    const isReplaced = (one: Twin) => recipeKey(one.recipe) === key;
    await this.put(twin.item, [...before.filter((one) => !isReplaced(one)), twin]);
    for (const one of before) if (isReplaced(one)) await this.drop(one);
    // If the folder cannot take it, it stays in the browser, which works as well.
    if (this.folder && !this.folder.isShut) await this.moveOne(twin, true).catch(() => undefined);
  }

  /** Twins that are not needed: their items are gone, or their files changed. */
  spare(): readonly Twin[] {
    void this.version;
    return [...this.all].flatMap(([id, own]) => {
      const item = this.library.find(id);
      return own.filter((twin) => !item || !isFresh(twin, item));
    });
  }

  /** Does away with twins. */
  async clean(twins: readonly Twin[]): Promise<void> {
    const gone = new Set(twins.map(({ id }) => id));
    for (const id of new Set(twins.map(({ item }) => item)))
      await this.put(
        id,
        (this.all.get(id) ?? NONE).filter((twin) => !gone.has(twin.id)),
      );
    for (const twin of twins) await this.drop(twin);
  }

  /** Bytes of all twins. */
  get bytes(): number {
    void this.version;
    let sum = 0;
    for (const twins of this.all.values()) for (const { size } of twins) sum += size;
    return sum;
  }

  private async put(item: ItemId, twins: readonly Twin[]): Promise<void> {
    await this.library.storage.twins.keep(item, twins);
    if (twins.length > 0) this.all.set(item, twins);
    else this.all.delete(item);
    this.version++;
    await this.mirror.tellTwins([[item, twins]]);
    this.changed();
  }
}
