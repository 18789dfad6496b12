import {
  earlierFields,
  earlierOverlay,
  earlierSignature,
  type ChosenPicture,
  type Edits,
  type Fields,
} from '../../items';
import { ownedFile, ownedStep, type FileFacts, type Step } from '../../plan';
import { JOURNAL_VERSION, type FailureCode, type Journal, type Outcome } from '../journal';

type Kept = Omit<Journal, 'steps' | 'outcomes'> & { readonly steps: unknown; readonly outcomes: unknown };

/**
 * A kept journal in the present form. Version 1 held files below their own paths, recorded only whether something had
 * been there, and neither folders that it made nor what it replaced. In version 2 a copy's changes were edits of fields
 * and a picture; in 3 texts were only XML sidecars; in 4 files from a player were recorded only after they came; in 5
 * every file belonged to an item; in 6 no list came from a player.
 * @throws {RangeError} if a newer version wrote it
 */
export function migrateJournal(kept: Kept): Journal {
  if (![1, 2, 3, 4, 5, 6, JOURNAL_VERSION].includes(kept.version))
    throw new RangeError(`version ${kept.version} of a journal is not known here`);
  return owned(kept.version >= 5 ? (kept as Journal) : fromEarlier(kept));
}

/** A run that was begun before files had owners goes on with the steps that it has. */
function owned(journal: Journal): Journal {
  const { placedBefore, steps, took } = journal;
  return {
    ...journal,
    version: JOURNAL_VERSION,
    placedBefore: placedBefore.map(ownedFile),
    steps: steps.map(ownedStep),
    ...(took && { took: { ...took, placed: took.placed.map(ownedFile), lists: took.lists ?? [] } }),
  };
}

function fromEarlier(kept: Kept): Journal {
  const placedBefore = kept.placedBefore.map((file) => ({
    ...file,
    signature: earlierSignature(file.signature),
  }));
  const second = kept.version === 1 ? fromFirst(kept) : (kept as Journal);
  const third =
    kept.version >= 3 ? second : { ...second, placedBefore, steps: second.steps.map(migrateCopy) };
  const { took } = third;
  return {
    ...third,
    steps: kept.version === 4 ? third.steps : third.steps.map(migrateText),
    // Files were recorded once all of them had come.
    ...(took && { took: { ...took, files: took.files ?? [] } }),
  };
}

type OldCopy = Omit<Extract<Step, { type: 'copy' }>, 'recipe'> & {
  readonly changes: { readonly edits: Edits; readonly picture: ChosenPicture | null } | null;
  readonly expect: Fields | null;
};

function migrateCopy(step: Step): Step {
  if (step.type === 'makeFolder' || step.type === 'agree' || step.type === 'remove') return step;
  const signature = earlierSignature(step.signature);
  if (step.type !== 'copy') return { ...step, signature };
  const { changes, expect } = step as unknown as OldCopy;
  return {
    ...step,
    signature,
    changes: changes && earlierOverlay(changes.edits, changes.picture),
    expect: expect && earlierFields(expect),
  } as Step;
}

/** A text had a step type of its own, without the type of the text. */
function migrateText(step: Step): Step {
  if ((step.type as string) !== 'writeSidecar') return step;
  return { ...(step as Extract<Step, { type: 'writeText' }>), type: 'writeText', mime: 'application/xml' };
}

function fromFirst(kept: Kept): Journal {
  const steps = (kept.steps as OldStep[]).map(migrateStep);
  const outcomes = (kept.outcomes as OldOutcome[]).map((outcome, index) =>
    migrateOutcome(outcome, steps[index] as Step, `.lectorum-held/${kept.id}/${steps[index]?.path}`),
  );
  return { ...kept, steps, outcomes };
}

type OldStep = Step & { readonly replaces?: boolean };
type OldOutcome =
  | { readonly type: 'begun'; readonly occupied: boolean }
  | { readonly type: 'done'; readonly size: number; readonly digest: string | null; readonly held: boolean }
  | {
      readonly type: 'failed';
      readonly code: FailureCode;
      readonly detail: string;
      readonly occupied: boolean;
    };

const ANYTHING: FileFacts = { size: null, digest: null };

function migrateStep(step: OldStep): Step {
  if (step.type === 'makeFolder' || step.type === 'agree') return step;
  if (step.type === 'remove') return { ...step, was: ANYTHING };
  if (step.type === 'move') return { ...step, was: ANYTHING, replaces: null };
  return { ...step, replaces: step.replaces ? ANYTHING : null };
}

const STOPPED: ReadonlySet<FailureCode> = new Set(['unreachable', 'full', 'notAllowed']);

function migrateOutcome(outcome: OldOutcome, step: Step, hold: string): Outcome {
  const put = (facts: FileFacts) => (step.type === 'remove' || step.type === 'makeFolder' ? null : facts);
  if (outcome.type === 'done') {
    const was = outcome.held ? ANYTHING : null;
    const facts = step.type === 'move' ? ANYTHING : { size: outcome.size, digest: outcome.digest };
    return { type: 'done', was, hold, made: [], put: put(facts) };
  }
  if (outcome.type === 'begun' || STOPPED.has(outcome.code))
    return { type: 'begun', was: outcome.occupied ? ANYTHING : null, hold, made: [], put: put(ANYTHING) };
  return { type: 'failed', code: outcome.code, detail: outcome.detail, hold: null };
}
