import type { FormatId } from '$lib/core/items';
import type { ByteSource } from '$lib/core/bytes';
import type { NativeRead, Rewrite, TagChanges } from './format';
// The maps alone: a format's reader and writer load when they are first needed.
import { ID3_MAPS } from './id3/tag-map';
import { MATROSKA_MAP, WEBM_MAP } from './matroska/tag-map';
import { MP4_MAP } from './mp4/tag-map';
import type { TagMap } from './tag-map';
import { OPUS_MAP, VORBIS_MAP } from './vorbis-comment/tag-map';

/** A format whose tags can be written. The writer loads when it is first needed. */
export interface WritableFormat {
  readonly id: FormatId;
  /** What its tags can hold. @param tagFormats tags found in the file, as its facts name them */
  readonly mapFor: (tagFormats: readonly string[]) => TagMap;
  readonly load: () => Promise<{
    /** @throws {FormatError} when the file cannot be rewritten safely */
    rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite>;
    /** What its own tags hold; null when the file has no tag of the sort that is written. */
    readNative(source: ByteSource): Promise<NativeRead | null>;
  }>;
}

const id3MapFor = (tagFormats: readonly string[]): TagMap =>
  ID3_MAPS[tagFormats.includes('ID3v2.2') ? 2 : tagFormats.includes('ID3v2.4') ? 4 : 3];
const mp3: WritableFormat = { id: 'mp3', mapFor: id3MapFor, load: () => import('./mp3') };
const wav: WritableFormat = { id: 'wav', mapFor: id3MapFor, load: () => import('./riff') };
const aiff: WritableFormat = { ...wav, id: 'aiff' };
const dsf: WritableFormat = { id: 'dsf', mapFor: id3MapFor, load: () => import('./dsd') };
const dff: WritableFormat = { ...dsf, id: 'dff' };
const flac: WritableFormat = { id: 'flac', mapFor: () => VORBIS_MAP, load: () => import('./flac') };
const mp4: WritableFormat = { id: 'mp4', mapFor: () => MP4_MAP, load: () => import('./mp4') };
const matroska: WritableFormat = {
  id: 'matroska',
  mapFor: (tagFormats) => (tagFormats.includes('WebM') ? WEBM_MAP : MATROSKA_MAP),
  load: () => import('./matroska'),
};
const ogg = (id: FormatId): WritableFormat => ({
  id,
  mapFor: () => (id === 'opus' ? OPUS_MAP : VORBIS_MAP),
  load: () => import('./ogg'),
});

/** Formats whose tags can be written. Files of others go out unchanged. */
export const WRITABLE: ReadonlyMap<FormatId, WritableFormat> = new Map(
  [mp3, flac, mp4, matroska, wav, aiff, dsf, dff, ogg('vorbis'), ogg('opus'), ogg('oggFlac')].map(
    (format) => [format.id, format],
  ),
);
