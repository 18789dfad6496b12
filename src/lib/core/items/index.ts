export {
  EMPTY_FIELDS,
  FIELDS,
  FIELD_NAMES,
  cleanFields,
  cleanText,
  dateIn,
  parseFieldText,
  preciserDate,
  requireField,
  yearDate,
  yearOf,
} from './fields';
export type { Edits, FieldFacts, FieldName, Fields, ParsedValue } from './fields';
export {
  DATE,
  decibelsIn,
  fieldText,
  isNumeric,
  joinTexts,
  languageTag,
  sameInTags,
  sameValue,
  toTexts,
  valueKey,
} from './field-types';
export type { FieldType, FieldValue } from './field-types';
export { ignoringFound, inForce, usingFound, withFound } from './found-beside';
export { longTime } from './long-time';
export { fitCrop, middleSquare, scaledSize, squared } from './crop';
export type { Crop } from './crop';
export {
  carriedOver,
  chosenPictures,
  contentHash,
  editContent,
  editItem,
  inFile,
  isEdited,
  layOver,
  putBack,
  readOtherwise,
  trimOverlay,
  unsaid,
  withoutWritten,
} from './content';
export {
  PARTS,
  PART_NAMES,
  allTracksOf,
  chaptersOf,
  editsOf,
  fieldOf,
  fieldsOf,
  timedOf,
  tracksOf,
} from './parts';
export type { ReadBack } from './parts';
export type { Content, FoundBeside, Overlay, PartEdits, PartName, PutBack, Saying } from './saying';
export { cleanChapter, pictureKey } from './chapters';
export type { Chapter, ChapterPicture } from './chapters';
export { cleanLine, sameTimed } from './timed-words';
export type { TimedLine, TimedWord } from './timed-words';
export type { Cue } from './cues';
export { TRACK_FLAGS, editedTracks, isAnotherSet, keptTracks, newTrackId, trimmedTracks } from './tracks';
export type { EditedTrack, Track, TrackEdit, TrackFlag, TrackFlags } from './tracks';
export { keptStreams, languagesOf } from './kept-streams';
export { chosenAsFront, editedFrontRoles, frontPicture, makerPicture, withoutFront } from './front-picture';
export type { FrontPicture } from './front-picture';
export { PICTURE_ROLES, codeOfRole } from './pictures';
export type { ChosenPicture, PictureFact, PictureId, PictureRole } from './pictures';
export {
  FORMAT_ENDINGS,
  FORMAT_IDS,
  FORMAT_NAMES,
  UNREAD_CODES,
  doubleOf,
  isLossless,
  kindOf,
  titleOf,
  waits,
  MOST_ASIDE,
} from './item';
export type {
  Arrival,
  ArrivalId,
  Assembly,
  Facts,
  FormatId,
  Identity,
  Item,
  ItemId,
  Matched,
  NativeTag,
  Source,
  SoundPart,
  SourceId,
  Stream,
  UnreadFile,
} from './item';
export {
  earlierContent,
  earlierEdits,
  earlierFields,
  earlierOverlay,
  earlierSignature,
} from './migrations/content-2';
export type { EarlierItem } from './migrations/content-2';
export { foldText, searchText, wordsOf } from './search';
export { codecName } from './codecs';
export { makerKey, makerOf } from './maker';
export { discOf, homeOf, isCatchAll, releaseKey } from './release';
export { halfStars, ratingOfHalves } from './rating';
