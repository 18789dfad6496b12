import type { Item } from './item';
import type { ChosenPicture, PictureId } from './pictures';

/** The picture that stands for an item: chosen by the curator, or the file's own front picture. */
export interface FrontPicture {
  /** Equal for equal pictures. */
  readonly key: string;
  readonly chosen: PictureId | null;
  /** Place among the file's pictures, when not chosen. */
  readonly index: number;
  readonly mime: string;
  /** As it is; beside an album it goes out as JPEG, of about as many. */
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

/** The picture that stands for an item, or null. */
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
