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

/** How a wanted file comes about: it is already there, it is moved from elsewhere on the player, or it is written. */
export type Action = { readonly type: 'current' | 'write' } | { readonly type: 'move'; readonly from: Ours };

export const CURRENT: Action = { type: 'current' };
export const WRITE: Action = { type: 'write' };

/** What happens to a file of ours on the player. `kept`: its owner is held back. */
export type Fate = 'stays' | 'leaves' | 'kept' | 'goes';

/** How the content of a wanted file is made. */
export type Making =
  | { readonly type: 'copy'; readonly original: OriginalFile; readonly recipe: Recipe }
  | { readonly type: 'writePicture'; readonly original: OriginalFile; readonly picture: FrontPicture }
  | {
      readonly type: 'writeText';
      readonly mime: string;
      readonly text: string;
      /** UTF-8 if absent. */
      readonly encoding?: 'windows-1252';
    };

/** A file that should be on the player after the run. */
export interface Want {
  readonly path: string;
  /** The key under which the player treats paths as equal. */
  readonly key: string;
  readonly owner: Owner;
  /** The order of arrival of its item, or of the first of several. */
  readonly order: number;
  readonly making: Making;
  /** Changes when its bytes would change. */
  readonly signature: string;
  /** It stays at the path that it has on the player, whatever the rulebook says. */
  readonly kept: boolean;
  /** What the player reads of it, unless it is a media file. */
  readonly file: TreeFile | null;
  /** Null until it was compared with the files on the player. */
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

/** @param first the item that the picture comes from, or the first of those that share it */
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

/** Whether a copy has other tags or another format than its original. */
export const isTagged = ({ making }: Want): boolean =>
  making.type === 'copy' && making.recipe.type !== 'asIs';

/** Its size there in bytes; approximate for pictures and copies. */
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

/** The step that writes it. */
export function stepFor(
  { path, owner, making, signature, kept }: Want,
  replaces: FileFacts | null,
): Extract<Step, { type: Making['type'] }> {
  const made = { ...making, path, owner, replaces, signature };
  return made.type === 'copy' && kept ? { ...made, kept } : made;
}
