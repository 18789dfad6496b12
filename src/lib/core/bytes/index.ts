export { cachedSource, lastAtOrBefore, memorySource, readPartHead, skim } from './byte-source';
export type { ByteRange, ByteSource } from './byte-source';
export {
  composeSpans,
  fresh,
  joinSpans,
  keepsRange,
  kept,
  spanOrigins,
  spanSource,
  spansLength,
} from './span';
export type { Span } from './span';
export {
  UTF8,
  ascii,
  concat,
  fnv1a,
  readAscii,
  readU16,
  readU16le,
  readU24,
  readU32,
  readU32le,
  readU64,
  u16,
  u24,
  u32,
  u32le,
} from './binary';
