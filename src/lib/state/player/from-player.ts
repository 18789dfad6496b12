import { editItem, type Item, type ItemId, type Overlay, type SourceId } from '$lib/core/items';
import { withEntries, type PlayList } from '$lib/core/lists';
import { extensionOf, nameOf, withoutExtension } from '$lib/core/paths';
import {
  itemOf,
  ofItem,
  copySignature,
  toPlanItem,
  type Incoming,
  type ListChange,
  type PlacedFile,
  type ThereFile,
} from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import type { ComingFile, Store, Took } from '$lib/core/run';
import { outgoingOf } from '$lib/formats';
import { digestOf } from '$lib/io/digest';
import { blobSource } from '$lib/io/blob-source';
import { blobOf } from '$lib/io/stores/blob-of';
import type { Given, LostFile, WalkedFile } from '$lib/io/take-in/walk';
import type { Intake } from '../intake.svelte';
import type { Library } from '../library.svelte';

/** It stays where the player has it, and was added there. */
const TAKEN = { kept: true, taken: true } as const;

/** The player as recorded with what comes from it: its name and its rulebook. */
export interface Giver {
  readonly name: string;
  readonly rulebook: Rulebook;
}

/**
 * Takes changes from a player into the library: edited tags, added files, and lists. They are planned and recorded
 * before anything is done, so that an interruption can be continued or taken back.
 */
export class FromPlayer {
  constructor(
    private readonly library: Library,
    private readonly intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
  ) {}

  /** Plans the changes without making them. @param known what both sides agreed on before */
  async plan(
    { name }: Giver,
    { edits, files, lists }: Incoming,
    known: readonly PlacedFile[],
  ): Promise<Took> {
    const own = new Map(edits.map((one) => [one.item, one.edits]));
    return {
      edits: this.library.findAll(own.keys()).map((item) => ({
        item: item.id,
        before: item.edits,
        after: editItem(item, own.get(item.id) ?? {}).edits,
      })),
      files: files.length > 0 ? await this.named(name, files, known) : [],
      placed: [],
      lists: lists.flatMap((change) => {
        const before = this.library.lists.find(({ id }) => id === change.list);
        const { left, now } = change;
        return before ? { before, after: changed(before, change), left, now } : [];
      }),
    };
  }

  /** Does it, or the rest of it. @returns it with the items that were made */
  async take(player: Giver, took: Took, store: Store<Blob>): Promise<Took> {
    this.say(`Changes from ${player.name}, ${took.edits.length}`, took.edits);
    for (const { before, after } of took.lists)
      if (this.isStill(before)) this.library.keepList(after, `Changes to ${before.name} from ${player.name}`);
    const placed = took.files.length > 0 ? await this.takeFiles(player, took.files, store) : [];
    return { ...took, placed };
  }

  /**
   * Takes the changes back, as one act, however far they came. Later changes stay.
   * @returns how many were undone
   */
  async giveBack(player: string, { edits, files, placed, lists }: Took): Promise<number> {
    const { library } = this;
    const taken = new Set(placed.map(({ owner }) => itemOf(owner)));
    if (files.length > 0) {
      const own = this.itemsOf(await this.sourceOf(player));
      for (const { path, isKnown } of files) if (!isKnown) taken.add(own.get(path)?.id ?? null);
    }
    const before = new Map(edits.map((one) => [one.item, one]));
    let changed = 0;
    const items = library.findAll([...before.keys(), ...[...taken].flatMap((item) => item ?? [])]);
    library.act(`Take back the run to ${player}`, items, (item) => {
      if (taken.has(item.id)) return null;
      const own = before.get(item.id);
      if (own && isSame(item.edits, own.after)) return { ...item, edits: own.before };
      // It was not taken over yet, or is given back already.
      if (!own || !isSame(item.edits, own.before)) changed++;
      return item;
    });
    for (const { before, after } of lists)
      if (this.isStill(after)) this.library.keepList(before, `Take ${before.name} from ${player} back`);
      // It was not taken over yet, or is given back already.
      else if (!this.isStill(before)) changed++;
    return changed;
  }

  /** Whether a list is unchanged in the library. */
  private isStill(list: PlayList): boolean {
    const now = this.library.lists.find(({ id }) => id === list.id);
    return now !== undefined && JSON.stringify(now) === JSON.stringify(list);
  }

  /** Items that were edited since planning keep their values. */
  private say(label: string, edits: Took['edits']): void {
    const own = new Map(edits.map((one) => [one.item, one]));
    const open = this.library.findAll(own.keys()).filter(({ id, edits: now }) => {
      const one = own.get(id);
      return one !== undefined && isSame(now, one.before);
    });
    if (open.length === 0) return;
    this.library.act(label, open, (item) => ({ ...item, edits: own.get(item.id)?.after ?? item.edits }));
  }

  private async named(
    player: string,
    files: readonly ThereFile[],
    known: readonly PlacedFile[],
  ): Promise<readonly ComingFile[]> {
    const own = this.itemsOf(await this.sourceOf(player));
    const agreed = new Set(known.map(({ owner }) => itemOf(owner)));
    return files.map((file) => {
      const path = freeName(file, own, agreed);
      return { file, path, isKnown: own.has(path) };
    });
  }

  private async takeFiles(
    { name, rulebook }: Giver,
    coming: readonly ComingFile[],
    store: Store<Blob>,
  ): Promise<readonly PlacedFile[]> {
    const digests = new Map<string, string>();
    await this.intake().takeIn([given(name, coming, store, digests)]);
    const taken = this.itemsOf(await this.sourceOf(name));
    return coming.flatMap(({ file, path }) => {
      const item = taken.get(path);
      const digest = digests.get(path);
      // One that did not come whole is offered again.
      if (!item || digest === undefined) return [];
      const signature = copySignature(toPlanItem(item, outgoingOf), rulebook);
      return [{ path: file.path, owner: ofItem(item.id), signature, size: file.size, digest, ...TAKEN }];
    });
  }

  private sourceOf(label: string): Promise<SourceId> {
    return this.intake().sourceOf({ handle: null, label });
  }

  private itemsOf(source: SourceId): ReadonlyMap<string, Item> {
    return new Map(
      this.library.items.flatMap((item) => (item.source === source ? [[item.path, item] as const] : [])),
    );
  }
}

/** A list with the changes from a player. */
function changed(list: PlayList, change: ListChange): PlayList {
  if (change.type === 'entries' && list.type === 'hand') return withEntries(list, change.entries);
  if (change.type === 'drop' && list.type === 'rule')
    return { ...list, dropped: [...new Set([...list.dropped, ...change.items])] };
  return list;
}

const isSame = (a: Overlay, b: Overlay) => JSON.stringify(a) === JSON.stringify(b);

/** The name of a file there, or a similar one if the library has another item of that name from this player. */
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
  coming: readonly ComingFile[],
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
  coming: readonly ComingFile[],
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
      // A player reports no dates: the same file is recognised by its size and name.
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
