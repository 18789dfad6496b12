export { KINDS, KIND_FACTS } from './kind';
export type { Certainty, Evidence, Guess, Kind, KindFacts } from './kind';
export { guessKind } from './guess';
export type { KindInput } from './guess';
export { artistKey } from './weights';
