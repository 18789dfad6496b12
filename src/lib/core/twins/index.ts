export { codecFacts } from './codecs';
export type { CodecFacts } from './codecs';
export { bytesMade, effortOf, fileOf, isVideo, madeTo, recipeKey } from './recipe';
export type { PictureRecipe, SoundRecipe, TwinRecipe, TwinSource, VideoRecipe } from './recipe';
export { pictureCodecName } from './video-codecs';
export { recipeForPlayer } from './for-player';
export type { Unmakeable } from './unmakeable';
export { losesSubtitles, tracksOnTwin } from './twin-tracks';
export { isFresh, twinKey } from './twin';
export type { Twin, TwinId } from './twin';
export {
  codecsFor,
  inPlayingOrder,
  isMadeFresh,
  joinedChapters,
  joinedFields,
  recipeFromItems,
  splitAtChapters,
} from './assembly';
export type { SplitPart } from './assembly';
export { SoundMeter, faultOf, pictureFaultOf } from './check';
export type { HeardSound, TwinFault } from './check';
export { countPlayability, toMakeOf, playabilityOf } from './playability';
export type { ToMake, Playability, PlayabilityCounts, WantedTwin } from './playability';
export type { AnyWishes, NamedRecipe, RecipeId } from './named-recipe';
export {
  isVideoWishes,
  picturesIn,
  plainVideoWishes,
  plainWishes,
  readWishes,
  triedVideo,
  triedRecipes,
  withRecipe,
} from './named-recipe';
export { HAND_PATTERNS, handRulebook } from './by-hand';
