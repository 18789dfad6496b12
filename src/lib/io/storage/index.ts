export { LookingOnError } from './databases';
export { HEAD_PARTS } from './head-records';
export type { HeadPart } from './head-records';
export { CHUNK_ITEMS, FIRST_CHUNKS, SAID_ITEMS } from './item-records';
export { LibraryStorage, isLarge } from './library-storage';
export type {
  FirstOfLibrary,
  KeptLevels,
  KeptLibrary,
  KeptMaking,
  KeptRehearsal,
  TargetSnapshot,
} from './library-storage';
export { totalsOfOutcomes } from './originals-history';
export type { OriginalsRun, OriginalsWork } from './originals-history';
