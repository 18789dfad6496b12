import {
  StoreError,
  applyRun,
  keepRecord,
  pastOf,
  placedAfter,
  recordBytes,
  takeAsGood,
  takeBack,
  type Journal,
  type Outcome,
  type Store,
} from '$lib/core/run';
import { abilitiesOf, type TargetId } from '$lib/core/library';
import type { StepType } from '$lib/core/plan';
import { digestOf } from '$lib/io/digest';
import type { LibraryStorage } from '$lib/io/storage';
import type { TargetAddress } from '$lib/io/stores/store-of';
import { createZipFile, dropZip } from '$lib/io/stores/zip-files';
import type { checkWritten, makeContent } from './run-effects';
import { RunElsewhereError, withRunLock } from './run-lock';
import type { RunPart, RunRequest, RunResult } from './run-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Milliseconds between two words of progress. */
const PROGRESS_EVERY = 80;

type TellProgress = (ended: number) => void;

/** What runs need of the world outside. */
export interface RunOutside {
  storeOf(at: TargetAddress): Store<Blob>;
  makeContent: typeof makeContent;
  checkWritten: typeof checkWritten;
}

/** Applies runs and takes them back for whoever asks through a port. @returns has the run under way stop after its step */
export function serveRuns(port: Port, outside: RunOutside): () => void {
  const runs = new Runs(outside);
  serveAnswers<RunRequest, RunPart>(port, async (request, tellPart) => {
    runs.isCancelled = false;
    try {
      const progress = sparing(tellPart);
      return await withRunLock(request.library, request.target, (storage) =>
        runs.handle(request, storage, progress),
      );
    } catch (error) {
      if (error instanceof RunElsewhereError)
        return { type: 'failed', code: 'elsewhere', detail: error.message } satisfies RunResult;
      const code = error instanceof StoreError ? error.code : 'fault';
      const detail = error instanceof Error ? error.message : String(error);
      return { type: 'failed', code, detail } satisfies RunResult;
    }
  });
  return () => {
    runs.isCancelled = true;
  };
}

class Runs {
  isCancelled = false;

  constructor(private readonly outside: RunOutside) {}

  async handle(request: RunRequest, storage: LibraryStorage, progress: TellProgress): Promise<RunResult> {
    const { target, run } = request;
    const journal = run ? await storage.runs.load(target, run) : await storage.runs.latest(target);
    if (!journal) throw new StoreError('gone', '', 'there is no journal of this run');
    const { at } = request;
    if (at.type === 'zip')
      return this.handleZip(request.type, at.name, journal, request.target, storage, progress);
    const store = this.outside.storeOf(at);
    switch (request.type) {
      case 'apply':
        return this.apply(journal, store, request.target, storage, progress, abilitiesOf(at).lists);
      case 'takeBack':
        return this.takeRunBack(journal, store, request.target, storage, progress);
      case 'takeAsGood':
        await takeAsGood(journal, store);
        return { type: 'good' };
    }
  }

  /** A ZIP has no half: a broken one begins anew, and taking it back throws it away. */
  private async handleZip(
    type: RunRequest['type'],
    name: string,
    journal: Journal,
    target: TargetId,
    storage: LibraryStorage,
    progress: TellProgress,
  ): Promise<RunResult> {
    if (type !== 'apply') {
      await dropZip(name);
      await endJournal(storage, target, journal, 'takenBack');
      return type === 'takeBack'
        ? { type: 'takenBack', undone: journal.outcomes.length, left: [] }
        : { type: 'good' };
    }
    const file = await createZipFile(name);
    // Loaded for the run that makes one: no other needs it.
    const { ZipStore } = await import('$lib/io/stores/zip-store');
    const store = new ZipStore(await file.createWritable());
    const end = await this.apply({ ...journal, outcomes: [] }, store, target, storage, progress, false);
    await store.close();
    if (end.type === 'applied' && end.state !== 'finished') await dropZip(name);
    return end;
  }

  private async apply(
    journal: Journal,
    store: Store<Blob>,
    target: TargetId,
    storage: LibraryStorage,
    progress: TellProgress,
    /** The place is read again before another run: it remembers whose files lie there. */
    remembers: boolean,
  ): Promise<RunResult> {
    const running: Journal = { ...journal, state: 'running', reason: null, endedAt: null };
    await storage.runs.saveHead(target, running);
    if (remembers) await noteAt(store, storage, target, running);
    const { state, reason, outcomes } = await applyRun(running, store, {
      content: (step) => this.outside.makeContent(step, storage),
      check: (step, written) => this.outside.checkWritten(step, written, storage),
      digest: digestOf,
      save: saving(target, journal.id, storage),
      progress,
      isCancelled: () => this.isCancelled,
    });
    const ended: Journal = { ...running, outcomes, state, reason, endedAt: Date.now() };
    await storage.bases.notePast(target, pastOf(ended));
    await storage.runs.saveHead(target, ended);
    if (remembers) await noteAt(store, storage, target, ended);
    return { type: 'applied', state, reason };
  }

  private async takeRunBack(
    journal: Journal,
    store: Store<Blob>,
    target: TargetId,
    storage: LibraryStorage,
    progress: TellProgress,
  ): Promise<RunResult> {
    // Noted first: from here on the run cannot go on, only be taken back to its end.
    await storage.runs.saveHead(target, { ...journal, state: 'takingBack' });
    const taken = await takeBack(journal, store, {
      digest: digestOf,
      save: saving(target, journal.id, storage),
      progress,
    });
    await endJournal(storage, target, journal, 'takenBack');
    await noteAt(store, storage, target, { ...journal, state: 'takenBack' });
    return { type: 'takenBack', ...taken };
  }
}

/** Has the place remember what lies there by the hand of this library, and what is about to. */
async function noteAt(
  store: Store<Blob>,
  storage: LibraryStorage,
  target: TargetId,
  journal: Journal,
): Promise<void> {
  const { state, steps, outcomes, placedBefore } = journal;
  const files = state === 'takenBack' ? placedBefore : placedAfter(journal);
  const coming =
    state === 'finished' || state === 'takenBack'
      ? []
      : steps.slice(outcomes.length).flatMap(({ type, path }) => (PUTS.has(type) ? path : []));
  const writer = await storage.head.writer();
  const record = { version: 2, writer, target, at: Date.now(), files, coming } as const;
  await keepRecord(store, record, async () => {
    const bytes = await recordBytes(record, digestOf);
    return new Blob([bytes as Uint8Array<ArrayBuffer>]);
  });
}

const PUTS: ReadonlySet<StepType> = new Set(['copy', 'writePicture', 'writeText', 'move']);

const saving =
  (target: TargetId, run: string, storage: LibraryStorage) => (all: readonly Outcome[], changed: number) =>
    storage.runs.saveOutcomes(target, run, all, changed);

async function endJournal(
  storage: LibraryStorage,
  target: TargetId,
  journal: Journal,
  state: Journal['state'],
): Promise<void> {
  await storage.runs.saveHead(target, { ...journal, state, endedAt: Date.now() });
}

/** Lets a word through only now and then. */
function sparing(act: TellProgress): TellProgress {
  let last = 0;
  return (value) => {
    const now = performance.now();
    if (now - last < PROGRESS_EVERY) return;
    last = now;
    act(value);
  };
}
