import { gather, offerLineUps, rankCandidates, type GatherItem } from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import type { IdentifyRequest } from './identify-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Gathers, ranks and lines up for whoever asks through a port. */
export function serveIdentifying(port: Port): void {
  const mirror = new Map<ItemId, GatherItem>();
  serveAnswers<IdentifyRequest>(port, (request) => {
    switch (request.type) {
      case 'items':
        for (const id of request.removed) mirror.delete(id);
        for (const item of request.changed) mirror.set(item.id, item);
        return null;
      case 'gather':
        return gather([...mirror.values()]);
      case 'rank':
        return rankCandidates(request.files, request.words, request.releases);
      case 'lineUp':
        return offerLineUps(request.files, request.entries, request.decisions);
    }
  });
}
