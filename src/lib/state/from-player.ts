import { editItem, type Item, type ItemId, type SourceId } from '$lib/core/items';
import { extensionOf, nameOf, withoutExtension } from '$lib/core/paths';
import { copySignature, toPlanItem, type Coming, type PlacedFile, type ThereFile } from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import type { Journal, Store } from '$lib/core/run';
import { outgoingOf } from '$lib/formats';
import { digestOf } from '$lib/io/digest';
import { blobSource } from '$lib/io/blob-source';
import { blobOf } from '$lib/io/stores/blob-of';
import type { Given, LostFile, WalkedFile } from '$lib/io/take-in/walk';
import type { Intake } from './intake.svelte';
import type { Library } from './library.svelte';

/** It lies where the player has it, and another hand put it there. */
const TAKEN = { kept: true, taken: true } as const;

export type Took = NonNullable<Journal['took']>;

/** A player as what comes from it is noted: its name and its rulebook. */
export interface Giver {
  readonly name: string;
  readonly rulebook: Rulebook;
}

/** A file on its way, where it lies on the player, and under which name it comes in. */
interface OnItsWay {
  readonly file: ThereFile;
  readonly path: string;
}

/** Takes what was done on a player into the library: what its files say, and files that others put there. */
export class FromPlayer {
  constructor(
    private readonly library: Library,
    private readonly intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
  ) {}

  /** @param known what both sides agreed on before */
  async take(
    player: Giver,
    { edits, files }: Coming,
    store: Store<Blob>,
    known: readonly PlacedFile[],
  ): Promise<Took> {
    const edited = this.edit(player.name, edits);
    const placed = files.length > 0 ? await this.takeFiles(player, files, store, known) : [];
    return { edits: edited, placed };
  }

  /** Takes it out of the library again, as one act. What was changed since stays, and is counted. */
  giveBack(player: string, { edits, placed }: Took): number {
    const { library } = this;
    const before = new Map(edits.map((one) => [one.item, one]));
    const taken = new Set(placed.map(({ item }) => item));
    let changed = 0;
    const items = library.findAll([...before.keys(), ...placed.flatMap(({ item }) => item ?? [])]);
    library.act(`Take the run to ${player} back`, items, (item) => {
      if (taken.has(item.id)) return null;
      const own = before.get(item.id);
      const isSame = own && JSON.stringify(item.edits) === JSON.stringify(own.after);
      if (isSame) return { ...item, edits: own.before };
      changed++;
      return item;
    });
    return changed;
  }

  private edit(player: string, edits: Coming['edits']): Took['edits'] {
    const { library } = this;
    if (edits.length === 0) return [];
    const own = new Map(edits.map((one) => [one.item, one.edits]));
    const items = library.findAll(own.keys());
    const before = new Map(items.map((item) => [item.id, item.edits]));
    library.act(`Take what ${player} says of ${items.length}`, items, (item) =>
      editItem(item, own.get(item.id) ?? {}),
    );
    return library.findAll(before.keys()).map(({ id, edits: after }) => ({
      item: id,
      before: before.get(id) ?? {},
      after,
    }));
  }

  private async takeFiles(
    { name, rulebook }: Giver,
    files: readonly ThereFile[],
    store: Store<Blob>,
    known: readonly PlacedFile[],
  ): Promise<readonly PlacedFile[]> {
    const source = await this.intake().sourceOf({ handle: null, label: name });
    const agreed = new Set(known.map(({ item }) => item));
    const own = this.itemsOf(source);
    const coming = files.map((file) => ({ file, path: freeName(file, own, agreed) }));
    const digests = new Map<string, string>();
    await this.intake().takeIn([given(name, coming, store, digests)]);
    const taken = this.itemsOf(source);
    return coming.flatMap(({ file, path }) => {
      const item = taken.get(path);
      const digest = digests.get(path);
      // One that did not come whole is offered again.
      if (!item || digest === undefined) return [];
      const signature = copySignature(toPlanItem(item, outgoingOf), rulebook);
      return [{ path: file.path, item: item.id, signature, size: file.size, digest, ...TAKEN }];
    });
  }

  private itemsOf(source: SourceId): ReadonlyMap<string, Item> {
    return new Map(
      this.library.items.flatMap((item) => (item.source === source ? [[item.path, item] as const] : [])),
    );
  }
}

/** The name of a file there, or one like it where the library has another item of that name from this player. */
function freeName(
  { path }: ThereFile,
  own: ReadonlyMap<string, Item>,
  agreed: ReadonlySet<ItemId | null>,
): string {
  let free = path;
  for (let number = 2, item = own.get(free); item && agreed.has(item.id); item = own.get(free))
    free = `${withoutExtension(path)} (${number++}).${extensionOf(path)}`;
  return free;
}

const given = (
  label: string,
  coming: readonly OnItsWay[],
  store: Store<Blob>,
  digests: Map<string, string>,
): Given => ({
  label,
  handle: null,
  origin: 'player',
  total: coming.length,
  files: fetchAll(coming, store, digests),
});

async function* fetchAll(
  coming: readonly OnItsWay[],
  store: Store<Blob>,
  digests: Map<string, string>,
): AsyncGenerator<WalkedFile | LostFile> {
  for (const { file, path } of coming) {
    try {
      const blob = await blobOf(await store.read(file.path));
      const digest = await digestOf(blobSource(blob));
      if (blob.size !== file.size || (file.digest !== null && file.digest !== digest)) {
        yield { path, lost: { code: 'digestDiffers', detail: file.path } };
        continue;
      }
      digests.set(path, digest);
      // A player tells no dates: the same file again is known by its size and name.
      const whole = new File([blob], nameOf(path), { lastModified: 0 });
      yield { path, size: whole.size, modified: 0, file: whole };
    } catch (error) {
      yield {
        path,
        lost: { code: 'brokenOff', detail: error instanceof Error ? error.message : String(error) },
      };
    }
  }
}
