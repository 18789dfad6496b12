import type { NativeTag } from '$lib/core/items';
import { isPictureName } from '../vorbis-comment';

/** Letters of a native value that are kept for showing; the file keeps the rest. */
export const MOST_LETTERS = 400;
/** Native tags kept of one file. A file with more is hostile or broken. */
export const MOST_TAGS = 300;

/** Texts of a tag as stored in the file. @param format the sort of tag, as facts name it */
export const textTags = (
  format: string,
  texts: readonly (readonly [name: string, text: string])[],
): readonly NativeTag[] =>
  texts.slice(0, MOST_TAGS).map(([id, text]) => ({ format, id, value: shown(text) }));

/** Comments as an Ogg file writes them. */
export function commentTags(
  entries: readonly (readonly [name: string, value: string])[],
): readonly NativeTag[] {
  return entries.slice(0, MOST_TAGS).map(([id, value]) => ({
    format: 'vorbis',
    id,
    value: isPictureName(id) ? `${value.length} letters` : shown(value),
  }));
}

const shown = (text: string): string => text.slice(0, MOST_LETTERS).toWellFormed();
