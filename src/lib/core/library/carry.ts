import {
  chaptersOf,
  editContent,
  fieldOf,
  sameChapters,
  sameTimed,
  sameTracks,
  sameValue,
  timedOf,
  tracksOf,
  type Edits,
  type FieldName,
  type Item,
  type Overlay,
  type PictureRole,
} from '../items';
import type { Change } from './history';
import { sameOriginal } from './kept-item';

/**
 * A change of what is said of an item, for the item as its file is now: it may have been read again since, or written.
 * What the change touched says then what it said; all else stays.
 */
export function carryOver(change: Change, current: Item | null): Change {
  const { id, before, after } = change;
  if (!current || !before || !after || current === before) return change;
  if (!sameOriginal(before, after) || sameOriginal(current, after)) return change;
  const { settled, gone, identity, gathering } = after;
  const said = editContent(
    { ...current, edits: withPictures(before, after, current) },
    touched(before, after),
  );
  return { id, before: current, after: { ...said, settled, gone, identity, gathering } };
}

function touched(before: Item, after: Item): Overlay {
  const names = Object.keys({ ...before.edits.fields, ...after.edits.fields }) as FieldName[];
  const fields: Edits = Object.fromEntries(
    names
      .filter((name) => !sameValue(fieldOf(before, name), fieldOf(after, name)))
      .map((name) => [name, fieldOf(after, name)]),
  );
  const chapters = chaptersOf(after);
  const timed = timedOf(after);
  return {
    fields,
    ...(!sameChapters(chaptersOf(before), chapters) && { chapters }),
    ...(!sameTimed(timedOf(before), timed) && { timed }),
    ...(!sameTracks(before.edits.tracks ?? [], after.edits.tracks ?? []) && {
      tracks: tracksOf(after).map(({ id, language, name }) => ({ id, language, name })),
    }),
  };
}

function withPictures(before: Item, after: Item, { edits }: Item): Overlay {
  const [was, is] = [before.edits.pictures ?? {}, after.edits.pictures ?? {}];
  const roles = Object.keys({ ...was, ...is }) as PictureRole[];
  const changed = roles.filter((role) => was[role]?.id !== is[role]?.id);
  const pictures = { ...edits.pictures };
  for (const role of changed) {
    const picture = is[role];
    if (picture) pictures[role] = picture;
    else delete pictures[role];
  }
  return { ...edits, pictures };
}
