export { TWIN_CODECS, codecFacts } from './codecs';
export type { CodecFacts, TwinCodec } from './codecs';
export { bytesMade, recipeKey } from './recipe';
export type { SoundRecipe, TwinSource } from './recipe';
export { rateFor, recipeForPlayer } from './for-player';
export type { Unmakeable } from './for-player';
export { findTwin, isFresh, twinKey } from './twin';
export type { Twin, TwinId } from './twin';
