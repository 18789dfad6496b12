import {
  takeBackOriginals,
  writeOriginals,
  type OriginalEffects,
  type OriginalJob,
  type OriginalOutcome,
} from '$lib/core/originals';
import type { TargetId } from '$lib/core/library';
import type { Retagging } from '$lib/core/plan';
import { StepError, StoreError } from '$lib/core/run';
import { blobSource } from '$lib/io/blob-source';
import { digestOf } from '$lib/io/digest';
import { spanBlob } from '$lib/io/span-blob';
import { LibraryStorage, totalsOfOutcomes, type OriginalsRun } from '$lib/io/storage';
import { OriginalFolders } from '$lib/io/stores/original-folders';
import { OpenError, openItem } from '$lib/io/take-in/open-item';
import type {
  CancelOriginals,
  FinishedRequest,
  FinishedResult,
  OriginalsPart,
  OriginalsRequest,
  OriginalsResult,
} from './originals-protocol';
import { checkTags, ofOneFile, spansOf } from './run-effects';
import { RunElsewhereError, withRunLock } from './run-lock';
import { serveAnswers, type Port } from './worker-client';

/** What the lock of these runs goes by: no player is called so. */
const PLACE = 'originals' as TargetId;
let cancelled = false;

export function serve(port: Port): void {
  serveAnswers<OriginalsRequest | FinishedRequest, OriginalsPart>(port, async (request, tellPart) => {
    if (request.type === 'finished') return finished(request);
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

/** Makes a file and reads it back, as a run does, but only gives it to whoever asked. */
async function finished({ library, job }: FinishedRequest): Promise<FinishedResult> {
  // Nothing is stored.
  const storage = new LibraryStorage(library, () => false);
  try {
    const file = await ofOneFile(job.path, async () => {
      const original = await openItem(storage, job.source, job.path).catch(reasoned);
      if (original.size !== job.size)
        throw new StepError('unreadable', `${job.path} has changed since it was taken in; take it in again`);
      if (Object.keys(job.changes).length === 0 && !job.kind) return original;
      const retagging = retaggingOf(job);
      const made = await spanBlob(original, await spansOf(blobSource(original), retagging, storage));
      await checkTags(retagging, blobSource(original), blobSource(made));
      return made;
    });
    return { type: 'made', file };
  } catch (error) {
    return { type: 'failed', detail: error instanceof Error ? error.message : String(error) };
  }
}

const WHY_SHUT: Readonly<Record<OpenError['code'], string>> = {
  noPermission: 'its folder needs permission: press “Open again” at the top of the page',
  gone: 'the file is gone: put it back, or take its folder in again',
  unknownSource: 'its folder is not known any more: take it in again',
};

function reasoned(error: unknown): never {
  throw error instanceof OpenError ? new StepError('unreadable', WHY_SHUT[error.code]) : error;
}

const retaggingOf = ({ format, changes, kind, expect }: OriginalJob): Retagging => ({
  format,
  changes,
  kind: kind ?? null,
  expect,
  id3: null,
});

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
  return {
    rewrite: (job, original) => ofOneFile(job.path, () => spansOf(original, retaggingOf(job), storage)),
    check: (job, original, changed) =>
      ofOneFile(job.path, () => checkTags(retaggingOf(job), original, changed)),
    digest: digestOf,
    save: async (index, outcome) => {
      await storage.originals.saveOutcome(run.id, index, outcome);
      now[index] = outcome;
    },
    progress,
    isCancelled: () => cancelled,
  };
}
