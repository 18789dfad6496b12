import type { ItemId } from '../items';
import type { HeldBy } from './entry';
import type { FindingLine, Findings } from './findings/findings';
import type { Lengths } from './names/lengths';
import type { PlannedPath } from './plan';
import type { ShownShelf, Shelves } from './shown/shelves';
import type { KindRoom } from './steps/room-by-kind';
import type { ToldList } from './lists/told-list';
import type { ShownNode, Unplaced } from './shown/showing';
import type { Finding, Severity } from './findings/finding';
import type { StepCounts, World } from './steps/world';

/** The most entries of each long list that a digest carries. The rest are only counted. */
const MOST = { shelves: 200, unplaced: 20, findings: 40, splits: 500, paths: 6 };
/** A table of several players needs only the counts. */
const NONE_OF_THEM: typeof MOST = { shelves: 0, unplaced: 0, findings: 0, splits: 0, paths: 0 };
/** The most child nodes that are sent when a node is opened. */
const MOST_NODES = 200;
/** The most findings that are sent for some items. */
export const MOST_ABOUT = 6;

/** The first entries of a list, and how many there are in all. */
export interface Some<T> {
  readonly count: number;
  readonly first: readonly T[];
}

/** The part of a plan that a screen shows. Its size does not grow with the library. */
export interface PlanDigest {
  /** Steps by type, without moves that only make room for others. */
  readonly steps: Readonly<StepCounts>;
  readonly stepCount: number;
  /** Bytes of the originals that will be copied. */
  readonly bytes: number;
  /** Copies whose tags differ from those of their originals. */
  readonly tagged: number;
  /** Items that are held back, in all and by reason. */
  readonly held: number;
  readonly heldBy: Readonly<Record<HeldBy, number>>;
  readonly current: number;
  readonly foreign: number;
  /** Those among the foreign files that the player plays. */
  readonly added: number;
  /** Planned paths, the longest first. */
  readonly paths: Some<PlannedPath>;
  /** The number of planned paths by length, in the player's unit. */
  readonly lengths: readonly (readonly [length: number, count: number])[];
  readonly shelves: Some<ShownShelf>;
  readonly unplaced: Some<Unplaced>;
  /** The most severe first. */
  readonly findings: Some<FindingLine>;
  /** Findings by severity. */
  readonly bySeverity: Readonly<Record<Severity, number>>;
  /** Changes that come from the player into the library before a run. */
  readonly comes: { readonly edits: number; readonly files: number; readonly lists: number };
  /** The player's lists, each with what will be in it there. */
  readonly lists: readonly ToldList[];
  /** Bytes by kind, the bytes that a run may write (null if unknown), and those that do not fit. */
  readonly room: {
    readonly kinds: readonly KindRoom[];
    readonly free: number | null;
    readonly missing: number;
  };
  /** Complete findings of releases that the player would split. */
  readonly splits: Some<Finding>;
}

export function digestOf({
  world,
  shelves,
  findings,
  lengths,
  held,
  free,
  missing,
  comingLists,
  lists,
  isBrief,
}: {
  readonly world: World;
  readonly shelves: Shelves;
  readonly findings: Findings;
  readonly lengths: Lengths;
  readonly held: Iterable<HeldBy>;
  readonly free: number | null;
  readonly missing: number;
  readonly comingLists: number;
  readonly lists: readonly ToldList[];
  /** Only the counts that a table of several players needs. */
  readonly isBrief: boolean;
}): PlanDigest {
  const most = isBrief ? NONE_OF_THEM : MOST;
  const splits = findings.ofCode('splitAlbum');
  const heldBy = { finding: 0, twin: 0, room: 0 };
  for (const reason of held) heldBy[reason]++;
  return {
    steps: { ...world.counts },
    stepCount: Object.values(world.counts).reduce((sum, count) => sum + count, 0),
    bytes: world.bytes,
    tagged: world.tagged,
    held: heldBy.finding + heldBy.twin + heldBy.room,
    heldBy,
    current: world.current,
    foreign: world.foreignCount(),
    added: world.addedCount(),
    paths: {
      count: lengths.count,
      first: lengths.longest(most.paths).map(({ item, path }) => ({ item: item.id, from: item.path, path })),
    },
    lengths: isBrief ? [] : lengths.all(),
    shelves: { count: shelves.count, first: shelves.first(most.shelves) },
    unplaced: { count: shelves.unplacedCount, first: firstByPath(shelves.unplaced(), most.unplaced) },
    findings: { count: findings.count(), first: findings.lines(most.findings) },
    bySeverity: findings.counts(),
    comes: { ...world.comes, lists: comingLists },
    lists,
    room: { kinds: world.room.all(), free, missing },
    splits: { count: splits.count, first: splits.first(most.splits) },
  };
}

/** Nodes, with at most as many children as a screen shows. */
export const cutNodes = (nodes: readonly ShownNode[]): ShownNode[] =>
  nodes.slice(0, MOST_NODES).map((node) => ({ ...node, nodes: cutNodes(node.nodes) }));

/** What a plan does with some items. */
export interface PlanAbout {
  /** How many of them are copied to the player. */
  readonly goes: number;
  /** The path of the first of them. */
  readonly path: string | null;
  readonly findings: readonly FindingLine[];
  /** Those that the player's selection excludes, and those left out by choice. */
  readonly unselected: readonly ItemId[];
  readonly leftOut: readonly ItemId[];
}

/** The first entries by path, without sorting the others. */
function firstByPath(all: Iterable<Unplaced>, most: number): Unplaced[] {
  const first: Unplaced[] = [];
  for (const one of all) {
    const last = first[most - 1];
    if (last && last.path <= one.path) continue;
    const at = first.findIndex(({ path }) => one.path < path);
    first.splice(at < 0 ? first.length : at, 0, one);
    first.length = Math.min(first.length, most);
  }
  return first;
}
