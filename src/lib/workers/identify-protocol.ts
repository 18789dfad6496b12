import type { Decisions, LineFile, ReferenceEntry, ReferenceRelease } from '$lib/core/identify';

/** What is asked of a set of files and of what a reference says; nothing is kept from one question to the next. */
export type IdentifyRequest =
  | {
      readonly type: 'rank';
      readonly id: number;
      readonly files: readonly LineFile[];
      readonly words: string;
      readonly releases: readonly ReferenceRelease[];
    }
  | {
      readonly type: 'propose';
      readonly id: number;
      readonly files: readonly LineFile[];
      readonly words: string;
      readonly releases: readonly ReferenceRelease[];
      readonly whole: string | null;
    }
  | {
      readonly type: 'lineUp';
      readonly id: number;
      readonly files: readonly LineFile[];
      readonly entries: readonly ReferenceEntry[];
      readonly decisions: Decisions;
    };
