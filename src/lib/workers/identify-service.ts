import { offerLineUps, propose, rankCandidates } from '$lib/core/identify';
import type { IdentifyRequest } from './identify-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Ranks and lines up for whoever asks through a port. It is a worker of its own, since a plan may take its time. */
export function serveIdentifying(port: Port): void {
  serveAnswers<IdentifyRequest>(port, (request) => {
    switch (request.type) {
      case 'rank':
        return rankCandidates(request.files, request.words, request.releases);
      case 'propose':
        return propose(request.files, request.words, request.releases, request.whole);
      case 'lineUp':
        return offerLineUps(request.files, request.entries, request.decisions);
    }
  });
}
