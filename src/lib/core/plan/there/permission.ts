import { mayBe, type FileFacts, type ThereFile } from './files';

/**
 * A foreign file that the curator allowed to be replaced. The permission is for this very file, not for any file at its
 * path.
 */
export interface Permission {
  readonly path: string;
  /** The file when permission was given. Without a digest it proves nothing and permits nothing. */
  readonly was: FileFacts;
}

/** Whether a permission is for this file. If the listing has no digest, the run decides, which reads the file first. */
export const permits = ({ was }: Permission, file: ThereFile): boolean =>
  was.digest !== null && was.size !== null && mayBe(file, was);
