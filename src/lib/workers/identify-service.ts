import { gather, offerLineUps, rankCandidates, type GatherItem, type Gathering } from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import type { GatheredPart, IdentifyRequest } from './identify-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Gatherings that go in one message. */
const PART = 100;

/** Gathers, ranks and lines up for whoever asks through a port. */
export function serveIdentifying(port: Port): void {
  const mirror = new Map<ItemId, GatherItem>();
  const told = new Told();
  serveAnswers<IdentifyRequest, GatheredPart>(port, (request, tellPart) => {
    switch (request.type) {
      case 'items':
        for (const id of request.removed) mirror.delete(id);
        for (const item of request.changed) mirror.set(item.id, item);
        return null;
      case 'gather':
        return told.tell(gather([...mirror.values()]), tellPart);
      case 'rank':
        return rankCandidates(request.files, request.words, request.releases);
      case 'lineUp':
        return offerLineUps(request.files, request.entries, request.decisions);
    }
  });
}

/** What the page was told of gatherings: an edit changes few of them, and only those are sent again. */
class Told {
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
