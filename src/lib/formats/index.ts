export { FormatError } from './format';
export type { FormatErrorCode, NativeRead, NewPicture, Rewrite, TagChanges, WritableFormat } from './format';
export { WRITABLE, WRITABLE_IDS } from './writable';
export type { TagMap, TagRow } from './tag-map';
export { outgoingOf } from './outgoing';
