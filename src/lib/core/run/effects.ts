import type { ByteSource } from '../bytes';
import type { FileFacts, Step, ThereFile } from '../plan';
import type { FailureCode, Outcome } from './journal';
import type { Store } from './store';

/** A step that cannot be done for a reason outside the store; the rest of the run goes on. */
export class StepError extends Error {
  override readonly name = 'StepError';
  constructor(
    readonly code: FailureCode,
    detail: string,
  ) {
    super(detail);
  }
}

export type WritingStep = Extract<Step, { type: 'copy' | 'writePicture' | 'writeText' }>;

/** Saves the journal. Nothing is changed on the place before this resolves. */
export type SaveOutcomes = (outcomes: readonly Outcome[], changedFrom: number) => Promise<void>;
/** SHA-256 in hexadecimal of all bytes of a source. */
export type DigestOf = (source: ByteSource) => Promise<string>;

/** What a run needs apart from the store. */
export interface RunEffects<Content> {
  /** The bytes that a step puts there. @throws {StepError} when they cannot be made */
  content(step: WritingStep): Promise<Content>;
  /** Reads back what was written. @throws {StepError} if it does not contain what it should */
  check(step: WritingStep, written: ByteSource): Promise<void>;
  readonly digest: DigestOf;
  readonly save: SaveOutcomes;
  /** Called after every step with how many have ended. */
  progress(ended: number): void;
  isCancelled(): boolean;
}

/** Failures after which all further steps would fail too: the run stops and can be resumed. */
export const STOPPING: ReadonlySet<FailureCode> = new Set(['unreachable', 'full', 'notAllowed']);

/** Whether a file on a place is the one that is meant, by its digest. If the place keeps none, the file is read. */
export async function isTheOne<Content>(
  found: ThereFile,
  meant: FileFacts,
  store: Store<Content>,
  digest: DigestOf,
): Promise<boolean> {
  if (meant.size !== null && found.size !== meant.size) return false;
  if (meant.digest === null) return true;
  return (found.digest ?? (await digest(await store.read(found.path)))) === meant.digest;
}

/** Removes these folders, in this order, as far as they are empty. */
export async function pruneFolders<Content>(folders: Iterable<string>, store: Store<Content>): Promise<void> {
  for (const folder of folders) await store.removeEmptyFolder(folder);
}
