import { joinedSource, type ByteSource } from '$lib/core/bytes';
import { hasOddities, normalId3, type Id3Tag } from '../id3';

/*
 * What the parsing package gets to see of a file: the parts that hold tags, in their plainest form. It walks through
 * all else without end or use, and some of what standards allow it does not know.
 */

/** The sound behind its leading tag in its plainest form; further tags and remains before the sound are passed over. */
export function mp3View(source: ByteSource, tag: Id3Tag | null, soundStart: number): ByteSource {
  if (tag === null)
    return soundStart === 0 ? source : joinedSource(source, [{ start: soundStart, end: source.size }]);
  if (!hasOddities(tag) && soundStart === tag.size) return source;
  return joinedSource(source, [normalId3(tag), { start: soundStart, end: source.size }]);
}
