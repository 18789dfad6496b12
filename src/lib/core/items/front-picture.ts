import { editContent } from './content';
import type { Item } from './item';
import type { ChosenPicture, PictureFact, PictureId, PictureRole } from './pictures';
import type { Saying } from './saying';

/** A picture of an item, such as the one that represents it: one chosen by the curator, or one in its file. */
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
  const index = ownFrontIndex(item);
  return index === null ? null : ownAt(pictures, index);
}

/** The picture of an item's maker, or null. */
export function makerPicture(item: Item): FrontPicture | null {
  const chosen = item.edits.pictures?.artist;
  if (chosen !== undefined) return chosen && chosenAsFront(chosen);
  const { pictures } = item.file;
  const index = pictures.findIndex(({ role }) => role === 'artist');
  return index < 0 ? null : ownAt(pictures, index);
}

function ownAt(pictures: readonly PictureFact[], index: number): FrontPicture | null {
  const own = pictures[index];
  if (!own) return null;
  const { hash, mime, bytes, width, height } = own;
  return { key: `own:${hash}:${bytes}`, chosen: null, index, mime, bytes, width, height };
}

/** The position of the picture in its file that represents an item: the front one, or the first that is not removed. */
function ownFrontIndex({ file: { pictures }, edits }: Saying): number | null {
  const stays = (role: PictureRole) => edits.pictures?.[role] !== null;
  const front = pictures.findIndex(({ role }) => role === 'front' && stays(role));
  const index = front < 0 ? pictures.findIndex(({ role }) => stays(role)) : front;
  return index < 0 ? null : index;
}

/** The item without the picture that represents it. Pictures of other roles in its file stay, and may come in its place. */
export function withoutFront(item: Item): Item {
  const index = ownFrontIndex(item);
  const role = item.edits.pictures?.front ? 'front' : index !== null && item.file.pictures[index]?.role;
  return role ? editContent(item, { pictures: { [role]: null } }) : item;
}

/** The roles whose edits decide which picture represents an item: a chosen front, and all that were removed. */
export const editedFrontRoles = ({ edits: { pictures = {} } }: Item): readonly PictureRole[] =>
  (Object.keys(pictures) as PictureRole[]).filter((role) => role === 'front' || pictures[role] === null);
