import { folderOf } from '../../src/lib/core/paths';
import {
  StoreError,
  type Outcome,
  type RunEffects,
  type Store,
  type StoreErrorCode,
} from '../../src/lib/core/run';
import { plainEffects, type TrialPlace } from './run-world';

/** The six ways in which one call can go wrong. `gone` is the end of the process: nothing is called after it. */
export const WAYS = [
  'errorBefore',
  'errorDuring',
  'errorAfter',
  'goneBefore',
  'goneDuring',
  'goneAfter',
] as const;
export type Way = (typeof WAYS)[number];

/** One cut: the nth call from the start, counted from 0. */
export interface Cut {
  readonly call: number;
  readonly way: Way;
  readonly code?: StoreErrorCode;
}

/** The end of the process, or a fault that ends a run: not an error that a run knows by name. */
class Gone extends Error {}

export interface CutKit {
  readonly store: Store<Uint8Array>;
  readonly effects: RunEffects<Uint8Array>;
  /** What of the journal was kept. */
  outcomes(): readonly Outcome[];
  calls(): number;
}

/** The store and effects with every call counted, and one of them cut. */
export function cutting(
  real: TrialPlace,
  cut: Cut | null,
  kept: readonly Outcome[] = [],
  plain: RunEffects<Uint8Array> = plainEffects(),
): CutKit {
  let calls = 0;
  let dead = false;
  let saved = [...kept];
  const cutAt = async <R>(
    act: () => Promise<R>,
    half: () => Promise<unknown>,
    fault: () => Error,
  ): Promise<R> => {
    if (dead) throw new Gone();
    const call = calls++;
    if (!cut || call !== cut.call) return act();
    if (cut.way.endsWith('During')) await half();
    if (cut.way.endsWith('After')) await act();
    if (cut.way.startsWith('error')) throw fault();
    dead = true;
    throw new Gone();
  };
  const none = async () => undefined;
  const onStore = <R>(path: string, act: () => Promise<R>, half: () => Promise<unknown> = none) =>
    cutAt(act, half, () => new StoreError(cut?.code ?? 'unreachable', path, 'cut'));
  const onEffect = <R>(act: () => Promise<R>) => cutAt(act, none, () => new Gone());
  const above = (path: string) => async () => {
    if (folderOf(path) !== '') await real.makeFolder(folderOf(path));
  };
  const store: Store<Uint8Array> = {
    list: () => onStore('', () => real.list()),
    room: () => onStore('', () => real.room()),
    listHeld: (folder) => onStore(folder, () => real.listHeld(folder)),
    makeFolder: (path) => onStore(path, () => real.makeFolder(path), above(path)),
    hasFolder: (path) => onStore(path, () => real.hasFolder(path)),
    write: (path, content) => onStore(path, () => real.write(path, content), above(path)),
    move: (from, to) => onStore(from, () => real.move(from, to), above(to)),
    remove: (path) => onStore(path, () => real.remove(path)),
    removeEmptyFolder: (path) => onStore(path, () => real.removeEmptyFolder(path)),
    find: (path) => onStore(path, () => real.find(path)),
    read: (path) => onStore(path, () => real.read(path)),
    ...(real.holding && { holding: real.holding }),
  };
  const effects: RunEffects<Uint8Array> = {
    ...plain,
    content: (step) => onEffect(() => plain.content(step)),
    check: (step, source) => onEffect(() => plain.check(step, source)),
    digest: (source) => onEffect(() => plain.digest(source)),
    save: (outcomes) =>
      onEffect(async () => {
        saved = structuredClone([...outcomes]);
      }),
  };
  return { store, effects, outcomes: () => saved, calls: () => calls };
}

/** Does something that a cut may end. @throws whatever is not the cut's own */
export async function untilCut(act: () => Promise<unknown>): Promise<void> {
  try {
    await act();
  } catch (error) {
    if (!(error instanceof Gone || error instanceof StoreError)) throw error;
  }
}
