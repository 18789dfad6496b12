import type { Item, ItemId } from '$lib/core/items';
import { isFresh, recipeKey, type TwinRecipe, type Twin } from '$lib/core/twins';
import { dropTwinFile, listTwinFiles } from '$lib/io/twin-files';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';

const NONE: readonly Twin[] = [];

/** The twins of a library: what is noted of them, and their files. */
export class TwinShelf {
  private all = new Map<ItemId, readonly Twin[]>();
  /** Rises with each change. */
  version = $state(0);

  constructor(
    private readonly library: Library,
    private readonly mirror: LibraryMirror,
    private readonly changed: () => void,
  ) {}

  /** Reads what is noted. A twin whose file is gone is as good as none; a file that nothing is noted of was never finished. */
  async open(): Promise<void> {
    const { storage, mayWrite } = this.library;
    const noted = await storage.twins.all();
    this.all = new Map(noted);
    this.version++;
    const files = await listTwinFiles(storage.library);
    const known = new Set([...noted.values()].flat().map(({ id }) => id));
    if (mayWrite) for (const id of files.keys()) if (!known.has(id)) await dropTwinFile(storage.library, id);
    for (const [item, twins] of noted) {
      const there = twins.filter(({ id, size }) => files.get(id) === size);
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

  of(item: ItemId): readonly Twin[] {
    void this.version;
    return this.all.get(item) ?? NONE;
  }

  /** Whether there is a twin of an item's file as it is, made by a recipe. */
  has(item: Item, recipe: TwinRecipe): boolean {
    const key = recipeKey(recipe);
    return this.of(item.id).some((twin) => isFresh(twin, item) && recipeKey(twin.recipe) === key);
  }

  /** Notes a twin that was made. Of several by one recipe, the last one made stands. */
  async keep(twin: Twin): Promise<void> {
    const before = this.all.get(twin.item) ?? NONE;
    const key = recipeKey(twin.recipe);
    const isReplaced = (one: Twin) => recipeKey(one.recipe) === key;
    await this.put(twin.item, [...before.filter((one) => !isReplaced(one)), twin]);
    for (const one of before) if (isReplaced(one)) await dropTwinFile(this.library.storage.library, one.id);
  }

  /** Twins that nobody needs any more: their items are gone, or their files others by now. */
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
    for (const id of gone) await dropTwinFile(this.library.storage.library, id);
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
