import type { ItemId } from '../items';
import { folderOf } from '../paths';
import { HOLD_FOLDER, itemOf, type FileFacts, type Owner, type Step, type ThereFile } from '../plan';
import { STOPPING, StepError, isTheOne, pruneFolders, type RunEffects, type WritingStep } from './effects';
import { holdingOf } from './hold';
import type { FailureCode, Journal, Outcome, Traces } from './journal';
import { StoreError, type Holding, type Store } from './store';

export type RunEnd = {
  readonly state: 'finished' | 'cancelled' | 'stopped';
  readonly reason: FailureCode | null;
};

type Begun = Extract<Outcome, { type: 'begun' }>;

/**
 * Applies a run sheet step by step, continuing where its journal ends. A failed step is recorded and the next one
 * follows, except when the place is unreachable or full: then the run stops and can be resumed.
 * @throws {RangeError} for a run that is being taken back
 */
export async function applyRun<Content>(
  journal: Journal,
  store: Store<Content>,
  effects: RunEffects<Content>,
): Promise<RunEnd & { readonly outcomes: readonly Outcome[] }> {
  if (journal.state === 'takingBack' || journal.state === 'takenBack')
    throw new RangeError('a run that is being taken back cannot go on');
  const run = new Run(journal, store, effects);
  const end = await run.apply();
  return { ...end, outcomes: run.outcomes };
}

/**
 * A run in progress. A step first writes its file to the run's own folder and checks it. Then the step is recorded as
 * begun, with everything that distinguishes its own work from what was there before. Then the existing file is held
 * aside and the new one takes its place. If the run is interrupted at any point, either nothing has changed or the
 * record suffices to complete or undo the step.
 */
class Run<Content> {
  readonly outcomes: Outcome[];
  /** Items whose copy failed: files that belong to it must not be written without it. */
  private readonly failed = new Set<ItemId>();
  /** Folders known to be there. */
  private readonly folders = new Set<string>(['']);
  private readonly id: string;
  private readonly holding: Holding;

  constructor(
    private readonly journal: Journal,
    private readonly store: Store<Content>,
    private readonly effects: RunEffects<Content>,
  ) {
    this.id = journal.id;
    this.holding = holdingOf(store);
    this.outcomes = [...journal.outcomes];
    journal.steps.forEach((step, index) => {
      if (step.type === 'copy' && this.outcomes[index]?.type === 'failed') this.fail(step.owner);
    });
  }

  async apply(): Promise<RunEnd> {
    try {
      for (const [index, step] of this.journal.steps.entries()) {
        const known = this.outcomes[index];
        if (known && known.type !== 'begun') continue;
        if (this.effects.isCancelled()) return await this.end('cancelled');
        const outcome = await this.doStep(step, index, known ?? null);
        await this.note(index, outcome);
        if (outcome.type === 'failed' && step.type === 'copy') this.fail(step.owner);
        this.effects.progress(index + 1);
      }
      return await this.end('finished');
    } catch (error) {
      if (error instanceof StoreError) return { state: 'stopped', reason: error.code };
      throw error;
    }
  }

  private fail(owner: Owner): void {
    const item = itemOf(owner);
    if (item !== null) this.failed.add(item);
  }

  private async end(state: 'finished' | 'cancelled'): Promise<RunEnd> {
    await this.holding.clear(this.id, []);
    return { state, reason: null };
  }

  private async note(index: number, outcome: Outcome): Promise<void> {
    this.outcomes[index] = outcome;
    await this.effects.save(this.outcomes, index);
  }

  /** @throws {StoreError} only if the run must stop; its outcome then tells how far the step got */
  private async doStep(step: Step, index: number, begun: Begun | null): Promise<Outcome> {
    try {
      return begun ? await this.goOn(step, index, begun) : await this.begin(step, index);
    } catch (error) {
      if (!(error instanceof StoreError || error instanceof StepError)) throw error;
      if (error instanceof StoreError && STOPPING.has(error.code)) throw error;
      return this.giveUp(step, index, error);
    }
  }

  private begin(step: Step, index: number): Promise<Outcome> {
    switch (step.type) {
      case 'agree':
        return this.agree(step, index);
      case 'makeFolder':
        return this.beginFolder(step.path, index);
      case 'move':
        return this.beginMove(step, index);
      case 'remove':
        return this.beginRemove(step, index);
      default:
        return this.beginWrite(step, index);
    }
  }

  /** Takes a begun step up again, by what is found of it. */
  private async goOn(step: Step, index: number, begun: Begun): Promise<Outcome> {
    switch (step.type) {
      case 'agree':
        return this.agree(step, index);
      case 'makeFolder':
        await this.store.makeFolder(step.path);
        return { ...begun, type: 'done' };
      case 'move':
        if (await this.isMoved(step, begun)) return this.endMove(step, begun);
        if (!(await this.store.find(step.from))) throw new StepError('gone', step.from);
        return this.endMove(step, await this.swapIn(step.from, step.path, index, begun));
      case 'remove':
        return this.goOnRemoving(step, begun);
      default:
        if (await this.store.find(this.holding.stage(this.id, step.path))) {
          const put = await this.swapIn(this.holding.stage(this.id, step.path), step.path, index, begun);
          return { ...put, type: 'done' };
        }
        return (await this.isPut(step.path, begun)) ?? this.beginWrite(step, index);
    }
  }

  private async beginFolder(path: string, index: number): Promise<Outcome> {
    const made = await this.missingFolders(path);
    const traces = { was: null, hold: this.holding.hold(this.id, index, path), made, put: null };
    if (made.length > 0) {
      await this.note(index, { type: 'begun', ...traces });
      await this.store.makeFolder(path);
      this.folders.add(path);
    }
    return { type: 'done', ...traces };
  }

  private async beginWrite(step: WritingStep, index: number): Promise<Outcome> {
    const item = step.type === 'writeText' ? itemOf(step.owner) : null;
    if (item !== null && this.failed.has(item)) throw new StepError('itemFailed', step.path);
    const put = await this.stage(step);
    const begun = await this.look(step.path, step.replaces, index, put);
    await this.note(index, begun);
    const swapped = await this.swapIn(this.holding.stage(this.id, step.path), step.path, index, begun, true);
    return { ...swapped, type: 'done' };
  }

  /** Writes a step's file whole into the run's own folder and reads it back, digest and meaning. */
  private async stage(step: WritingStep): Promise<FileFacts> {
    const content = await this.effects.content(step);
    const stage = this.holding.stage(this.id, step.path);
    // What an earlier try left there was never proven.
    if (await this.store.find(stage)) await this.store.remove(stage);
    const written = await this.store.write(stage, content);
    const back = await this.store.read(stage);
    if (back.size !== written.size || (await this.effects.digest(back)) !== written.digest)
      throw new StepError('readBackDiffers', `came through otherwise: ${back.size} bytes of ${written.size}`);
    await this.effects.check(step, back);
    return written;
  }

  /** Both sides agree on a file only while it is still there. */
  private async agree({ path, was }: Extract<Step, { type: 'agree' }>, index: number): Promise<Outcome> {
    const found = await this.store.find(path);
    if (!found && was) throw new StepError('gone', path);
    if (found && !was) throw new StepError('exists', path);
    const put = found && was ? await this.recognised(found, was) : null;
    return { type: 'done', was: null, hold: this.holding.hold(this.id, index, path), made: [], put };
  }

  private async beginMove(step: Extract<Step, { type: 'move' }>, index: number): Promise<Outcome> {
    const found = await this.store.find(step.from);
    if (!found) throw new StepError('gone', step.from);
    if (step.was.size !== null && found.size !== step.was.size)
      throw new StepError('changedSince', step.from);
    const begun = await this.look(step.path, step.replaces, index, factsOf(found));
    await this.note(index, begun);
    return this.endMove(step, await this.swapIn(step.from, step.path, index, begun, true));
  }

  private async endMove(step: Extract<Step, { type: 'move' }>, begun: Begun): Promise<Outcome> {
    await this.prune(step.from);
    return { ...begun, type: 'done' };
  }

  private async beginRemove(step: Extract<Step, { type: 'remove' }>, index: number): Promise<Outcome> {
    const found = await this.store.find(step.path);
    const hold = this.holding.hold(this.id, index, step.path);
    if (!found) return { type: 'done', was: null, hold, made: [], put: null };
    const was = await this.recognised(found, step.was);
    const begun: Begun = { type: 'begun', was, hold, made: [], put: null };
    await this.note(index, begun);
    await this.store.move(step.path, hold);
    await this.prune(step.path);
    return { ...begun, type: 'done' };
  }

  private async goOnRemoving(step: Extract<Step, { type: 'remove' }>, begun: Begun): Promise<Outcome> {
    if (!(await this.store.find(begun.hold))) {
      const found = await this.store.find(step.path);
      if (!found) return { ...begun, type: 'done', was: null };
      await this.recognised(found, begun.was as FileFacts);
      await this.store.move(step.path, begun.hold);
    }
    await this.prune(step.path);
    return { ...begun, type: 'done' };
  }

  /** What is at the path that a step writes to. @throws {StepError} if the plan did not expect it */
  private async look(
    path: string,
    replaces: FileFacts | null,
    index: number,
    put: FileFacts,
  ): Promise<Begun> {
    const found = await this.store.find(path);
    if (found && !replaces) throw new StepError('exists', path);
    const was = found && replaces ? await this.recognised(found, replaces) : null;
    const made = await this.missingFolders(folderOf(path));
    return { type: 'begun', was, hold: this.holding.hold(this.id, index, path), made, put };
  }

  /** The properties by which a file is recognised later. @throws {StepError} if it is not the expected file */
  private async recognised(found: ThereFile, meant: FileFacts): Promise<FileFacts> {
    const { store, effects } = this;
    if (!(await isTheOne(found, meant, store, effects.digest)))
      throw new StepError('changedSince', found.path);
    const digest = found.digest ?? meant.digest ?? (await effects.digest(await store.read(found.path)));
    return { size: found.size, digest };
  }

  /** Holds the file at `path` aside and moves `from` there. */
  private async swapIn(
    from: string,
    path: string,
    index: number,
    begun: Begun,
    isFresh = false,
  ): Promise<Begun> {
    if (begun.was && (isFresh || !(await this.store.find(begun.hold)))) {
      if (!isFresh) {
        const found = await this.store.find(path);
        if (!found) throw new StepError('gone', path);
        await this.recognised(found, begun.was);
      }
      await this.store.move(path, begun.hold);
    }
    const moved = await this.moveIn(from, path, index, begun);
    for (const folder of begun.made) this.folders.add(folder);
    return moved;
  }

  /** Moves a file to its path. An empty folder at that path is removed, once that is recorded. */
  private async moveIn(from: string, path: string, index: number, begun: Begun): Promise<Begun> {
    const { store } = this;
    try {
      await store.move(from, path);
      return begun;
    } catch (error) {
      const isTaken = error instanceof StoreError && (error.code === 'exists' || error.code === 'refused');
      if (!isTaken || !(await store.hasFolder(path))) throw error;
    }
    const clearing: Begun = { ...begun, cleared: path };
    await this.note(index, clearing);
    await store.removeEmptyFolder(path);
    if (await store.hasFolder(path)) throw new StepError('exists', `a folder stands at ${path}`);
    await store.move(from, path);
    return clearing;
  }

  /** The end of a writing step whose file has left the run's own folder; null when it was begun in vain. */
  private async isPut(path: string, begun: Begun): Promise<Outcome | null> {
    const held = begun.was !== null && (await this.store.find(begun.hold)) !== null;
    if (begun.was !== null && !held) return null;
    const found = await this.store.find(path);
    if (found && (await this.isOurs(found, begun)))
      return {
        ...begun,
        type: 'done',
        put: { ...factsOf(found), digest: found.digest ?? begun.put?.digest ?? null },
      };
    if (held) throw new StepError('changedSince', path);
    return null;
  }

  private async isMoved(step: Extract<Step, { type: 'move' }>, begun: Begun): Promise<boolean> {
    if (begun.was !== null && !(await this.store.find(begun.hold))) return false;
    const found = await this.store.find(step.path);
    return found !== null && (await this.isOurs(found, begun)) && !(await this.store.find(step.from));
  }

  private isOurs(found: ThereFile, { put }: Traces): Promise<boolean> {
    return put ? isTheOne(found, put, this.store, this.effects.digest) : Promise.resolve(false);
  }

  /**
   * Ends a step that failed: the file that it was writing is removed, and held files return. If the step had been
   * completed before the error, it counts as done.
   * @throws {StoreError} if that fails too: the step then remains begun
   */
  private async giveUp(
    step: Step,
    index: number,
    { code, message }: StoreError | StepError,
  ): Promise<Outcome> {
    const failed = { type: 'failed', code, detail: message, hold: null } as const;
    const { store } = this;
    const stage = this.holding.stage(this.id, step.path);
    const known = this.outcomes[index];
    if (known?.type !== 'begun') {
      if (isWriting(step) && (await store.find(stage))) await store.remove(stage);
      return failed;
    }
    if (await this.isAllDone(step, known))
      return step.type === 'move' ? this.endMove(step, known) : { ...known, type: 'done' };
    let hold: string | null = null;
    if (known.was && (await store.find(known.hold))) {
      if (await store.find(step.path)) hold = known.hold;
      else await store.move(known.hold, step.path);
    }
    if (!hold) await this.holding.release(known.hold);
    if (isWriting(step) && (await store.find(stage))) await store.remove(stage);
    if (known.cleared && !(await store.find(known.cleared))) await store.makeFolder(known.cleared);
    else await pruneFolders([...known.made].reverse(), store);
    this.folders.clear();
    return { ...failed, hold };
  }

  private async isAllDone(step: Step, begun: Begun): Promise<boolean> {
    switch (step.type) {
      case 'agree':
        return false;
      case 'makeFolder':
        return this.store.hasFolder(step.path);
      case 'move':
        return this.isMoved(step, begun);
      case 'remove':
        return (await this.store.find(step.path)) === null && (await this.store.find(begun.hold)) !== null;
      default: {
        if (await this.store.find(this.holding.stage(this.id, step.path))) return false;
        if (begun.was && !(await this.store.find(begun.hold))) return false;
        const found = await this.store.find(step.path);
        return found !== null && this.isOurs(found, begun);
      }
    }
  }

  /** Folders at and above a path that are not there, outermost first. */
  private async missingFolders(path: string): Promise<readonly string[]> {
    const missing: string[] = [];
    let at = path;
    while (at !== '' && !this.folders.has(at) && !(await this.store.hasFolder(at))) {
      missing.unshift(at);
      at = folderOf(at);
    }
    this.folders.add(at);
    return missing;
  }

  /** Removes empty folders above a path. */
  private async prune(path: string): Promise<void> {
    for (let at = folderOf(path); at !== '' && at !== HOLD_FOLDER; at = folderOf(at)) {
      this.folders.delete(at);
      await this.store.removeEmptyFolder(at);
    }
  }
}

const isWriting = (step: Step): step is WritingStep =>
  step.type === 'copy' || step.type === 'writePicture' || step.type === 'writeText';

const factsOf = ({ size, digest }: ThereFile): FileFacts => ({ size, digest });
