import type { Item } from './item';
import type { ChosenPicture, PictureId } from './pictures';

/** The picture that represents an item: one chosen by the curator, or the front picture of its file. */
export interface FrontPicture {
  /** Equal for equal pictures. */
  readonly key: string;
  readonly chosen: PictureId | null;
  /** Position among the file's pictures if it was not chosen. */
  readonly index: number;
  readonly mime: string;
  /** Size as it is; beside an album it is written as JPEG of about the same size. */
  readonly bytes: number;
  readonly width: number | null;
  readonly height: number | null;
}

export const chosenAsFront = ({ id, mime, bytes, width, height }: ChosenPicture): FrontPicture => ({
  key: `chosen:${id}`,
  chosen: id,
  index: 0,
  mime,
  bytes,
  width,
  height,
});

/** The picture that represents an item, or null. */
export function frontPicture(item: Item): FrontPicture | null {
  const own = item.edits.pictures?.front;
  if (own) return chosenAsFront(own);
  const { pictures } = item.file;
  const index = Math.max(
    0,
    pictures.findIndex(({ role }) => role === 'front'),
  );
  const front = pictures[index];
  if (!front) return null;
  return {
    key: `own:${front.hash}:${front.bytes}`,
    chosen: null,
    index,
    mime: front.mime,
    bytes: front.bytes,
    width: front.width,
    height: front.height,
  };
}
