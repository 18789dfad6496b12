import type { Facts, FormatId, Track } from '$lib/core/items';
import type { SoundRecipe, TwinFault, TwinId, TwinRecipe } from '$lib/core/twins';

/** What a worker that converts is asked. */
export type ConvertQuestion =
  | ConvertRequest
  | AssembleRequest
  /** Whether files can be encoded by a recipe here. */
  | { readonly type: 'canEncode'; readonly id: number; readonly recipe: TwinRecipe };

/** Makes a twin of a file, in the browser's private file system, and checks it. Parts tell seconds that are done. */
export interface ConvertRequest {
  readonly type: 'make';
  readonly id: number;
  readonly library: string;
  readonly twin: TwinId;
  readonly file: Blob;
  readonly format: FormatId;
  readonly recipe: TwinRecipe;
  /** Seconds that the original lasts, as far as it says. */
  readonly seconds: number;
  /** Whether it says so for certain: then all of them must decode. */
  readonly isWhole: boolean;
}

/** A stretch of a file's sound, seconds; null for its end. */
export interface AssemblePart {
  /** What it is called where it cannot be decoded. */
  readonly name: string;
  readonly file: Blob;
  readonly format: FormatId;
  readonly fromSeconds: number;
  readonly toSeconds: number | null;
  /** Seconds that must decode of it; null where its file does not say for certain how long it is. */
  readonly leastSeconds: number | null;
}

/** Joins parts of files into one, in the browser's private file system, and checks it. Parts tell seconds that are written. */
export interface AssembleRequest {
  readonly type: 'assemble';
  readonly id: number;
  readonly library: string;
  /** Its file's name. */
  readonly twin: TwinId;
  readonly parts: readonly AssemblePart[];
  readonly recipe: SoundRecipe;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** Seconds that the parts last together, as far as is known. */
  readonly seconds: number;
}

export type AssembleResult =
  | {
      readonly type: 'assembled';
      readonly file: File;
      /** Seconds at which each part begins. */
      readonly starts: readonly number[];
    }
  | Extract<ConvertResult, { type: 'failed' }>;

/** Why a twin was not made. */
export type ConvertFailure =
  'noDecoder' | 'noEncoder' | 'undecodable' | 'full' | 'streams' | 'failed' | TwinFault;

export type ConvertResult =
  | {
      readonly type: 'made';
      readonly size: number;
      readonly format: FormatId;
      readonly facts: Facts;
      /** Those of a container that holds several. */
      readonly tracks?: readonly Track[];
    }
  | { readonly type: 'failed'; readonly code: ConvertFailure; readonly detail: string };
