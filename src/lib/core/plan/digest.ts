import type { ItemId } from '../items';
import { lengthIn } from '../naming';
import type { Rulebook } from '../rulebooks';
import type { Plan, PlannedPath } from './plan';
import type { ShownNode, Unplaced } from './showing';
import { STEP_TYPES, type Finding, type Remedy, type StepType } from './step';

/** Entries of each long list that a digest carries; the others are counted. */
const MOST = { shelves: 200, unplaced: 20, findings: 300, splits: 500, places: 20, paths: 6 } as const;
/** Nodes below one node that are told when it is opened. */
const MOST_NODES = 200;
/** Findings told of some items. */
const MOST_ABOUT = 6;

/** A finding as it is listed. Its items and what mends them are asked for when they are wanted. */
export interface FindingLine extends Omit<Finding, 'items' | 'remedy'> {
  readonly remedy: Remedy['type'] | null;
}

/** An outermost node of a showing. */
export interface Shelf extends Pick<ShownNode, 'key' | 'kind' | 'facts'> {
  /** Files in it. */
  readonly count: number;
}

/** The first entries of a list, and how many there are in all. */
export interface Some<T> {
  readonly count: number;
  readonly first: readonly T[];
}

/** What a screen shows of a plan: its size does not grow with the library. */
export interface PlanDigest {
  /** Steps of each type. */
  readonly steps: Readonly<Record<StepType, number>>;
  readonly stepCount: number;
  /** Bytes of the originals that are to be copied. */
  readonly bytes: number;
  /** Copies that get other tags than their originals have. */
  readonly tagged: number;
  readonly held: number;
  readonly current: number;
  readonly foreign: number;
  /** Planned paths, the longest first. */
  readonly paths: Some<PlannedPath>;
  /** How many planned paths have each length in the player's unit, by length. */
  readonly lengths: readonly (readonly [length: number, count: number])[];
  readonly shelves: Some<Shelf>;
  readonly unplaced: Some<Unplaced>;
  /** Gravest first. */
  readonly findings: Some<FindingLine>;
  /** Findings that something blocks. */
  readonly blocks: number;
  /** Findings of releases that the player would show as several, whole. */
  readonly splits: Some<Finding>;
}

export function digestOf(plan: Plan, { disk }: Rulebook): PlanDigest {
  const { findings, paths, showing, held, current, foreign } = plan;
  const steps = Object.fromEntries(STEP_TYPES.map((type) => [type, 0])) as Record<StepType, number>;
  let bytes = 0;
  let tagged = 0;
  for (const step of plan.steps) {
    steps[step.type]++;
    if (step.type !== 'copy') continue;
    bytes += step.original.size;
    if (step.changes !== null) tagged++;
  }
  const lengths = new Map<number, number>();
  for (const { path } of paths) {
    const length = lengthIn(path, disk.unit);
    lengths.set(length, (lengths.get(length) ?? 0) + 1);
  }
  const splits = findings.filter(({ code }) => code === 'splitAlbum');
  return {
    steps,
    stepCount: plan.steps.length,
    bytes,
    tagged,
    held: held.length,
    current,
    foreign,
    paths: { count: paths.length, first: longest(paths) },
    lengths: [...lengths].sort((a, b) => a[0] - b[0]),
    shelves: { count: showing.nodes.length, first: showing.nodes.slice(0, MOST.shelves).map(shelfOf) },
    unplaced: some(showing.unplaced, MOST.unplaced),
    findings: { count: findings.length, first: findings.slice(0, MOST.findings).map(lineOf) },
    blocks: findings.filter(({ severity }) => severity === 'blocks').length,
    splits: some(splits, MOST.splits),
  };
}

/** What an outermost node holds, cut where it holds more than a screen does. */
export function nodesOf({ showing }: Plan, key: string): readonly ShownNode[] {
  const cut = (nodes: readonly ShownNode[]): ShownNode[] =>
    nodes.slice(0, MOST_NODES).map((node) => ({ ...node, nodes: cut(node.nodes) }));
  return cut(showing.nodes.find((node) => node.key === key)?.nodes ?? []);
}

/** What a plan means for some items. */
export interface PlanAbout {
  /** How many of them go to the player. */
  readonly goes: number;
  /** Where the first of them goes. */
  readonly path: string | null;
  readonly findings: readonly FindingLine[];
}

export function aboutItems({ paths, findings }: Plan, ids: ReadonlySet<ItemId>): PlanAbout {
  const goes = paths.filter(({ item }) => ids.has(item));
  const about: FindingLine[] = [];
  for (const finding of findings) {
    if (about.length === MOST_ABOUT) break;
    if (finding.items.some((id) => ids.has(id))) about.push(lineOf(finding));
  }
  return { goes: goes.length, path: goes[0]?.path ?? null, findings: about };
}

function lineOf({ items: _, remedy, places, ...finding }: Finding): FindingLine {
  return { ...finding, places: places.slice(0, MOST.places), remedy: remedy?.type ?? null };
}

const shelfOf = (node: ShownNode): Shelf => ({
  key: node.key,
  kind: node.kind,
  facts: node.facts,
  count: filesIn(node),
});

const filesIn = ({ path, nodes }: ShownNode): number =>
  path === null ? nodes.reduce((sum, node) => sum + filesIn(node), 0) : 1;

const some = <T>(list: readonly T[], most: number): Some<T> => ({
  count: list.length,
  first: list.slice(0, most),
});

/** The longest paths, without the others being put in order. */
function longest(paths: readonly PlannedPath[]): PlannedPath[] {
  const first: PlannedPath[] = [];
  for (const one of paths) {
    const last = first[MOST.paths - 1];
    if (last && last.path.length >= one.path.length) continue;
    const at = first.findIndex(({ path }) => path.length < one.path.length);
    first.splice(at < 0 ? first.length : at, 0, one);
    first.length = Math.min(first.length, MOST.paths);
  }
  return first;
}
