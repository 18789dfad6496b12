import type { FileFacts } from '../there/files';
import type { Remedy } from './finding';

/** The remedy with the digests of its files. If the listing has none, they are computed from the files. */
export async function provenRemedy(
  remedy: Remedy | null,
  digestOf: (path: string) => Promise<string | null>,
): Promise<Remedy | null> {
  if (remedy?.type === 'decide') return { ...remedy, files: await proveAll(remedy.files, digestOf) };
  if (remedy?.type !== 'choose') return remedy;
  const { replace, renames, removes, sides } = remedy.add;
  return {
    ...remedy,
    add: {
      ...remedy.add,
      ...(replace && { replace: await proveAll(replace, digestOf) }),
      ...(renames && { renames: await proveAll(renames, digestOf) }),
      ...(removes && { removes: await proveAll(removes, digestOf) }),
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
