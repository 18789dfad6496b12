export { KINDS, KIND_FACTS, ORIGINS } from './kind';
export { genresOf } from './genres';
export type { Certainty, Evidence, Guess, Kind, KindFacts, Origin } from './kind';
export { Neighbourhood, kindOfFolder } from './surroundings';
export type { FolderKind } from './surroundings';
