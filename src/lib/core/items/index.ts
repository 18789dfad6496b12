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
export { DATE, fieldText, joinTexts, languageTag, sameValue, toTexts, valueKey } from './field-types';
export type { FieldType, FieldValue } from './field-types';
export { longTime } from './long-time';
export { fitCrop, middleSquare, scaledSize, squared } from './crop';
export type { Crop } from './crop';
export {
  chaptersOf,
  cleanChapter,
  contentHash,
  editContent,
  editItem,
  editsOf,
  fieldOf,
  fieldsOf,
  isEdited,
  layOver,
  putBack,
  chosenPictures,
  pictureKey,
  sameChapters,
  timedOf,
  tracksOf,
  trimOverlay,
  withoutParts,
} from './content';
export type {
  Chapter,
  ChapterPicture,
  ChosenPicture,
  Content,
  Overlay,
  PictureFact,
  PictureId,
  PutBack,
  Saying,
} from './content';
export { cleanLine, sameTimed } from './timed-words';
export type { TimedLine, TimedWord } from './timed-words';
export { sameTracks } from './tracks';
export type { Track, TrackEdit } from './tracks';
export { PICTURE_ROLES, codeOfRole, roleOfWords } from './pictures';
export type { PictureRole } from './pictures';
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
  Facts,
  FormatId,
  Identity,
  Item,
  ItemId,
  Matched,
  NativeTag,
  Source,
  SourceId,
  Stream,
  UnreadFile,
} from './item';
export { earlierContent, earlierEdits, earlierFields, earlierOverlay, earlierSignature } from './earlier';
export type { EarlierItem } from './earlier';
export { foldText, searchText, wordsOf } from './search';
export { codecName } from './codecs';
export { discOf, homeOf, isCatchAll, releaseKey } from './release';
