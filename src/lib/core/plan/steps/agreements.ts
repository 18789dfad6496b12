import type { Step } from '../step';
import type { Drift, WantedOfDrift } from '../there/drift';
import type { PlacedFile, ThereFile } from '../there/files';
import type { Side } from '../there/sides';
import type { Ours } from '../there/there';

/** A note of what both sides agree on, where no file is touched for it. */
export type Agree = Extract<Step, { type: 'agree' }>;

/** It lies there as if we had put it there, and is noted so. */
export const foundThere = ({ file: { path, size, digest }, placed }: Ours): Agree => ({
  type: 'agree',
  path,
  from: placed.path,
  was: { size, digest },
  record: placed,
});

/** It is the player's own, and is asked for no more. */
function leave({ path, size, digest }: ThereFile): Agree {
  const record = { path, owner: null, signature: '', size, digest, theirs: true } as const;
  return { type: 'agree', path, from: path, was: { size, digest }, record };
}

/** What both sides agree on once a side counts; null where there is nothing to be noted. */
export function agreeOn(
  { type, placed, file, decided }: Drift,
  found: ThereFile | null,
  side: Side | 'open',
  wanted: WantedOfDrift | null,
  isMedia: boolean,
): Agree | null {
  // What stays where others put it is agreed on where the curator said so; a policy says nothing of it.
  if (!placed) return decided === 'here' && file ? leave(file) : null;
  const from = placed.path;
  if (type === 'removed' || !file) {
    if (wanted && side === 'open') return null;
    // What is put there again may get another name; what neither side has any more is forgotten.
    const record = wanted && side === 'there' ? { ...placed, gone: true as const } : null;
    // Another file of ours may have come to lie where it lay.
    const was = found && { size: found.size, digest: found.digest };
    return { type: 'agree', path: found?.path ?? from, from, was, record };
  }
  if (side === 'open' || (side === 'here' && type !== 'moved')) return null;
  const { path, size, digest } = file;
  const agreed = { ...placed, size, digest: digest ?? (type === 'moved' ? placed.digest : null) };
  const was = { size, digest: agreed.digest };
  const record = (): PlacedFile => {
    // It goes back from where it lies now.
    if (side === 'here') return { ...agreed, path };
    if (!wanted) return { ...agreed, path, owner: null, theirs: true };
    if (!isMedia) return { ...agreed, theirs: true };
    return type === 'moved' ? { ...agreed, path, kept: true } : { ...agreed, signature: wanted.signature };
  };
  return { type: 'agree', path, from, was, record: record() };
}
