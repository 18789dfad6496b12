import { offerLineUps, rankCandidates } from '$lib/core/identify';
import type { IdentifyRequest } from './identify-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Ranks and lines up for whoever asks through a port. It is a worker of its own, since a plan may take its time. */
export function serveIdentifying(port: Port): void {
  serveAnswers<IdentifyRequest>(port, (request) =>
    request.type === 'rank'
      ? rankCandidates(request.files, request.words, request.releases)
      : offerLineUps(request.files, request.entries, request.decisions),
  );
}
