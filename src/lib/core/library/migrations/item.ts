import { EMPTY_FIELDS, earlierContent, type EarlierItem, type Item } from '../../items';

/** The forms in which earlier versions kept an item. */
type EarlierKept = Omit<Item, 'file' | 'edits' | 'made'> & EarlierItem;

/** A kept item in the present form. Missing fields have no value. */
export function migrateItem(kept: Item | EarlierKept): Item {
  if (!('fileFields' in kept)) {
    // In place, because the object is not shared and there are very many.
    Object.assign(kept.file, { fields: { ...EMPTY_FIELDS, ...kept.file.fields } });
    return Object.assign(kept, { made: kept.made ?? null, foundBeside: kept.foundBeside ?? null });
  }
  const { fileFields: _, picture: __, chapters: ___, facts, ...rest } = kept;
  const { pictures: ____, chapters: _____, ...ownFacts } = facts;
  const { identity = null, gathering = null, gone = null } = kept;
  return {
    ...rest,
    facts: ownFacts,
    identity,
    gathering,
    gone,
    made: null,
    foundBeside: null,
    ...earlierContent(kept),
  };
}
