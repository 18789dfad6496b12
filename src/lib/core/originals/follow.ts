import {
  layOver,
  sameChapters,
  sameTimed,
  sameTracks,
  trimOverlay,
  withoutParts,
  type Item,
  type Overlay,
  type PictureRole,
} from '../items';

/** An item whose original says by now what was written into it: nothing of that is said over it any more. */
export function withWritten(item: Item, written: Overlay): Item {
  const { pictures, chapters, timed, tracks } = item.edits;
  const roles = Object.keys(written.pictures ?? {}) as PictureRole[];
  const rest = withoutParts(item.edits, {
    pictures: roles.filter((role) => pictures?.[role]?.id === written.pictures?.[role]?.id),
    // Formats round times: what was written is told by what was said, not by what is read.
    chapters: !!chapters && !!written.chapters && sameChapters(chapters, written.chapters),
    timed: !!timed && !!written.timed && sameTimed(timed, written.timed),
    tracks: !!tracks && !!written.tracks && sameTracks(tracks, written.tracks),
  });
  return { ...item, edits: trimOverlay(item.file, rest) };
}

/** An item whose original is again what it was before: what had been written is said over it, below what was said since. */
export const withTakenBack = (item: Item, written: Overlay): Item => ({
  ...item,
  edits: trimOverlay(item.file, layOver(written, item.edits)),
});
