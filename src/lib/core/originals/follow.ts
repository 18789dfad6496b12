import { layOver, trimOverlay, withoutWritten, type Item, type Overlay } from '../items';

/** An item whose original says by now what was written into it: nothing of that is said over it any more. */
export const withWritten = (item: Item, written: Overlay): Item => ({
  ...item,
  edits: trimOverlay(item.file, withoutWritten(item.edits, written)),
});

/** An item whose original is again what it was before: what had been written is said over it, below what was said since. */
export const withTakenBack = (item: Item, written: Overlay): Item => ({
  ...item,
  edits: trimOverlay(item.file, layOver(written, item.edits)),
});
