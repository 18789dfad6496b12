import type { Step } from '../step';
import type { Drift, WantedOfDrift } from '../there/drift';
import type { PlacedFile, ThereFile } from '../there/files';
import type { Side } from '../there/sides';
import type { Ours } from '../there/there';

/** Records what both sides agree on without touching a file. */
export type Agree = Extract<Step, { type: 'agree' }>;

/** The file is there as if a run of ours had written it, and is recorded as such. */
export const foundThere = ({ file: { path, size, digest }, placed }: Ours): Agree => ({
  type: 'agree',
  path,
  from: placed.path,
  was: { size, digest },
  record: placed,
});

/** The file is the player's own and needs no further decision. */
function leave({ path, size, digest }: ThereFile): Agree {
  const record = { path, owner: null, signature: '', size, digest, theirs: true } as const;
  return { type: 'agree', path, from: path, was: { size, digest }, record };
}

/** What both sides agree on once one of them was chosen; null if there is nothing to record. */
export function agreeOn(
  { type, placed, file, decided }: Drift,
  found: ThereFile | null,
  side: Side | 'open',
  wanted: WantedOfDrift | null,
  isMedia: boolean,
): Agree | null {
  // Added files that stay are only agreed on by a decision of the curator, not by a policy.
  if (!placed) return decided === 'here' && file ? leave(file) : null;
  const from = placed.path;
  if (type === 'removed' || !file) {
    if (wanted && side === 'open') return null;
    // A file that is copied again may get another name. What neither side has any more is forgotten.
    const record = wanted && side === 'there' ? { ...placed, gone: true as const } : null;
    // Another file of ours may meanwhile be at its old path.
    const was = found && { size: found.size, digest: found.digest };
    return { type: 'agree', path: found?.path ?? from, from, was, record };
  }
  if (side === 'open' || (side === 'here' && type !== 'moved')) return null;
  const { path, size, digest } = file;
  const agreed = { ...placed, size, digest: digest ?? (type === 'moved' ? placed.digest : null) };
  const was = { size, digest: agreed.digest };
  const record = (): PlacedFile => {
    // It is moved back from where it is now.
    if (side === 'here') return { ...agreed, path };
    if (!wanted) return { ...agreed, path, owner: null, theirs: true };
    if (!isMedia) return { ...agreed, theirs: true };
    return type === 'moved' ? { ...agreed, path, kept: true } : { ...agreed, signature: wanted.signature };
  };
  return { type: 'agree', path, from, was, record: record() };
}
