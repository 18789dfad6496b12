import { layOver, trimOverlay, withoutWritten, type Item, type Overlay } from '../items';

/** The item after its edits were written into its original: they are no longer edits. */
export const withWritten = (item: Item, written: Overlay): Item => ({
  ...item,
  edits: trimOverlay(item.file, withoutWritten(item.edits, written)),
});

/** The item after writing was taken back: what had been written is an edit again, below later edits. */
export const withTakenBack = (item: Item, written: Overlay): Item => ({
  ...item,
  edits: trimOverlay(item.file, layOver(written, item.edits)),
});
