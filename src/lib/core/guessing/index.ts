export { NO_SURROUNDINGS, guessKind } from './guess';
export type { KindInput, Surroundings } from './guess';
export { artistKey } from './weights';
