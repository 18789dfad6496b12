import type { Gathering } from '$lib/core/identify';
import type { GatheredPart } from './library-protocol';

/** Gatherings that go in one message. */
const PART = 100;

/** What the page was told of gatherings: an edit changes few of them, and only those are sent again. */
export class ToldGatherings {
  private known = new Map<string, string>();
  private order = '';

  /** Sends what is not known yet ahead. @returns the keys of all, in order; null where they are the same as before */
  tell(gatherings: readonly Gathering[], tellPart: (part: GatheredPart) => void): readonly string[] | null {
    const known = new Map<string, string>();
    const changed = gatherings.filter((gathering) => {
      const text = JSON.stringify(gathering);
      known.set(gathering.key, text);
      return this.known.get(gathering.key) !== text;
    });
    for (let at = 0; at < changed.length; at += PART) tellPart(changed.slice(at, at + PART));
    this.known = known;
    const keys = gatherings.map(({ key }) => key);
    const order = JSON.stringify(keys);
    if (order === this.order) return null;
    this.order = order;
    return keys;
  }
}
