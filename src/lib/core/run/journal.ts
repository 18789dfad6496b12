import type { ItemId, Overlay } from '../items';
import type { PlayList } from '../lists';
import { pathKey } from '../naming';
import {
  groupOf,
  pastKey,
  type FileFacts,
  type PastFile,
  type PlacedFile,
  type Step,
  type ThereFile,
} from '../plan';
import type { StoreErrorCode } from './store';

export const JOURNAL_VERSION = 7;

export type FailureCode =
  StoreErrorCode | 'cannotRewrite' | 'readBackDiffers' | 'itemFailed' | 'changedSince';

/** The changes of a step, recorded before it makes them. */
export interface Traces {
  /** The file at the path before; null if there was none. */
  readonly was: FileFacts | null;
  /** Where that file is held as long as the step stands. */
  readonly hold: string;
  /** Folders that were not there before, outermost first. */
  readonly made: readonly string[];
  /** An empty folder that was removed from the path; absent if there was none. */
  readonly cleared?: string;
  /** The file that the step puts at the path; null for steps that put none there. */
  readonly put: FileFacts | null;
}

/**
 * How far one step came. `begun`: its file, if it writes one, is whole and proven in the run's own folder,
 * and from here on the player changes; a break leaves it so. `undone`: it was taken back.
 */
export type Outcome =
  | ({ readonly type: 'begun' } & Traces)
  | ({ readonly type: 'done' } & Traces)
  | {
      readonly type: 'failed';
      readonly code: FailureCode;
      readonly detail: string;
      /** Where the earlier file is still held, because its path was occupied meanwhile. */
      readonly hold: string | null;
    }
  | { readonly type: 'undone' };

/**
 * `taking`: changes from the player are being taken into the library, and the steps are not planned yet. `takingBack`:
 * taking back was begun and interrupted; it can only be continued.
 */
export type RunState =
  'taking' | 'running' | 'cancelled' | 'stopped' | 'finished' | 'takingBack' | 'takenBack';

/** What a run set out to do and the outcome of each step. */
export interface Journal {
  readonly version: number;
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endedAt: number | null;
  readonly state: RunState;
  /** Why it stopped, when it did. */
  readonly reason: FailureCode | null;
  readonly steps: readonly Step[];
  /** One for each step that came to something, in order. */
  readonly outcomes: readonly Outcome[];
  /** The files that we had on the player before the run. */
  readonly placedBefore: readonly PlacedFile[];
  /** What came from the player into the library before the first step; absent for nothing. */
  readonly took?: Took;
  /** It was started automatically and removes nothing. */
  readonly isMild?: true;
}

/** What a run brought from a player into the library. */
export interface Took {
  /** Edits of items before and after taking the tags of their files there. */
  readonly edits: readonly { readonly item: ItemId; readonly before: Overlay; readonly after: Overlay }[];
  /**
   * Files that were added on the player, under the names that they get in the library; recorded before the first is
   * copied.
   */
  readonly files: readonly ComingFile[];
  /** Those that were copied, with the items made from them. */
  readonly placed: readonly PlacedFile[];
  readonly lists: readonly TookList[];
}

/** A list that was changed on a player. */
export interface TookList {
  /** The list before, and with the changes from the player. */
  readonly before: PlayList;
  readonly after: PlayList;
  /** The base of its file before, and from then on. */
  readonly left: PlacedFile;
  readonly now: PlacedFile;
}

/** A file of a player that is taken into the library. */
export interface ComingFile {
  readonly file: ThereFile;
  /** Its path in the library's source for that player. */
  readonly path: string;
  /** The library had an item of that path before: it does not leave with the run. */
  readonly isKnown: boolean;
}

/** Whether a run was neither completed nor fully taken back: until then no other run may begin at its place. */
export function isUnfinished({ state }: Pick<Journal, 'state'>): boolean {
  return state !== 'finished' && state !== 'takenBack';
}

export interface RunTotals {
  readonly done: number;
  readonly failed: number;
  readonly left: number;
}

/** Counts of a journal's steps by how they ended. */
export function totalsOf({ steps, outcomes }: Pick<Journal, 'steps' | 'outcomes'>): RunTotals {
  const done = outcomes.filter(({ type }) => type === 'done').length;
  const failed = outcomes.filter(({ type }) => type === 'failed').length;
  return { done, failed, left: steps.length - done - failed };
}

const BLIND = { caseSensitive: false, unicode: 'NFC' } as const;

/** What both sides agree on: files by path, and files that stay away by owner. */
interface Records {
  readonly placed: Map<string, PlacedFile>;
  readonly gone: Map<string | null, PlacedFile>;
}

function recordsOf(files: readonly PlacedFile[]): Records {
  const records: Records = { placed: new Map(), gone: new Map() };
  for (const file of files) keep(records, file);
  return records;
}

function keep({ placed, gone }: Records, file: PlacedFile): void {
  if (file.gone) gone.set(groupOf(file), file);
  else placed.set(file.path, file);
}

/** Applies agreements to records, all at once, because files may have exchanged paths. */
function noteAgreed(records: Records, steps: readonly Step[], outcomes: readonly Outcome[]): void {
  const agreed = steps.flatMap((step, index) => {
    const outcome = outcomes[index];
    return step.type === 'agree' && outcome?.type === 'done' ? [{ step, put: outcome.put }] : [];
  });
  for (const { step } of agreed) records.placed.delete(step.from);
  for (const { step, put } of agreed) {
    const { record } = step;
    if (!record) continue;
    records.gone.delete(groupOf(record));
    // A place that keeps no digests was read when it was agreed on.
    keep(records, { ...record, digest: record.digest ?? (record.gone ? null : (put?.digest ?? null)) });
  }
}

/** The files that both sides agree are on the player, at any point of a run or of taking it back. */
export function placedAfter({ placedBefore, took, steps, outcomes }: Journal): readonly PlacedFile[] {
  const records = recordsOf(
    took ? [...placedBefore, ...took.placed, ...took.lists.map(({ now }) => now)] : placedBefore,
  );
  noteAgreed(records, steps, outcomes);
  const { placed, gone } = records;
  // A player may spell names in its own letter case: steps go by its spelling, the record by ours.
  const spellings = new Map([...placed.keys()].map((path) => [pathKey(path, BLIND), path]));
  const recorded = (path: string) =>
    placed.has(path) ? path : (spellings.get(pathKey(path, BLIND)) ?? path);
  steps.forEach((step, index) => {
    const outcome = outcomes[index];
    // A file of somebody else is there now.
    if (outcome?.type === 'failed' && outcome.code === 'changedSince' && step.type !== 'agree')
      placed.delete(recorded(step.type === 'move' ? step.from : step.path));
    if (outcome?.type !== 'done') return;
    if (step.type === 'remove') placed.delete(recorded(step.path));
    else if (step.type === 'move') {
      const from = recorded(step.from);
      const file = placed.get(from);
      placed.delete(from);
      if (!file) return;
      const { kept: _, ...moved } = file;
      placed.set(step.path, { ...moved, path: step.path });
    } else if (step.type !== 'makeFolder' && step.type !== 'agree') {
      const { path, owner, signature } = step;
      const { size = 0, digest = null } = outcome.put ?? {};
      const kept = step.type === 'copy' && step.kept ? { kept: true as const } : {};
      if (step.type === 'copy' || owner.type === 'list') gone.delete(groupOf(step));
      placed.set(path, { path, owner, signature, size: size ?? 0, digest, ...kept });
    }
  });
  return [...placed.values(), ...gone.values()];
}

/**
 * Our files that a run replaced, renamed or removed. Files that come back later, as from a backup, are recognised by
 * them.
 */
export function pastOf({ placedBefore, steps, outcomes, startedAt }: Journal): readonly PastFile[] {
  const ours = new Set(placedBefore.flatMap((file) => (file.gone ? [] : pastKey(file))));
  return steps.flatMap((step, index): PastFile[] => {
    const outcome = outcomes[index];
    if (outcome?.type !== 'done' || step.type === 'agree') return [];
    const was = step.type === 'move' ? step.was : outcome.was;
    if (!was || was.size === null || was.digest === null || !ours.has(pastKey(was))) return [];
    return [{ size: was.size, digest: was.digest, until: startedAt }];
  });
}
