import { pathKey } from '../../naming';
import { FIELDS, sameInTags, type Edits, type FieldName, type Fields, type FieldValue } from '../../items';
import type { ListEntry } from '../../lists';
import type { Permission } from './permission';
import type { SideChoice } from './sides';
import { mayBe, type FileFacts, type PlacedFile, type ThereFile } from './files';
import type { Side, SyncPolicy } from './sides';

export type DriftType = 'removed' | 'moved' | 'changed' | 'added';

/** A change made on a player since both sides last agreed: how a file differs from what we left there. */
export interface Drift {
  readonly type: DriftType;
  /** Key of the path where we left it, or where it was added. */
  readonly key: string;
  /** The file as we left it; null if it was added. */
  readonly placed: PlacedFile | null;
  /** The file as it is now; null if it was removed. */
  readonly file: ThereFile | null;
  /** The curator's decision about it; null for none. It can change while all else stays the same. */
  decided: Side | null;
  /** The file was written by another library: when that library last ran, in milliseconds since 1970. */
  readonly by: number | null;
  /** The file was ours earlier and came back, as from a backup: until when it was there, in milliseconds since 1970. */
  readonly past: number | null;
  /** None of our files are there: another disk, or one that was emptied. */
  readonly isWipe: boolean;
}

/** What the library wants in place of a file that drifted: its copy, and the content of its tags. */
export interface WantedOfDrift {
  readonly signature: string;
  readonly fields: Fields;
}

/**
 * Which side is chosen. If only the player changed, its policy decides; if the library changed too, only the policy
 * `leads` does. `open` waits for the curator, and the file is left alone.
 * @param wanted null if the library no longer wants the item there
 */
export function sideOf(drift: Drift, policy: SyncPolicy, wanted: WantedOfDrift | null): Side | 'open' {
  if (drift.decided) return drift.decided;
  // Files of another curator are neither overwritten nor treated as the player's own without a decision.
  if (drift.by !== null && (drift.type === 'added' || policy === 'leads')) return 'open';
  // Files restored from a backup are not a change by anybody.
  if (drift.past !== null && policy === 'both') return 'open';
  // Added files stay: foreign files are only removed by decision.
  if (policy === 'leads') return 'here';
  if (policy === 'ask' || drift.isWipe) return 'open';
  return isConflict(drift, wanted) ? 'open' : 'there';
}

/** Whether the library and the player changed the same file differently. */
export function isConflict({ type, placed, file }: Drift, wanted: WantedOfDrift | null): boolean {
  if (type === 'added') return false;
  if (!wanted) return true;
  if (type === 'moved') return false;
  // A changed file that cannot be read may be damaged, so it is never taken over without a decision.
  if (type === 'changed' && !file?.says) return true;
  if (wanted.signature === placed?.signature) return false;
  return !file?.says || differing(file.says, wanted.fields).length > 0;
}

/** Fields in which the tags of a file on the player differ from the wanted ones. */
const differing = (says: Fields, wanted: Fields): readonly FieldName[] =>
  FIELDS.flatMap(({ name }) => (sameInTags(says[name], wanted[name]) ? [] : name));

/** The edits with which an item matches its file on the player; null if it matches already. */
export function differingEdits(says: Fields, wanted: Fields): Edits | null {
  const names = differing(says, wanted);
  return names.length > 0 ? Object.fromEntries(names.map((name) => [name, says[name]])) : null;
}

/** The facts that a choice of sides is based on. */
export const factsOfDrift = ({ file }: Drift): FileFacts | null =>
  file && { size: file.size, digest: file.digest };

/**
 * Files that have to be read: those that changed where we left them, and those that may have been elsewhere before.
 * Without digests, a change that kept the size is detected by its date.
 * @param since when both sides agreed, in milliseconds since 1970; null if unknown
 * @param permissions foreign files that may be replaced: only their digests prove that they are unchanged
 * @param pastSizes until when files of these sizes, in bytes, were ours, in milliseconds since 1970
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
    // A file restored from a backup is older than the one that it replaced.
    else if (file.digest === null && (file.modified ?? Infinity) < (pastSizes.get(file.size) ?? 0))
      found.add(file);
    // The file that was at the path of a changed one may be elsewhere now.
    if (own && !found.has(file)) missed.delete(own);
  }
  const sizes = new Set([...missed].map(({ size }) => size));
  for (const file of others)
    if (file.digest === null && (sizes.has(file.size) || pastSizes.has(file.size))) found.add(file);
  return found;
}

const NO_PAST: ReadonlyMap<number, number> = new Map();
const BLIND = { caseSensitive: false, unicode: 'NFC' } as const;

/**
 * The file that we left at a path, which the player may spell in another case; nothing if both sides agreed that it is
 * gone.
 */
export function leftAt(placed: readonly PlacedFile[]): (path: string) => PlacedFile | undefined {
  const here = placed.filter(({ gone }) => !gone);
  const exact = new Map(here.map((one) => [one.path, one]));
  const folded = new Map(here.map((one) => [pathKey(one.path, BLIND), one]));
  return (path) => exact.get(path) ?? folded.get(pathKey(path, BLIND));
}

/** An entry whose position differs between the sides; null where it does not exist. Positions begin at 0. */
export interface EntrySides {
  readonly entry: ListEntry;
  readonly left: number | null;
  readonly here: number | null;
  readonly there: number | null;
  /** Both sides changed it differently. */
  readonly isConflict: boolean;
}

/** Both versions of one file, for the curator to choose between. */
export interface SidesOf {
  /** Where we left it, and where it is now; null if nowhere. */
  readonly left: string | null;
  readonly now: string | null;
  /** The key under which a choice is stored. */
  readonly file: Omit<SideChoice, 'side'>;
  /** The fields that differ between the library and the file there. */
  readonly fields: readonly {
    readonly name: FieldName;
    readonly here: FieldValue;
    readonly there: FieldValue;
  }[];
  /** For a list: what each side did to its entries. */
  readonly entries?: readonly EntrySides[];
}

/** The key under which a choice about a drift is stored, with the file that it was made for. */
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
