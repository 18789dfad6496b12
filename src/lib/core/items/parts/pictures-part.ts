import type { ChosenPicture, PictureId, PictureRole } from '../pictures';
import type { PartEdits, Saying } from '../saying';
import { without } from './less';
import type { Part } from './part';

type Chosen = PartEdits['pictures'];

const rolesOf = (pictures: Chosen) => Object.keys(pictures) as PictureRole[];
/** Null for pictures that are removed, undefined for those that stay as they are. */
const idOf = (pictures: Chosen, role: PictureRole): PictureId | null | undefined =>
  pictures[role] === null ? null : pictures[role]?.id;
const chosenOf = ({ edits }: Saying): Chosen => edits.pictures ?? {};

export const PICTURES_PART: Part<'pictures'> = {
  label: 'pictures',
  // The content of a picture in the file is not compared with a chosen one.
  trim: (file, pictures) => {
    const isIdle = (role: PictureRole) =>
      pictures[role] === null && !file.pictures.some((own) => own.role === role);
    return without(pictures, rolesOf(pictures).filter(isIdle));
  },
  same: (a, b) =>
    rolesOf(a).length === rolesOf(b).length && rolesOf(a).every((role) => idOf(a, role) === idOf(b, role)),
  lay: (under, over) => ({ ...under, ...over }),
  less: without,
  key: (pictures) => Object.fromEntries(rolesOf(pictures).map((role) => [role, idOf(pictures, role)])),
  // The library does not keep the pictures of files.
  inFile: () => undefined,
  unsaid: (_, pictures) => pictures,
  isSaid: () => true,
  written: (pictures, written) =>
    without(
      pictures,
      rolesOf(written).filter((role) => idOf(pictures, role) === idOf(written, role)),
    ),
  carry: (current, before, after) => {
    const [was, is] = [chosenOf(before), chosenOf(after)];
    const pictures: { -readonly [R in PictureRole]?: ChosenPicture | null } = { ...chosenOf(current) };
    for (const role of rolesOf({ ...was, ...is })) {
      if (idOf(was, role) === idOf(is, role)) continue;
      const picture = is[role];
      if (picture === undefined) delete pictures[role];
      else pictures[role] = picture;
    }
    return pictures;
  },
  chosen: (pictures) => Object.values(pictures).filter((picture) => picture !== null),
};
