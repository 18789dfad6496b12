import {
  takeBackOriginals,
  writeOriginals,
  type OriginalEffects,
  type OriginalJob,
  type OriginalOutcome,
} from '$lib/core/originals';
import type { TargetId } from '$lib/core/library';
import type { Retagging } from '$lib/core/plan';
import { StoreError } from '$lib/core/run';
import { digestOf } from '$lib/io/digest';
import type { LibraryStorage } from '$lib/io/storage';
import { totalsOfOutcomes, type OriginalsRun } from '$lib/io/storage';
import { OriginalFolders } from '$lib/io/stores/original-folders';
import type { CancelOriginals, OriginalsPart, OriginalsRequest, OriginalsResult } from './originals-protocol';
import { checkTags, ofOneFile, spansOf } from './run-effects';
import { RunElsewhereError, withRunLock } from './run-lock';
import { serveAnswers, type Port } from './worker-client';

/** What the lock of these runs goes by: no player is called so. */
const PLACE = 'originals' as TargetId;
let cancelled = false;

export function serve(port: Port): void {
  serveAnswers<OriginalsRequest, OriginalsPart>(port, async (request, tellPart) => {
    cancelled = false;
    try {
      return await withRunLock(request.library, PLACE, (storage) => handle(request, storage, tellPart));
    } catch (error) {
      const detail = error instanceof Error ? error.message : String(error);
      if (error instanceof RunElsewhereError)
        return { type: 'failed', code: 'elsewhere', detail } satisfies OriginalsResult;
      return {
        type: 'failed',
        code: error instanceof StoreError ? error.code : 'fault',
        detail,
      } satisfies OriginalsResult;
    }
  });
  self.addEventListener('message', ({ data }: MessageEvent<OriginalsRequest | CancelOriginals>) => {
    if (data.type === 'cancel') cancelled = true;
  });
}

async function handle(
  request: OriginalsRequest,
  storage: LibraryStorage,
  progress: (ended: number) => void,
): Promise<OriginalsResult> {
  const { originals } = storage;
  const run = (await originals.list()).find(({ id }) => id === request.run);
  if (!run) throw new StoreError('gone', '', 'there is no journal of this run');
  const { jobs, outcomes } = await originals.load(run);
  const now = [...outcomes];
  const effects = effectsFor(run, now, storage, progress);
  const place = new OriginalFolders(storage);
  if (request.type === 'write') {
    await originals.save({ ...run, state: 'running', reason: null, endedAt: null, isFollowed: false });
    const end = await writeOriginals(jobs, outcomes, place, effects);
    await originals.save({
      ...run,
      ...end,
      ...totalsOfOutcomes(now),
      endedAt: Date.now(),
      isFollowed: false,
    });
    return { type: 'written', ...end };
  }
  // Noted first: from here on the run cannot go on, only be taken back to its end.
  await originals.save({ ...run, state: 'takingBack', isFollowed: false });
  const taken = await takeBackOriginals(jobs, outcomes, place, effects);
  await originals.save({
    ...run,
    state: 'takenBack',
    ...totalsOfOutcomes(now),
    endedAt: Date.now(),
    isFollowed: false,
  });
  return { type: 'takenBack', ...taken };
}

function effectsFor(
  run: OriginalsRun,
  now: (OriginalOutcome | undefined)[],
  storage: LibraryStorage,
  progress: (ended: number) => void,
): OriginalEffects {
  const retagging = ({ format, changes, kind, expect }: OriginalJob): Retagging => ({
    format,
    changes,
    kind: kind ?? null,
    expect,
    id3: null,
  });
  return {
    rewrite: (job, original) => ofOneFile(job.path, () => spansOf(original, retagging(job), storage)),
    check: (job, original, changed) =>
      ofOneFile(job.path, () => checkTags(retagging(job), original, changed)),
    digest: digestOf,
    save: async (index, outcome) => {
      await storage.originals.saveOutcome(run.id, index, outcome);
      now[index] = outcome;
    },
    progress,
    isCancelled: () => cancelled,
  };
}
