import type { ItemId } from '../../items';
import type { Rulebook } from '../../rulebooks';
import type { Entry } from '../entry';
import { Findings } from '../findings/findings';
import { Neighbours } from '../findings/neighbours';
import { Releases } from '../findings/releases';
import { NONE, type Remark } from '../findings/remark';
import { ListFiles } from '../lists/list-files';
import { Claims } from '../names/claims';
import { FolderRules } from '../names/folder-rules';
import { Lengths } from '../names/lengths';
import type { Namer } from '../names/namer';
import { Spelling } from '../names/spelling';
import type { PathKeys } from '../path-keys';
import { Shelves } from '../shown/shelves';
import type { FailedStep } from '../step';
import { FolderPictures } from '../steps/folder-pictures';
import { Room } from '../steps/room';
import { World } from '../steps/world';
import type { ThereFile } from '../there/files';
import { FilesOfOthers } from '../there/files-of-others';
import { There, type Agreed } from '../there/there';

/** The parts of a plan for one state of the player. */
export interface Parts {
  readonly findings: Findings;
  readonly shelves: Shelves;
  readonly world: World;
  readonly neighbours: Neighbours<Entry>;
  /** Null if the player's file system is case sensitive. */
  readonly spelling: Spelling<Entry> | null;
  readonly claims: Claims<Entry>;
  /** Claims on names without their extensions, used where editions are possible. */
  readonly stems: Claims<Entry>;
  readonly releases: Releases;
  readonly pictures: FolderPictures;
  readonly lists: ListFiles;
  readonly lengths: Lengths;
  readonly room: Room<Entry>;
  readonly folders: FolderRules<Entry>;
  /** Claims on names as far as the player displays them. */
  readonly shown: Claims<Entry>;
  readonly failed: ReadonlyMap<string, FailedStep>;
  mismatches: readonly Remark[];
}

/** All that is known of a player, with the curator's decisions. */
export type Seen = Required<Pick<Agreed, 'selection' | 'free' | 'failed'>> &
  Pick<Agreed, 'placed' | 'choices' | 'policy' | 'found' | 'others' | 'past'> & {
    readonly there: readonly ThereFile[];
  };

/** The parts of a plan without any items. @param isFirst whether an item is in the list with priority */
export function makeParts(
  rulebook: Rulebook,
  keys: PathKeys,
  namer: Namer,
  seen: Seen,
  isFirst: (item: ItemId) => boolean,
): Parts {
  const { placed, policy, choices, free, selection, failed } = seen;
  const { disk } = rulebook;
  const there = new There(seen.there, seen, keys, rulebook);
  const others = new FilesOfOthers(seen.there, placed, keys);
  const findings = new Findings();
  const shelves = new Shelves(rulebook);
  const world = new World(there, rulebook, keys, findings, shelves, policy);
  const files = disk.files === null ? Infinity : disk.files - others.all();
  const folderRules = { limit: disk.filesInFolder, isWritten: disk.order === 'written' };
  return {
    findings,
    shelves,
    world,
    neighbours: new Neighbours(),
    spelling: disk.caseSensitive ? null : new Spelling(keys, (key) => there.fixedFolders.spelling(key)),
    claims: new Claims(),
    stems: new Claims(),
    releases: new Releases(findings, namer),
    pictures: new FolderPictures(rulebook, keys, world, findings, choices.pictures),
    lists: new ListFiles(rulebook, keys, world, findings, policy, placed),
    lengths: new Lengths(disk.unit),
    room: new Room({ bytes: free ?? Infinity, files }, selection, ({ id }) => isFirst(id)),
    folders: new FolderRules(folderRules, (key) => others.in(key)),
    shown: new Claims(),
    failed: new Map(failed.map((step) => [keys.of(step.path), step])),
    mismatches: NONE,
  };
}
