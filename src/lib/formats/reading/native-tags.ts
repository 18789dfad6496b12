import type { IAudioMetadata } from 'music-metadata';
import type { NativeTag } from '$lib/core/items';
import { isPictureName } from '../vorbis-comment';

/** Letters of a native value that are kept for showing; the file keeps the rest. */
export const MOST_LETTERS = 400;
/** Native tags kept of one file. A file with more is hostile or broken. */
export const MOST_TAGS = 300;

/** Tags as the file writes them, pictures and other bytes told by their size. */
export function nativeTags(metadata: Pick<IAudioMetadata, 'native'>): readonly NativeTag[] {
  return Object.entries(metadata.native)
    .flatMap(([format, tags]) => tags.map(({ id, value }) => ({ format, id, value: describe(value) })))
    .slice(0, MOST_TAGS);
}

/** Comments as an Ogg file writes them. */
export function commentTags(
  entries: readonly (readonly [name: string, value: string])[],
): readonly NativeTag[] {
  return entries.slice(0, MOST_TAGS).map(([id, value]) => ({
    format: 'vorbis',
    id,
    value: isPictureName(id) ? `${value.length} letters` : describe(value),
  }));
}

function describe(value: unknown): string {
  if (typeof value === 'string') return value.slice(0, MOST_LETTERS).toWellFormed();
  if (value instanceof Uint8Array) return `${value.length} bytes`;
  if (typeof value === 'object' && value !== null) {
    const text = JSON.stringify(value, (_key, inner: unknown) =>
      inner instanceof Uint8Array ? `${inner.length} bytes` : inner,
    );
    return text.slice(0, MOST_LETTERS).toWellFormed();
  }
  return String(value);
}
