import type { ChosenPicture, PictureRole } from '../pictures';
import type { PartEdits, Saying } from '../saying';
import { without } from './less';
import type { Part } from './part';

type Chosen = PartEdits['pictures'];

const rolesOf = (pictures: Chosen) => Object.keys(pictures) as PictureRole[];
const chosenOf = ({ edits }: Saying): Chosen => edits.pictures ?? {};

export const PICTURES_PART: Part<'pictures'> = {
  label: 'pictures',
  // The content of a picture in the file is not compared with a chosen one.
  trim: (_, pictures) => (rolesOf(pictures).length > 0 ? pictures : undefined),
  same: (a, b) =>
    rolesOf(a).length === rolesOf(b).length && rolesOf(a).every((role) => a[role]?.id === b[role]?.id),
  lay: (under, over) => ({ ...under, ...over }),
  less: without,
  key: (pictures) => Object.fromEntries(rolesOf(pictures).map((role) => [role, pictures[role]?.id])),
  // The library does not keep the pictures of files.
  inFile: () => undefined,
  unsaid: (_, pictures) => pictures,
  isSaid: () => true,
  written: (pictures, written) =>
    without(
      pictures,
      rolesOf(written).filter((role) => pictures[role]?.id === written[role]?.id),
    ),
  carry: (current, before, after) => {
    const [was, is] = [chosenOf(before), chosenOf(after)];
    const pictures: { -readonly [R in PictureRole]?: ChosenPicture } = { ...chosenOf(current) };
    for (const role of rolesOf({ ...was, ...is })) {
      const picture = is[role];
      if (was[role]?.id === picture?.id) continue;
      if (picture) pictures[role] = picture;
      else delete pictures[role];
    }
    return pictures;
  },
  chosen: (pictures) => Object.values(pictures),
};
