import { mayBe, type FileFacts, type ThereFile } from './files';

/** Another hand's file that the curator gave free. It holds for that very file, never for whatever bears its name. */
export interface Permission {
  readonly path: string;
  /** The file as it was when it was given free. Without a digest it proves nothing, and permits nothing. */
  readonly was: FileFacts;
}

/**
 * Whether a permission is for this file. A listing without a digest leaves that to the run, which reads the file
 * before it touches it.
 */
export const permits = ({ was }: Permission, file: ThereFile): boolean =>
  was.digest !== null && was.size !== null && mayBe(file, was);
