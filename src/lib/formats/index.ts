import type { FormatId } from '$lib/core/items';
import type { WritableFormat } from './format';

export { FormatError, splitValues } from './format';
export type { FormatErrorCode, NewPicture, Rewrite, TagChanges, WritableFormat } from './format';

const mp3: WritableFormat = { id: 'mp3', load: () => import('./mp3') };
const flac: WritableFormat = { id: 'flac', load: () => import('./flac') };
const mp4: WritableFormat = { id: 'mp4', load: () => import('./mp4') };

/** Formats whose tags can be written. Files of others go out unchanged. */
export const WRITABLE: ReadonlyMap<FormatId, WritableFormat> = new Map(
  [mp3, flac, mp4].map((format) => [format.id, format]),
);
export const WRITABLE_IDS: ReadonlySet<FormatId> = new Set(WRITABLE.keys());
