import { pathKey } from '../../naming';
import { FIELDS, sameInTags, type Edits, type FieldName, type Fields, type FieldValue } from '../../items';
import type { ListEntry } from '../../lists';
import type { Permission } from './permission';
import type { SideChoice } from './sides';
import { mayBe, type FileFacts, type PlacedFile, type ThereFile } from './files';
import type { Side, SyncPolicy } from './sides';

export type DriftType = 'removed' | 'moved' | 'changed' | 'added';

/** What another hand did on a player since both sides agreed: how what lies there is not what we left. */
export interface Drift {
  readonly type: DriftType;
  /** By the player's own idea of equal paths: where we left it, or where it was added. */
  readonly key: string;
  /** What we left; null for what was added. */
  readonly placed: PlacedFile | null;
  /** What lies there now; null for what was removed. */
  readonly file: ThereFile | null;
  /** What the curator decided of it; null where nothing was. It may be decided while all else stands. */
  decided: Side | null;
  /** Another library's run put there what lies there now: when that last ran, in milliseconds since 1970. */
  readonly by: number | null;
  /** Until when just this file lay there by our hand, in milliseconds since 1970: it came back, as from a backup. */
  readonly past: number | null;
  /** Nothing of all that we left is there: another disk, or one that was emptied. */
  readonly isWipe: boolean;
}

/** What the library wants of a file that drifted: what its copy would be, and what that would say. */
export interface WantedOfDrift {
  readonly signature: string;
  readonly fields: Fields;
}

/**
 * Which side counts. Where only the player changed, its policy decides; where the library changed as well, only
 * the library's lead does. What is `open` waits for the curator, and nothing is done about it.
 * @param wanted null where the library wants the item there no more
 */
export function sideOf(drift: Drift, policy: SyncPolicy, wanted: WantedOfDrift | null): Side | 'open' {
  if (drift.decided) return drift.decided;
  // What another curator put there is not undone, nor taken for the player's own, unless somebody said so.
  if (drift.by !== null && (drift.type === 'added' || policy === 'leads')) return 'open';
  // What a backup brought back is nobody's change.
  if (drift.past !== null && policy === 'both') return 'open';
  // What was added stays where it is: nothing that others put there is removed unless it was chosen.
  if (policy === 'leads') return 'here';
  if (policy === 'ask' || drift.isWipe) return 'open';
  return isConflict(drift, wanted) ? 'open' : 'there';
}

/** Whether the library changed what the player changed too, in another way. */
export function isConflict({ type, placed, file }: Drift, wanted: WantedOfDrift | null): boolean {
  if (type === 'added') return false;
  if (!wanted) return true;
  if (type === 'moved') return false;
  // What was changed into something that cannot be read may be damaged: nobody takes that over unasked.
  if (type === 'changed' && !file?.says) return true;
  if (wanted.signature === placed?.signature) return false;
  return !file?.says || differing(file.says, wanted.fields).length > 0;
}

/** Fields in which what a file there says differs from what is wanted of it. */
const differing = (says: Fields, wanted: Fields): readonly FieldName[] =>
  FIELDS.flatMap(({ name }) => (sameInTags(says[name], wanted[name]) ? [] : name));

/** What must be edited for an item to say what its file there says; null where it says that. */
export function differingEdits(says: Fields, wanted: Fields): Edits | null {
  const names = differing(says, wanted);
  return names.length > 0 ? Object.fromEntries(names.map((name) => [name, says[name]])) : null;
}

/** What a choice of sides was made on. */
export const factsOfDrift = ({ file }: Drift): FileFacts | null =>
  file && { size: file.size, digest: file.digest };

/**
 * Files that a look goes into: what others changed where we left it, and what may have lain elsewhere before. A place
 * that keeps no digests tells a change that left the size alone by its date.
 * @param since when both sides agreed, in milliseconds since 1970; null where that is not known
 * @param permissions others' files that were given free: whether they are the same still, only their digests tell
 * @param pastSizes until when files of so many bytes lay there by our hand, in milliseconds since 1970
 */
export function driftingOf(
  there: readonly ThereFile[],
  placed: readonly PlacedFile[],
  since: number | null = null,
  permissions: readonly Permission[] = [],
  pastSizes: ReadonlyMap<number, number> = NO_PAST,
): ReadonlySet<ThereFile> {
  const permitted = new Set(permissions.map(({ path }) => path));
  const left = leftAt(placed);
  const missed = new Set(placed);
  const found = new Set<ThereFile>();
  const others: ThereFile[] = [];
  for (const file of there) {
    const own = left(file.path);
    if (file.digest === null && permitted.has(file.path)) found.add(file);
    else if (!own) others.push(file);
    else if (!mayBe(file, own)) found.add(file);
    else if (file.digest === null && since !== null && (file.modified ?? 0) > since) found.add(file);
    // One that a backup brought back is older than what it replaced.
    else if (file.digest === null && (file.modified ?? Infinity) < (pastSizes.get(file.size) ?? 0))
      found.add(file);
    // What lies where a changed file lay may lie elsewhere itself.
    if (own && !found.has(file)) missed.delete(own);
  }
  const sizes = new Set([...missed].map(({ size }) => size));
  for (const file of others)
    if (file.digest === null && (sizes.has(file.size) || pastSizes.has(file.size))) found.add(file);
  return found;
}

const NO_PAST: ReadonlyMap<number, number> = new Map();
const BLIND = { caseSensitive: false, unicode: 'NFC' } as const;

/** What was left at a path, which a player may spell in its own letter case; nothing where it is agreed to be gone. */
export function leftAt(placed: readonly PlacedFile[]): (path: string) => PlacedFile | undefined {
  const here = placed.filter(({ gone }) => !gone);
  const exact = new Map(here.map((one) => [one.path, one]));
  const folded = new Map(here.map((one) => [pathKey(one.path, BLIND), one]));
  return (path) => exact.get(path) ?? folded.get(pathKey(path, BLIND));
}

/** An entry that both sides do not have at the same place, by its place on each from 0 on; null where it is not there. */
export interface EntrySides {
  readonly entry: ListEntry;
  readonly left: number | null;
  readonly here: number | null;
  readonly there: number | null;
  /** Both sides did something else to it. */
  readonly isConflict: boolean;
}

/** Both sides of one file, for the curator to choose between. */
export interface SidesOf {
  /** Where we left it, and where it lies now; null where nothing does. */
  readonly left: string | null;
  readonly now: string | null;
  /** What a choice between them is kept under. */
  readonly file: Omit<SideChoice, 'side'>;
  /** What the library says and what the file there says, where they differ. */
  readonly fields: readonly {
    readonly name: FieldName;
    readonly here: FieldValue;
    readonly there: FieldValue;
  }[];
  /** Of a list: what was done to its entries on either side. */
  readonly entries?: readonly EntrySides[];
}

/** What a choice about a drift is kept under, and the file that it was made on. */
export const choiceOf = (drift: Drift): Omit<SideChoice, 'side'> => ({
  path: drift.placed?.path ?? drift.file?.path ?? '',
  was: factsOfDrift(drift),
});

export function sidesOf(drift: Drift, wanted: WantedOfDrift | null): SidesOf {
  const { placed, file } = drift;
  const says = file?.says;
  const fields =
    says && wanted
      ? differing(says, wanted.fields).map((name) => ({ name, here: wanted.fields[name], there: says[name] }))
      : [];
  return { left: placed?.path ?? null, now: file?.path ?? null, file: choiceOf(drift), fields };
}
