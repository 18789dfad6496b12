import { editItem, type Item } from '$lib/core/items';
import { newHandList, newRuleList, type ListId } from '$lib/core/lists';
import { targetId, type PlayerId } from '$lib/core/library';
import { ofItem, copySignature, toPlanItem, type PlacedFile } from '$lib/core/plan';
import { outgoingOf } from '$lib/formats';
import { digestOf } from '$lib/io/digest';
import { blobSource } from '$lib/io/blob-source';
import { DeviceStore } from '$lib/io/stores/device-store';
import { rulebookOf } from '$lib/rulebooks';
import type { Library } from '../library.svelte';
import household from './household.json';

/*
 * The household of Skerry House as it stands when the demo begins: what an earlier sync left on one of its players,
 * where hands have been at work since, and what was described here in the meantime. Without a player that holds any
 * of it, as in an empty house, nothing is made up.
 */

const PLAYER = household.player as PlayerId;

/** Notes in the demo's library what the earlier sync left, once its files were taken in. */
export async function settleHousehold(
  library: Library,
  openFile: (item: Item) => Promise<Blob>,
): Promise<void> {
  const listed = await new DeviceStore(household.player).list().catch(() => []);
  const there = new Set(listed.map(({ path }) => path));
  if (!household.left.some(({ path }) => there.has(path))) return;
  const byPath = new Map(library.items.map((item) => [item.path, item]));
  const rulebook = rulebookOf(library.playerOf(PLAYER, PLAYER));
  const placed: PlacedFile[] = [];
  for (const { from, path, now } of household.left) {
    const item = byPath.get(from);
    if (!item) continue;
    const signature = copySignature(toPlanItem(item, outgoingOf), rulebook);
    // A file that was removed there has no bytes to compute a digest from.
    const digest = now === 'removed' ? null : await digestOf(blobSource(await openFile(item)));
    placed.push({ path, owner: ofItem(item.id), signature, size: item.size, digest });
  }
  library.setBase(targetId(PLAYER, 'device'), placed);
  const { album, genre } = household.edits;
  const described = library.items.filter(({ file }) => file.fields.album === album);
  library.put(
    described.map((item) => ({ id: item.id, before: item, after: editItem(item, { genre }) })),
  );
  library.setLists([...library.lists, ...listsFor(byPath)]);
}

/** A list of each type that is not tied to a folder. */
function listsFor(byPath: ReadonlyMap<string, Item>) {
  const { hand, rule } = household.lists;
  const suites = hand.suites.map(({ name, from }) => ({
    name,
    entries: from.flatMap((path) => {
      const item = byPath.get(path);
      return item ? [{ item: item.id }] : [];
    }),
  }));
  return [
    { ...newHandList('for-the-ferry' as ListId, hand.name), note: hand.note, suites },
    {
      ...newRuleList('new-for-pocket' as ListId, rule.name),
      query: rule.query,
      order: { type: 'terms', terms: [{ by: 'artist', down: false }] },
      limit: { by: 'seconds', most: rule.minutes * 60 },
    } as const,
  ];
}
