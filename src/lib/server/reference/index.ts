export { drawCover } from './picture';
export { lyricsOf } from './lyrics';
export { FLOOD, MANNERS, SLOW_MS, currentManner, setManner } from './manner';
export type { Manner } from './manner';
export { findRelease, searchReference } from './search';
export type { ReferenceAnswer } from './search';
