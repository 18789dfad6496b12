export {
  EMPTY_FIELDS,
  FIELDS,
  editsSchema,
  fieldText,
  parseFieldText,
  requireField,
  cleanFields,
  cleanText,
} from './fields';
export type { Edits, FieldFacts, FieldName, Fields, FieldValue, ParsedValue } from './fields';
export {
  FORMAT_IDS,
  FORMAT_NAMES,
  UNREAD_CODES,
  chaptersOf,
  editItem,
  fieldsOf,
  kindOf,
  titleOf,
  trimEdits,
  waits,
} from './item';
export type {
  Arrival,
  ArrivalId,
  Chapter,
  ChosenPicture,
  Facts,
  FormatId,
  Identity,
  Item,
  ItemId,
  Matched,
  NativeTag,
  PictureFact,
  PictureId,
  Source,
  SourceId,
  Stream,
  UnreadFile,
} from './item';
export { shareField, shareFields } from './selection';
export type { SharedValue } from './selection';
