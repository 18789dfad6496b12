import type { FrontPicture, SourceId } from '../items';
import type { Recipe } from './outgoing/recipe';
import type { Owner } from './owner';
import type { FileFacts, PlacedFile } from './there/files';

/** Where an original lies, and how many bytes it had when the run was planned. */
export interface OriginalFile {
  readonly source: SourceId;
  readonly path: string;
  readonly size: number;
}

/**
 * One act on a player. A run sheet is a list of them in order; nothing is written until it is applied.
 * `replaces` and `was` say what the plan saw at a path: a run that finds something else there leaves it alone.
 */
export type Step =
  /**
   * Nothing is written: both sides agree on what lies at a path, or that nothing does, and it is noted as what we left
   * there. `from` is the path that it was noted under; a null record forgets it.
   */
  | {
      readonly type: 'agree';
      readonly path: string;
      readonly from: string;
      readonly was: FileFacts | null;
      readonly record: PlacedFile | null;
    }
  | { readonly type: 'makeFolder'; readonly path: string }
  | {
      readonly type: 'copy';
      readonly path: string;
      readonly owner: Owner;
      readonly original: OriginalFile;
      readonly recipe: Recipe;
      readonly replaces: FileFacts | null;
      /** Names what the bytes are made of: the original as it was taken in, and its recipe. */
      readonly signature: string;
      /** It goes where the player has it, whatever the rulebook calls it. */
      readonly kept?: true;
    }
  | {
      readonly type: 'writePicture';
      readonly path: string;
      readonly owner: Owner;
      /** Whose picture it is, where none was chosen. */
      readonly original: OriginalFile;
      readonly picture: FrontPicture;
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | {
      readonly type: 'writeText';
      readonly path: string;
      readonly owner: Owner;
      readonly mime: string;
      readonly text: string;
      /** UTF-8 unless told. */
      readonly encoding?: 'windows-1252';
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | {
      readonly type: 'move';
      readonly from: string;
      readonly path: string;
      /** Null for a file of others that is renamed. */
      readonly owner: Owner | null;
      /** What is to be moved. */
      readonly was: FileFacts;
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | { readonly type: 'remove'; readonly path: string; readonly was: FileFacts };

export type StepType = Step['type'];
export const STEP_TYPES: readonly StepType[] = [
  'agree',
  'makeFolder',
  'copy',
  'writePicture',
  'writeText',
  'move',
  'remove',
];

/** A step of the last run that failed, and would be done again: the finding about it says why. */
export interface FailedStep {
  readonly path: string;
  /** Why, in the words of runs. */
  readonly code: string;
  readonly detail: string;
}
