import { fieldsOf, releaseKey, requireField, type Edits, type Item, type ItemId } from '../items';
import { gainFor, integratedLoudness, type LoudnessBlocks } from '../sound';

/**
 * The gains with which items play equally loud, each alone and within its release. A release gets one only if all of it
 * was measured, because half of it would give another value.
 * @param heard loudness of their moments; items that were not measured, or are silent, get none
 */
export function gainsOf(
  items: readonly Item[],
  heard: ReadonlyMap<ItemId, LoudnessBlocks>,
): ReadonlyMap<ItemId, Edits> {
  const releases = new Map<string, LoudnessBlocks[] | null>();
  const keyOf = (item: Item) => releaseKey(item.path, fieldsOf(item));
  for (const item of items) {
    const blocks = heard.get(item.id);
    const key = keyOf(item);
    if (key === null) continue;
    const own = releases.get(key);
    if (!blocks || own === null) releases.set(key, null);
    else if (own) own.push(blocks);
    else releases.set(key, [blocks]);
  }
  const albums = new Map([...releases].map(([key, all]) => [key, all && integratedLoudness(all)]));
  const gains = new Map<ItemId, Edits>();
  for (const item of items) {
    const blocks = heard.get(item.id);
    const own = blocks ? integratedLoudness([blocks]) : null;
    if (own === null) continue;
    const key = keyOf(item);
    const album = key === null ? null : (albums.get(key) ?? null);
    gains.set(item.id, {
      trackGain: limited(gainFor(own)),
      ...(album !== null && { albumGain: limited(gainFor(album)) }),
    });
  }
  return gains;
}

const { limit: MOST } = requireField('trackGain');
/** Decibels that the fields take. */
const limited = (gain: number): number => Math.max(-MOST, Math.min(MOST, gain));
