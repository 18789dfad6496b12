/**
 * What a picture shows: the list that ID3v2 (ID3v2.3.0, section 4.15) and FLAC (RFC 9639, section 8.8) share, in the
 * order of its codes, in the words of the standard.
 */
const ROLES = [
  ['other', 'Other'],
  ['icon', "32x32 pixels 'file icon' (PNG only)"],
  ['otherIcon', 'Other file icon'],
  ['front', 'Cover (front)'],
  ['back', 'Cover (back)'],
  ['leaflet', 'Leaflet page'],
  ['medium', 'Media (e.g. label side of CD)'],
  ['leadArtist', 'Lead artist/lead performer/soloist'],
  ['artist', 'Artist/performer'],
  ['conductor', 'Conductor'],
  ['band', 'Band/Orchestra'],
  ['composer', 'Composer'],
  ['lyricist', 'Lyricist/text writer'],
  ['location', 'Recording Location'],
  ['recording', 'During recording'],
  ['performance', 'During performance'],
  ['still', 'Movie/video screen capture'],
  ['fish', 'A bright coloured fish'],
  ['illustration', 'Illustration'],
  ['artistMark', 'Band/artist logotype'],
  ['publisherMark', 'Publisher/Studio logotype'],
] as const;

export type PictureRole = (typeof ROLES)[number][0];
export const PICTURE_ROLES: readonly PictureRole[] = ROLES.map(([role]) => role);

export const codeOfRole = (role: PictureRole): number => PICTURE_ROLES.indexOf(role);
/** The role with this name in the standard. Other names count as `other`. */
export const roleOfWords = (words: string): PictureRole =>
  ROLES.find(([, standard]) => standard === words)?.[0] ?? 'other';

export type PictureId = string & { readonly __brand: 'PictureId' };

/** A picture in a file. `hash` identifies it without keeping it. */
export interface PictureFact {
  readonly role: PictureRole;
  readonly mime: string;
  /** Length in bytes; pixels, null if its bytes do not give them. */
  readonly bytes: number;
  readonly width: number | null;
  readonly height: number | null;
  readonly hash: number;
}

/** A picture chosen by the curator or found with files, kept in the library under its id. Bytes, pixels. */
export interface ChosenPicture {
  readonly id: PictureId;
  readonly mime: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
}
