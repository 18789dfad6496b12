import type { FrontPicture, SourceId } from '../items';
import type { Recipe } from './outgoing/recipe';
import type { Owner } from './owner';
import type { FileFacts, PlacedFile } from './there/files';

/** Where an original is, and its size in bytes when the run was planned. */
export interface OriginalFile {
  readonly source: SourceId;
  readonly path: string;
  readonly size: number;
}

/**
 * One act on a player. A run sheet is an ordered list of them; nothing is written until it is applied. `replaces` and
 * `was` hold what the plan found at a path: if a run finds something else there, it leaves it alone.
 */
export type Step =
  /**
   * Records that both sides agree on the file at a path, or that there is none. Nothing is written. `from` is the path
   * under which it was recorded before; a null record deletes the entry.
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
      /** Identifies the bytes: the original as it was taken in, and the recipe applied to it. */
      readonly signature: string;
      /** It stays at the path that it has on the player, whatever the rulebook says. */
      readonly kept?: true;
    }
  | {
      readonly type: 'writePicture';
      readonly path: string;
      readonly owner: Owner;
      /** The item whose picture it is, unless one was chosen. */
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
      /** UTF-8 if absent. */
      readonly encoding?: 'windows-1252';
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | {
      readonly type: 'move';
      readonly from: string;
      readonly path: string;
      /** Null for a foreign file that is renamed. */
      readonly owner: Owner | null;
      /** The file to move. */
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

/** A step of the last run that failed and would be repeated. Its finding gives the reason. */
export interface FailedStep {
  readonly path: string;
  /** The reason, as runs report it. */
  readonly code: string;
  readonly detail: string;
}
