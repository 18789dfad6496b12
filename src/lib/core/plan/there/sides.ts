import type { FileFacts } from './files';

/** Which side counts where what lies there is not what we left: the library's, or the player's. */
export type Side = 'here' | 'there';

/** Who decides that, where the curator said nothing of a file: the library, both where only one changed, or nobody. */
export const SYNC_POLICIES = ['leads', 'both', 'ask'] as const;
export type SyncPolicy = (typeof SYNC_POLICIES)[number];

/** What the curator decided of one file that is not as we left it. */
export interface SideChoice {
  /** Where we left it; of a file that was added, where it lies. */
  readonly path: string;
  /** What was found of it, null for nothing: what is found later may be something else. */
  readonly was: FileFacts | null;
  readonly side: Side;
}
