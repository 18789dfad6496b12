import type { ItemId } from '../items';
import { extensionOf, folderOf, stemOf, withoutExtension } from '../paths';
import type { Rulebook, Section } from '../rulebooks';
import { nameOutgoing, type Outgoing } from './outgoing';
import { outgoingFields, type PlanItem, type PlanPicture } from './plan-item';
import { rehearse, type Showing, type TreeFile } from './rehearsal';
import { Report } from './report';
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
 */
export function planRun({ items, rulebook, there, placed, choices, token }: PlanInput): Plan {
  const report = new Report(items);
  const world = new World(there, placed, choices, rulebook, token);
  const named = nameOutgoing(items, rulebook, choices, report, world.fixedFolders);
  const outgoing = named.filter(({ item, section, path }) =>
    [path, ...(section.sidecar ? [sidecarPath(path, section.sidecar)] : [])].every((at) =>
      world.mayTake(at, item, report, 'blocks'),
    ),
  );
  for (const out of outgoing) noteItem(out, report);
  reportSplits(outgoing, report);
  const sidecars = new Map<string, string>();
  const wanted = [
    ...outgoing.map(toCopy),
    ...folderPictures(outgoing, world, report),
    ...outgoing.flatMap((out) => toSidecar(out, sidecars)),
  ];
  const goes = new Set(outgoing.map(({ item }) => item.id));
  const held = report.blocked().filter((id) => !goes.has(id));
  const { steps, current } = world.stepsFor(wanted, new Set(held), report);
  const tree = treeOf(outgoing, wanted, sidecars, world);
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

function noteItem({ item, section, path, mended }: Outgoing, report: Report): void {
  if (mended) report.nameMended(item, path);
  if (!item.settled && item.certainty !== 'sure' && item.kind) report.kindGuess(item, item.kind);
  if (!item.writable) report.cannotWrite(item);
  for (const part of item.unheld) report.cannotHold(item, part);
  const old =
    section.sidecar && item.beside.find((beside) => extensionOf(beside) === section.sidecar?.extension);
  if (old && stemOf(old) !== stemOf(path)) report.besideMismatch(item, old, path);
}

const originalOf = ({ source, path, size }: PlanItem) => ({ source, path, size });

function toCopy({ item, path }: Outgoing): Wanted {
  const changes = Object.keys(item.outgoing).length > 0 ? item.outgoing : null;
  return {
    path,
    item: item.id,
    signature: item.signature,
    step: (replaces) => ({
      type: 'copy',
      path,
      item: item.id,
      original: originalOf(item),
      format: item.format,
      changes,
      expect: changes && outgoingFields(item),
      replaces,
      signature: item.signature,
    }),
  };
}

const sidecarPath = (path: string, { extension }: NonNullable<Section['sidecar']>) =>
  `${withoutExtension(path)}.${extension}`;

function toSidecar({ item, section, path }: Outgoing, texts: Map<string, string>): Wanted[] {
  if (!section.sidecar) return [];
  const beside = sidecarPath(path, section.sidecar);
  const text = writeSidecar(section.sidecar, item.fields, item.durationSeconds);
  texts.set(beside, text);
  const step = (replaces: FileFacts | null): Step => ({
    type: 'writeSidecar',
    path: beside,
    item: item.id,
    text,
    replaces,
    signature: text,
  });
  return [{ path: beside, item: item.id, signature: text, step }];
}

/** One picture for each folder that asks for one: the picture most of its items carry. */
function folderPictures(outgoing: readonly Outgoing[], world: World, report: Report): Wanted[] {
  const folders = new Map<string, Outgoing[]>();
  for (const out of outgoing) {
    if (!out.section.folderPicture) continue;
    const folder = folderOf(out.path);
    const members = folders.get(folder);
    if (members) members.push(out);
    else folders.set(folder, [out]);
  }
  const wanted: Wanted[] = [];
  for (const [folder, members] of folders) {
    const rules = (members[0] as Outgoing).section.folderPicture as NonNullable<Section['folderPicture']>;
    const best = usualPicture(members);
    if (!best) {
      for (const { item } of members) report.noPicture(item, folder);
      continue;
    }
    const { item, picture } = best;
    if (!isShaped(picture, rules))
      for (const member of members)
        if (member.item.picture?.key === picture.key)
          report.pictureShape(member.item, picture, folder, rules.minPixels);
    const path = `${folder}/${rules.name}`;
    if (!world.mayTake(path, item, report, 'warns')) continue;
    const step = (replaces: FileFacts | null): Step => ({
      type: 'writePicture',
      path,
      item: item.id,
      original: originalOf(item),
      picture,
      replaces,
      signature: picture.key,
    });
    wanted.push({ path, item: item.id, signature: picture.key, step });
  }
  return wanted;
}

function isShaped({ width, height }: PlanPicture, rules: NonNullable<Section['folderPicture']>): boolean {
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
): readonly TreeFile[] {
  const tree: TreeFile[] = outgoing.map(({ item, path }) => ({
    type: 'media',
    path,
    item: item.id,
    fields: outgoingFields(item),
    durationSeconds: item.durationSeconds,
  }));
  for (const { path } of wanted.slice(outgoing.length)) {
    const text = sidecars.get(path);
    tree.push(text === undefined ? { type: 'picture', path } : { type: 'sidecar', path, text });
  }
  for (const path of world.staying()) {
    const extension = extensionOf(path);
    if (extension === 'xml') tree.push({ type: 'sidecar', path, text: null });
    else if (/^(jpe?g|png|webp)$/.test(extension)) tree.push({ type: 'picture', path });
    else tree.push({ type: 'media', path, item: null, fields: null, durationSeconds: null });
  }
  return tree;
}
