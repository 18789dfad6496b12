import { EMPTY_FIELDS, earlierContent, type EarlierItem, type Item } from '../../items';

/** What earlier versions kept of an item: all of it or some of what it has now. */
type EarlierKept = Omit<Item, 'file' | 'edits' | 'made'> & EarlierItem;

/** An item as it was kept, in this version or an earlier one: what its record leaves out says nothing. */
export function migrateItem(kept: Item | EarlierKept): Item {
  if (!('fileFields' in kept)) {
    // In place: what was kept was made for nobody else, and there are very many of them.
    Object.assign(kept.file, { fields: { ...EMPTY_FIELDS, ...kept.file.fields } });
    return Object.assign(kept, { made: kept.made ?? null });
  }
  const { fileFields: _, picture: __, chapters: ___, facts, ...rest } = kept;
  const { pictures: ____, chapters: _____, ...ownFacts } = facts;
  const { identity = null, gathering = null, gone = null } = kept;
  return { ...rest, facts: ownFacts, identity, gathering, gone, made: null, ...earlierContent(kept) };
}
