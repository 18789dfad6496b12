/** The types of places that runs write to: the device itself, a folder, or a ZIP file. */
export const TARGET_TYPES = ['device', 'folder', 'zip'] as const;
export type TargetType = (typeof TARGET_TYPES)[number];

/** The abilities of a place. Code that depends on one of them asks for it, never for the type of place. */
export interface TargetAbilities {
  /** Its files can be listed and read before a run and are recorded after it, so that both sides can be compared. */
  readonly lists: boolean;
  /** It reports what it shows, so that a rehearsal can be compared with that. */
  readonly scansItself: boolean;
  /** It reports its free space; for others the rulebook has the limit, if known. */
  readonly tellsRoom: boolean;
  /** It has unlimited space. */
  readonly isUnlimited: boolean;
  /**
   * Files that a run replaces are held there and return when the run is taken back; otherwise the result is deleted.
   */
  readonly holds: boolean;
  /** The curator chooses its location. */
  readonly isChosen: boolean;
  /** A run makes a file, which is then saved. */
  readonly isSaved: boolean;
  /** It can be disconnected, and can be brought up to date when it is connected. */
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
