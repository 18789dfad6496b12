export { migrateRulebook } from './migrations/rulebook';
export {
  asksForTopFolders,
  countGaps,
  findPlace,
  listsFor,
  missingAsks,
  picturesFor,
  placesAt,
  readRulebook,
  refusalOf,
  roleOf,
  sidecarFor,
  sidecarPath,
  takesOf,
} from './rulebook';
export { playsOnBy } from './plays-on';
export type { FileRole, Playable, Refusal } from './rulebook';
export type {
  Beside,
  GroupPart,
  ListRules,
  PictureRules,
  Place,
  Rulebook,
  SidecarRules,
  SidecarSource,
  Take,
  TwinCodec,
  VideoContainer,
  VideoWishes,
  PictureCodec,
  TwinWishes,
} from './schema';
export { VIDEO_CONTAINERS, PICTURE_CODECS, RULEBOOK_VERSION, TWIN_CODECS } from './schema';
