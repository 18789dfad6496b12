import type { Remedy } from './step';
import { mayBe, type FileFacts, type ThereFile } from './step';

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

/** A remedy whose files are told by their digests, read from the place where its listing has none. */
export async function provenRemedy(
  remedy: Remedy | null,
  digestOf: (path: string) => Promise<string | null>,
): Promise<Remedy | null> {
  if (remedy?.type === 'decide') return { ...remedy, files: await proveAll(remedy.files, digestOf) };
  if (remedy?.type !== 'choose') return remedy;
  const { replace, renames, sides } = remedy.add;
  return {
    ...remedy,
    add: {
      ...remedy.add,
      ...(replace && { replace: await proveAll(replace, digestOf) }),
      ...(renames && { renames: await proveAll(renames, digestOf) }),
      ...(sides && { sides: await proveAll(sides, digestOf) }),
    },
  };
}

async function proveAll<T extends { readonly path: string; readonly was: FileFacts | null }>(
  files: readonly T[],
  digestOf: (path: string) => Promise<string | null>,
): Promise<readonly T[]> {
  const proven: T[] = [];
  for (const file of files)
    proven.push(
      file.was && file.was.digest === null
        ? { ...file, was: { ...file.was, digest: await digestOf(file.path) } }
        : file,
    );
  return proven;
}
