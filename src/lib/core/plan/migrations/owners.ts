import type { Fields, FormatId, ItemId, Overlay } from '../../items';
import type { Kind } from '../../kinds';
import { AS_IS, type Recipe } from '../outgoing/recipe';
import { ofItem, type Owner } from '../owner';
import type { Step } from '../step';
import type { PlacedFile } from '../there/files';

/*
 * Up to version 11 of a library, and up to version 5 of a journal, every file on a player was noted under one item, and a
 * copy said side by side what its recipe says now. Records are told by what they hold: a journal that goes on keeps the
 * steps that it began with.
 */

interface UnderItem {
  readonly item: ItemId | null;
}

const ownerOf = (item: ItemId | null): Owner | null => (item === null ? null : ofItem(item));

/** A recorded file in the present form. */
export function ownedFile(file: PlacedFile | (Omit<PlacedFile, 'owner'> & UnderItem)): PlacedFile {
  if (!('item' in file)) return file;
  const { item, ...rest } = file;
  return { ...rest, owner: ownerOf(item) };
}

type EarlierCopy = {
  readonly format: FormatId;
  readonly changes: Overlay | null;
  readonly expect: Fields | null;
  readonly kind?: Kind;
  readonly id3?: 3;
} & UnderItem;

/** A planned step in the present form. */
export function ownedStep(step: Step): Step {
  if (step.type === 'agree') return step.record ? { ...step, record: ownedFile(step.record) } : step;
  if (!('item' in step)) return step;
  const { item, ...rest } = step as unknown as UnderItem & Step;
  const owned = { ...rest, owner: ownerOf(item) };
  if (rest.type !== 'copy') return owned as Step;
  const { format, changes, expect, kind = null, id3 = null, ...copy } = owned as typeof owned & EarlierCopy;
  const recipe: Recipe = changes && expect ? { type: 'retag', format, changes, expect, kind, id3 } : AS_IS;
  return { ...copy, recipe } as Step;
}
