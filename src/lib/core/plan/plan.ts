import { FIELDS, type ItemId } from '../items';
import { folderOf, stemOf } from '../paths';
import { picturesFor, roleOf, sidecarFor, sidecarPath, type PictureRules, type Rulebook } from '../rulebooks';
import { PlanMemory } from './memory';
import type { Outgoing } from './item-plan';
import { nameOutgoing } from './outgoing';
import { outgoingFields, type PlanItem, type PlanPicture } from './plan-item';
import { Report } from './report';
import { categoryOf, rehearse, type Showing, type TreeFile } from './showing';
import { writeSidecar } from './sidecar';
import { reportSplits } from './splits';
import type { FileFacts, Finding, PlacedFile, PlayerChoices, Step, ThereFile } from './step';
import { World, type Wanted } from './world';

export interface PlanInput {
  readonly items: readonly PlanItem[];
  readonly rulebook: Rulebook;
  /** What the player lists now. */
  readonly there: readonly ThereFile[];
  /** What earlier runs put there. */
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
  /** A name that no other run has: files that wait for each other's names pass through a folder of it. */
  readonly token: string;
}

export interface PlannedPath {
  readonly item: ItemId;
  readonly from: string;
  readonly path: string;
}

export interface Plan {
  readonly steps: readonly Step[];
  readonly findings: readonly Finding[];
  /** What the player would show after the run. */
  readonly showing: Showing;
  readonly paths: readonly PlannedPath[];
  /** Items that a blocking finding keeps back. */
  readonly held: readonly ItemId[];
  /** Planned files that are on the player already, just as planned. */
  readonly current: number;
  /** Files on the player that no run of ours put there. */
  readonly foreign: number;
}

/**
 * The run sheet that brings a player up to date, and what the player would then show. Nothing is
 * written here. Linear in items and in files there.
 * @param memory of earlier plans for this rulebook, which this one goes on with
 */
export function planRun(
  { items, rulebook, there, placed, choices, token }: PlanInput,
  memory = new PlanMemory(rulebook),
): Plan {
  const report = new Report(items);
  const lies = memory.there(there, placed, choices);
  const world = new World(lies, memory, token);
  const named = nameOutgoing(items, memory, choices, report, lies.fixedFolders);
  const outgoing = named.filter(({ item, kind, path }) => {
    if (!lies.hasWhatStays) return true;
    const rules = sidecarFor(rulebook, kind);
    return [path, ...(rules ? [sidecarPath(path, rules)] : [])].every((at) =>
      world.mayTake(at, item, report, 'blocks'),
    );
  });
  for (const out of outgoing) {
    if (out.isQuiet) continue;
    const { entries } = report;
    noteItem(out, rulebook, report);
    out.isQuiet = report.entries === entries;
  }
  reportSplits(outgoing, memory, report);
  const sidecars = new Map<string, string>();
  const wanted = [
    ...outgoing.map((out) => (out.copy ??= toCopy(out, memory))),
    ...picturesBeside(outgoing, memory, world, report),
    ...outgoing.flatMap((out) => toSidecar(out, memory, sidecars)),
  ];
  const goes = new Set(outgoing.map(({ item }) => item.id));
  const held = report.blocked().filter((id) => !goes.has(id));
  const { steps, current } = world.stepsFor(wanted, new Set(held), report);
  const tree = treeOf(outgoing, wanted, sidecars, world, memory);
  const showing = rehearse(tree, rulebook);
  world.reportForeign(showing, report);
  return {
    steps,
    findings: report.findings(),
    showing,
    paths: outgoing.map(({ item, path }) => ({ item: item.id, from: item.path, path })),
    held,
    current,
    foreign: world.foreignCount(),
  };
}

const NUMBERS = FIELDS.filter(({ type }) => type === 'number');

function noteItem({ item, kind, path, mended }: Outgoing, rulebook: Rulebook, report: Report): void {
  if (mended) report.nameMended(item, path);
  if (!item.settled && item.certainty !== 'sure' && item.kind) report.kindGuess(item, item.kind);
  if (!item.writable) report.cannotWrite(item);
  for (const part of item.unheld) report.cannotHold(item, part);
  for (const { name, limit } of NUMBERS) {
    const value = item.fields[name];
    if (typeof value === 'number' && value > limit) report.oddValue(item, name, value);
  }
  const version = item.tagFormats.map((sort) => /^ID3v2\.([234])/.exec(sort)).find(Boolean);
  if (version && !rulebook.tags.id3.includes(Number(version[1]) as 3)) report.tagVersion(item, version[0]);
  const rules = sidecarFor(rulebook, kind);
  const old = rules && item.beside.find((beside) => roleOf(rulebook, beside) === 'sidecar');
  if (old && stemOf(old) !== stemOf(path)) report.besideMismatch(item, old, path);
}

const originalOf = ({ source, path, size }: PlanItem) => ({ source, path, size });

function toCopy({ item, path }: Outgoing, memory: PlanMemory): Wanted {
  const changes = Object.keys(item.outgoing).length > 0 ? item.outgoing : null;
  return {
    path,
    key: memory.key(path),
    item: item.id,
    signature: item.recipe.hash,
    step: (replaces) => ({
      type: 'copy',
      path,
      item: item.id,
      original: originalOf(item),
      format: item.format,
      changes,
      expect: changes && outgoingFields(item),
      replaces,
      signature: item.recipe.hash,
    }),
  };
}

function toSidecar({ item, kind, path }: Outgoing, memory: PlanMemory, texts: Map<string, string>): Wanted[] {
  const rules = sidecarFor(memory.rulebook, kind);
  if (!rules) return [];
  const beside = sidecarPath(path, rules);
  const text = writeSidecar(rules, item.fields, item.durationSeconds);
  texts.set(beside, text);
  const step = (replaces: FileFacts | null): Step => ({
    type: 'writeText',
    path: beside,
    item: item.id,
    mime: rules.mime,
    text,
    replaces,
    signature: text,
  });
  return [{ path: beside, key: memory.key(beside), item: item.id, signature: text, step }];
}

/** One picture for each folder and category that asks for one: the picture most of its items carry. */
function picturesBeside(
  outgoing: readonly Outgoing[],
  memory: PlanMemory,
  world: World,
  report: Report,
): Wanted[] {
  const { rulebook } = memory;
  const asked = new Map<string, { readonly rules: PictureRules; readonly members: Outgoing[] }>();
  for (const out of outgoing)
    for (const rules of picturesFor(rulebook, out.kind)) {
      const folder = rules.of === 'folder' ? out.folder : categoryOf(out.place, out.path);
      const path = folder === '' ? rules.name : `${folder}/${rules.name}`;
      const known = asked.get(path);
      if (known) known.members.push(out);
      else asked.set(path, { rules, members: [out] });
    }
  return [...asked].flatMap(([path, { rules, members }]): Wanted[] => {
    const folder = folderOf(path);
    const best = usualPicture(members);
    if (!best) {
      for (const { item } of members) report.noPicture(item, rules.of, folder);
      return [];
    }
    const { item, picture } = best;
    if (!isShaped(picture, rules))
      for (const member of members)
        if (member.item.picture?.key === picture.key)
          report.pictureShape(member.item, picture, folder, rules.minPixels);
    if (!world.mayTake(path, item, report, 'warns')) return [];
    const step = (replaces: FileFacts | null): Step => ({
      type: 'writePicture',
      path,
      item: item.id,
      original: originalOf(item),
      picture,
      replaces,
      signature: picture.key,
    });
    return [{ path, key: memory.key(path), item: item.id, signature: picture.key, step }];
  });
}

function isShaped({ width, height }: PlanPicture, rules: PictureRules): boolean {
  if (width === null || height === null) return false;
  return Math.min(width, height) >= rules.minPixels && (!rules.square || width === height);
}

function usualPicture(members: readonly Outgoing[]): { item: PlanItem; picture: PlanPicture } | null {
  const counts = new Map<string, { item: PlanItem; picture: PlanPicture; count: number }>();
  for (const { item } of members) {
    if (!item.picture) continue;
    const known = counts.get(item.picture.key);
    if (known) known.count++;
    else counts.set(item.picture.key, { item, picture: item.picture, count: 1 });
  }
  // A picture that the curator chose wins over what files brought along.
  return [...counts.values()].sort((a, b) => rank(b) - rank(a))[0] ?? null;
}

const rank = (entry: { picture: PlanPicture; count: number }) =>
  entry.count + (entry.picture.chosen ? 1e9 : 0);

/** The tree as it will lie on the player. */
function treeOf(
  outgoing: readonly Outgoing[],
  wanted: readonly Wanted[],
  sidecars: ReadonlyMap<string, string>,
  world: World,
  memory: PlanMemory,
): readonly TreeFile[] {
  const none = { item: null, kind: null, fields: null, text: null };
  return [
    ...outgoing.map(({ file }) => file),
    ...wanted.slice(outgoing.length).map(({ path }): TreeFile => {
      const text = sidecars.get(path);
      return text === undefined
        ? { ...none, path, role: 'picture' }
        : { ...none, path, role: 'sidecar', text };
    }),
    ...world.staying().map((path): TreeFile => ({ ...none, path, role: roleOf(memory.rulebook, path) })),
  ];
}
