import { concat } from '$lib/core/bytes';
import type { Id3Frame, Id3Version } from './layout';
import { frameContent } from './reader';
import { RATING_FRAME } from './tag-map';

/* How much somebody likes a recording, 1 to 255 with 0 for nothing said, and how often it was played, each under the
   address of who says so (ID3v2.3.0, section 4.18). */

interface Rating {
  /** The address with the null letter that ends it. */
  readonly owner: Uint8Array;
  readonly rating: number;
  /** Bytes of the counter; none where it is not kept. */
  readonly counter: Uint8Array;
}

/** Null for a frame of another sort, and for one that breaks off. */
function ratingIn(frame: Id3Frame, version: Id3Version): Rating | null {
  if (frame.id !== RATING_FRAME[version]) return null;
  const content = frameContent(frame, version);
  const end = content?.indexOf(0) ?? -1;
  if (!content || end < 0 || end + 1 >= content.length) return null;
  const [rating = 0] = content.subarray(end + 1);
  return { owner: content.subarray(0, end + 1), rating, counter: content.subarray(end + 2) };
}

/** What a frame says as a number of 1 to 100; empty where it says nothing. */
export function ratingText(frame: Id3Frame, version: Id3Version): string {
  const { rating = 0 } = ratingIn(frame, version) ?? {};
  return rating === 0 ? '' : String(Math.max(1, Math.round((rating * 100) / 255)));
}

/**
 * Frames that say this, for every owner that said something before: which of them a player goes by is not known. Counters
 * stay; what says neither is left out, and what cannot be read stays as it is.
 * @param text a number of 1 to 100; undefined or 0 where nothing is to be said
 */
export function ratingFrames(
  old: readonly Id3Frame[],
  text: string | undefined,
  version: Id3Version,
): readonly Id3Frame[] {
  const said = Number(text ?? 0);
  const rating = said > 0 ? Math.max(1, Math.round((said * 255) / 100)) : 0;
  const id = RATING_FRAME[version];
  const ofOwner = (owner: Uint8Array, counter: Uint8Array): Id3Frame => ({
    id,
    flags: 0,
    data: concat([owner, Uint8Array.of(rating), counter]),
  });
  let isSaid = rating === 0;
  const frames = old.flatMap((frame) => {
    const own = ratingIn(frame, version);
    if (!own) return [frame];
    isSaid = true;
    return rating > 0 || own.counter.some((byte) => byte > 0) ? [ofOwner(own.owner, own.counter)] : [];
  });
  return isSaid ? frames : [...frames, ofOwner(new Uint8Array(1), new Uint8Array(0))];
}
