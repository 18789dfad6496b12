import type { Entry, Outgoing } from './entry';
import type { PathKeys } from './path-keys';
import type { PlanItem, PlanPicture } from './plan-item';
import type { TreeFile } from './showing';
import type { FileFacts, Step } from './step';
import type { Ours } from './there';

/** What becomes of something wanted: it is there, it comes from where it lies on the player, or it is written. */
export type Action = { readonly type: 'current' | 'write' } | { readonly type: 'move'; readonly from: Ours };

export const CURRENT: Action = { type: 'current' };
export const WRITE: Action = { type: 'write' };

/** Something that should lie on the player after the run. */
export interface Want {
  readonly type: 'copy' | 'writePicture' | 'writeText';
  readonly path: string;
  /** The path by the player's own idea of equal ones. */
  readonly key: string;
  readonly entry: Entry;
  /** The item as it was when this was wanted of it. */
  readonly item: PlanItem;
  readonly signature: string;
  /** The version of ID3v2 that a copy's tag gets; null where it stays. The entry may know another one by now. */
  readonly id3: 3 | null;
  /** It goes where the player has it, whatever the rulebook calls it. */
  readonly kept: boolean;
  /** What it writes, beside a copy. */
  readonly writes: { readonly mime: string; readonly text: string } | PlanPicture | null;
  /** What the player reads of it, where it is no media file. */
  readonly file: TreeFile | null;
  /** Null until it was held against what lies there. */
  action: Action | null;
}

export const copyOf = ({ entry, item, path, place, takes }: Outgoing, keys: PathKeys): Want => ({
  type: 'copy',
  path,
  key: place.alike ? keys.of(path) : takes,
  entry,
  item,
  signature: entry.known.signature,
  id3: entry.known.id3,
  kept: entry.keptAt === path,
  writes: null,
  file: null,
  action: null,
});

export const textBeside = (
  { entry, item }: Outgoing,
  path: string,
  mime: string,
  text: string,
  keys: PathKeys,
): Want => ({
  type: 'writeText',
  path,
  key: keys.of(path),
  entry,
  item,
  signature: text,
  id3: null,
  kept: false,
  writes: { mime, text },
  file: { path, role: 'sidecar', item: null, kind: null, fields: null, text },
  action: null,
});

export const pictureBeside = (
  { entry, item }: Outgoing,
  path: string,
  picture: PlanPicture,
  keys: PathKeys,
): Want => ({
  type: 'writePicture',
  path,
  key: keys.of(path),
  entry,
  item,
  signature: picture.key,
  id3: null,
  kept: false,
  writes: picture,
  file: { path, role: 'picture', item: null, kind: null, fields: null, text: null },
  action: null,
});

/** Whether a copy gets other tags than its original has. */
export const isTagged = ({ type, item, id3 }: Want): boolean =>
  type === 'copy' && (Object.keys(item.outgoing).length > 0 || id3 !== null);

/** The step that puts it there. */
export function stepFor(want: Want, replaces: FileFacts | null): Step {
  const { path, signature, item, id3, writes, kept } = want;
  const original = { source: item.source, path: item.path, size: item.size };
  const made = { path, item: item.id, replaces, signature };
  if (writes === null) {
    const changes = isTagged(want) ? item.outgoing : null;
    const expect = changes && item.outgoingFields;
    const kind = changes && item.outgoingKind;
    const own = { ...made, ...(kind && { kind }), ...(kept && { kept }), ...(id3 !== null && { id3 }) };
    return { type: 'copy', ...own, original, format: item.format, changes, expect };
  }
  if ('text' in writes) return { type: 'writeText', ...made, ...writes };
  return { type: 'writePicture', ...made, original, picture: writes };
}
