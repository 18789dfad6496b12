export { FormatError } from './format';
export type { FormatErrorCode, NativeRead, NewPicture, Rewrite, TagChanges } from './format';
export { WRITABLE } from './writable';
export { holdsValue } from './tag-map';
export type { TagMap, TagRow } from './tag-map';
export { hasPlace, outgoingOf, pictureBytes, placesOf, tagMapOf } from './outgoing';
