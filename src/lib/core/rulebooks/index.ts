export { migrateRulebook } from './migrate';
export {
  besideFor,
  countGaps,
  findPlace,
  missingAsks,
  picturesFor,
  placesAt,
  readRulebook,
  refusalOf,
  roleOf,
  sidecarFor,
  sidecarPath,
} from './rulebook';
export type { FileRole, Playable, Refusal } from './rulebook';
export { GROUP_PARTS, RULEBOOK_VERSION } from './schema';
export type {
  Beside,
  GroupPart,
  PictureRules,
  Place,
  Rulebook,
  SidecarRules,
  SidecarSource,
  Take,
} from './schema';
