/** The sorts of places that runs for a player write to: the device itself, a folder laid out for it, or a ZIP file. */
export const TARGET_TYPES = ['device', 'folder', 'zip'] as const;
export type TargetType = (typeof TARGET_TYPES)[number];

/** What a place can do. Whoever depends on one of these asks for it, and never which sort of place it is. */
export interface TargetAbilities {
  /** What lies there is listed and read before a run and remembered after it, so that both sides can be compared. */
  readonly lists: boolean;
  /** It says by itself what it shows, so that a rehearsal can be held against that. */
  readonly scansItself: boolean;
  /** It tells how many bytes it has; of others the rulebook says what is known. */
  readonly tellsRoom: boolean;
  /** It has as much room as is asked of it. */
  readonly isUnlimited: boolean;
  /** What a run replaces is held there, and returns when that is taken back; else what it made is thrown away. */
  readonly holds: boolean;
  /** The curator chooses where it is. */
  readonly isChosen: boolean;
  /** A run makes a file of it, which is then saved. */
  readonly isSaved: boolean;
  /** It comes and goes, and can be brought up to date by itself when it comes. */
  readonly comesAndGoes: boolean;
}

const NONE: TargetAbilities = {
  lists: false,
  scansItself: false,
  tellsRoom: false,
  isUnlimited: false,
  holds: false,
  isChosen: false,
  isSaved: false,
  comesAndGoes: false,
};

const ABILITIES: Readonly<Record<TargetType, TargetAbilities>> = {
  device: { ...NONE, lists: true, scansItself: true, tellsRoom: true, holds: true, comesAndGoes: true },
  folder: { ...NONE, lists: true, holds: true, isChosen: true },
  zip: { ...NONE, isUnlimited: true, isSaved: true },
};

export const abilitiesOf = ({ type }: { readonly type: TargetType }): TargetAbilities => ABILITIES[type];
