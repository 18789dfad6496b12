import type { PartName } from '../saying';
import { CHAPTERS_PART } from './chapters-part';
import { FIELDS_PART } from './fields-part';
import type { Part } from './part';
import { PICTURES_PART } from './pictures-part';
import { TIMED_PART } from './timed-part';
import { TRACKS_PART } from './tracks-part';

/** Every part of content. A new part is a row here and in the other tables that this type requires. */
export const PARTS: { readonly [P in PartName]: Part<P> } = {
  fields: FIELDS_PART,
  pictures: PICTURES_PART,
  chapters: CHAPTERS_PART,
  timed: TIMED_PART,
  tracks: TRACKS_PART,
};

export const PART_NAMES = Object.keys(PARTS) as readonly PartName[];

export type { Part, ReadBack } from './part';
export { chaptersOf } from './chapters-part';
export { editsOf, fieldOf, fieldsOf } from './fields-part';
export { timedOf } from './timed-part';
export { allTracksOf, tracksOf } from './tracks-part';
