export { findEditions, soundsAlike } from './editions';
export type { Editions, Version } from './editions';
