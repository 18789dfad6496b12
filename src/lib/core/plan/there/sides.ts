import type { FileFacts } from './files';

/** The side that wins if a file on the player changed: the library (`here`) or the player (`there`). */
export type Side = 'here' | 'there';

/** Who decides if the curator did not: the library, the side that changed alone, or nobody. */
export const SYNC_POLICIES = ['leads', 'both', 'ask'] as const;
export type SyncPolicy = (typeof SYNC_POLICIES)[number];

/** The curator's decision about one file that changed on the player. */
export interface SideChoice {
  /** Where we left it; for an added file, where it is. */
  readonly path: string;
  /** The file that was found, null for none. The decision does not apply to any other. */
  readonly was: FileFacts | null;
  readonly side: Side;
}
