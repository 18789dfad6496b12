import type { FrontPicture } from '../../items';
import { encodingOf, type ListFileType } from '../../list-files';
import type { ListId } from '../../lists';
import { lengthIn } from '../../naming';
import type { ListRules } from '../../rulebooks';
import type { Outgoing } from '../names/outgoing';
import { bytesBy, type Recipe } from '../outgoing/recipe';
import { ofItem, type Owner } from '../owner';
import type { PathKeys } from '../path-keys';
import type { TreeFile } from '../shown/showing';
import type { OriginalFile, Step } from '../step';
import type { FileFacts } from '../there/files';
import type { Ours } from '../there/there';

/** What becomes of something wanted: it is there, it comes from where it lies on the player, or it is written. */
export type Action = { readonly type: 'current' | 'write' } | { readonly type: 'move'; readonly from: Ours };

export const CURRENT: Action = { type: 'current' };
export const WRITE: Action = { type: 'write' };

/** What becomes of a file of ours on the player. `kept` where something blocks its owner. */
export type Fate = 'stays' | 'leaves' | 'kept' | 'goes';

/** How what is wanted comes to be. */
export type Making =
  | { readonly type: 'copy'; readonly original: OriginalFile; readonly recipe: Recipe }
  | { readonly type: 'writePicture'; readonly original: OriginalFile; readonly picture: FrontPicture }
  | {
      readonly type: 'writeText';
      readonly mime: string;
      readonly text: string;
      /** UTF-8 unless told. */
      readonly encoding?: 'windows-1252';
    };

/** Something that should lie on the player after the run. */
export interface Want {
  readonly path: string;
  /** The path by the player's own idea of equal ones. */
  readonly key: string;
  readonly owner: Owner;
  /** Of its item, or of the first of those that it is for: rises in the order in which they came. */
  readonly order: number;
  readonly making: Making;
  /** Changes when its bytes would change. */
  readonly signature: string;
  /** It goes where the player has it, whatever the rulebook calls it. */
  readonly kept: boolean;
  /** What the player reads of it, where it is no media file. */
  readonly file: TreeFile | null;
  /** Null until it was held against what lies there. */
  action: Action | null;
}

export function copyOf(out: Outgoing, keys: PathKeys): Want {
  const { entry, known, path, place, takes, order } = out;
  return {
    path,
    key: place.alike ? keys.of(path) : takes,
    owner: ofItem(entry.id),
    order,
    making: { type: 'copy', original: known.original, recipe: known.recipe },
    signature: known.signature,
    kept: entry.keptAt === path,
    file: null,
    action: null,
  };
}

export const textBeside = (
  { entry, order }: Outgoing,
  path: string,
  mime: string,
  text: string,
  keys: PathKeys,
): Want => ({
  path,
  key: keys.of(path),
  owner: ofItem(entry.id),
  order,
  making: { type: 'writeText', mime, text },
  signature: text,
  kept: false,
  file: { path, role: 'sidecar', item: null, kind: null, fields: null, text },
  action: null,
});

/** @param first the item whose picture it is, or the first of those that it is for */
export const pictureBeside = (
  first: Outgoing,
  owner: Owner,
  path: string,
  picture: FrontPicture,
  keys: PathKeys,
): Want => ({
  path,
  key: keys.of(path),
  owner,
  order: first.order,
  making: { type: 'writePicture', original: first.known.original, picture },
  signature: picture.key,
  kept: false,
  file: { path, role: 'picture', item: null, kind: null, fields: null, text: null },
  action: null,
});

const LIST_MIMES: Readonly<Record<ListFileType, string>> = {
  m3u8: 'audio/x-mpegurl',
  m3u: 'audio/x-mpegurl',
  xspf: 'application/xspf+xml',
  pls: 'audio/x-scpls',
  text: 'text/plain',
};

/** @param order of the first item in it */
export const listFile = (
  list: ListId,
  path: string,
  { text, rules }: { readonly text: string; readonly rules: ListRules },
  order: number,
  keys: PathKeys,
): Want => ({
  path,
  key: keys.of(path),
  owner: { type: 'list', list },
  order,
  making: {
    type: 'writeText',
    mime: LIST_MIMES[rules.format],
    text,
    ...(encodingOf({ type: rules.format, encoding: rules.encoding }) === 'windows-1252' && {
      encoding: 'windows-1252',
    }),
  },
  signature: text,
  kept: false,
  file: { path, role: 'list', item: null, kind: null, fields: null, text },
  action: null,
});

/** Whether a copy is to say something else than its original does, or to say it in another format. */
export const isTagged = ({ making }: Want): boolean =>
  making.type === 'copy' && making.recipe.type !== 'asIs';

/** Bytes that it takes there, of pictures and copies about. */
export function bytesOf({ making }: Want): number {
  switch (making.type) {
    case 'copy':
      return bytesBy(making.recipe, making.original.size);
    case 'writePicture':
      return making.picture.bytes;
    case 'writeText':
      return lengthIn(making.text, 'bytes');
  }
}

/** The step that puts it there. */
export function stepFor(
  { path, owner, making, signature, kept }: Want,
  replaces: FileFacts | null,
): Extract<Step, { type: Making['type'] }> {
  const made = { ...making, path, owner, replaces, signature };
  return made.type === 'copy' && kept ? { ...made, kept } : made;
}
