import { extensionOf, folderOf, nameOf, stemOf, type ItemId } from '../items';
import { pathKey } from '../naming';
import type { Rulebook, Section } from '../rulebooks';
import { nameOutgoing, type Outgoing } from './outgoing';
import { outgoingFields, type PlanItem, type PlanPicture } from './plan-item';
import { rehearse, type Showing, type TreeFile } from './rehearsal';
import { Report } from './report';
import { writeSidecar } from './sidecar';
import { reportSplits } from './splits';
import type { Finding, PlacedFile, PlayerChoices, Step, ThereFile } from './step';

export interface PlanInput {
  readonly items: readonly PlanItem[];
  readonly rulebook: Rulebook;
  /** What the player lists now. */
  readonly there: readonly ThereFile[];
  /** What earlier runs put there. */
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
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

/** Something that should lie on the player after the run. */
interface Wanted {
  readonly path: string;
  readonly item: ItemId;
  readonly signature: string;
  /** The step that would put it there. */
  readonly step: (replaces: boolean) => Step;
}

/**
 * The run sheet that brings a player up to date, and what the player would then show. Nothing is
 * written here. Linear in items and in files there.
 */
export function planRun({ items, rulebook, there, placed, choices }: PlanInput): Plan {
  const report = new Report(items);
  const world = new World(there, placed, choices, rulebook);
  const named = nameOutgoing(items, rulebook, choices, report);
  const outgoing = named.filter((out) => world.mayTake(out, report));
  for (const out of outgoing) noteItem(out, report);
  reportSplits(outgoing, report);
  const sidecars = new Map<string, string>();
  const wanted = [
    ...outgoing.map(toCopy),
    ...folderPictures(outgoing, report),
    ...outgoing.flatMap((out) => toSidecar(out, sidecars)),
  ];
  const { steps, current } = world.stepsFor(wanted);
  const tree = treeOf(outgoing, wanted, sidecars, world);
  const showing = rehearse(tree, rulebook);
  world.reportForeign(showing, rulebook, report);
  const goes = new Set(outgoing.map(({ item }) => item.id));
  const findings = report.findings();
  const held = findings.filter(({ severity }) => severity === 'blocks').flatMap((finding) => finding.items);
  return {
    steps,
    findings,
    showing,
    paths: outgoing.map(({ item, path }) => ({ item: item.id, from: item.path, path })),
    held: [...new Set(held)].filter((id) => !goes.has(id)),
    current,
    foreign: world.foreignCount(),
  };
}

function noteItem({ item, section, path, mended }: Outgoing, report: Report): void {
  if (mended) report.nameMended(item, path);
  if (!item.settled && item.certainty !== 'sure' && item.kind) report.kindGuess(item, item.kind);
  if (!item.writable) report.cannotWrite(item);
  const old =
    section.sidecar && item.beside.find((beside) => extensionOf(beside) === section.sidecar?.extension);
  if (old && stemOf(old) !== stemOf(path)) report.besideMismatch(item, old, path);
}

const originalOf = ({ source, path, size }: PlanItem) => ({ source, path, size });

function toCopy({ item, path }: Outgoing): Wanted {
  const changes = item.edited && item.writable ? { edits: item.edits, picture: item.chosen } : null;
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
      expect: changes && item.fields,
      replaces,
      signature: item.signature,
    }),
  };
}

function toSidecar({ item, section, path }: Outgoing, texts: Map<string, string>): Wanted[] {
  if (!section.sidecar) return [];
  const sidecarPath = `${path.slice(0, path.lastIndexOf('.'))}.${section.sidecar.extension}`;
  const text = writeSidecar(section.sidecar, item.fields, item.durationSeconds);
  texts.set(sidecarPath, text);
  const step = (replaces: boolean): Step => ({
    type: 'writeSidecar',
    path: sidecarPath,
    item: item.id,
    text,
    replaces,
    signature: text,
  });
  return [{ path: sidecarPath, item: item.id, signature: text, step }];
}

/** One picture for each folder that asks for one: the picture most of its items carry. */
function folderPictures(outgoing: readonly Outgoing[], report: Report): Wanted[] {
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
          report.pictureShape(member.item, folder, rules.minPixels);
    const path = `${folder}/${rules.name}`;
    const step = (replaces: boolean): Step => ({
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

/** The player as it is, and what earlier runs know of it. */
class World {
  private readonly files = new Map<string, ThereFile>();
  private readonly placed = new Map<string, PlacedFile>();
  private readonly byKey = new Map<string, string>();
  private readonly mayReplace: ReadonlySet<string>;
  private readonly wantedPaths = new Set<string>();

  constructor(
    there: readonly ThereFile[],
    placed: readonly PlacedFile[],
    private readonly choices: PlayerChoices,
    private readonly rulebook: Rulebook,
  ) {
    for (const file of there) {
      this.files.set(file.path, file);
      this.byKey.set(pathKey(file.path, rulebook.names), file.path);
    }
    for (const file of placed) if (this.files.has(file.path)) this.placed.set(file.path, file);
    this.mayReplace = new Set(choices.replace);
  }

  /** Whether the place of an item is free, ours, or given free by the curator. */
  mayTake({ item, path }: Outgoing, report: Report): boolean {
    const spelled = this.byKey.get(pathKey(path, this.rulebook.names));
    if (spelled === undefined || this.placed.has(spelled) || this.mayReplace.has(path)) return true;
    report.occupied(item, path);
    return false;
  }

  stepsFor(wanted: readonly Wanted[]): { steps: Step[]; current: number } {
    for (const { path } of wanted) this.wantedPaths.add(path);
    const open = wanted.filter((want) => !this.isCurrent(want));
    const moved = this.findMoves(open);
    const moves = this.orderMoves([
      ...this.renames(),
      ...[...moved].map(([want, from]): Move => ({
        type: 'move',
        from,
        path: want.path,
        item: want.item,
        signature: want.signature,
      })),
    ]);
    const leaving = new Set(moved.values());
    const writes = open
      .filter((want) => !moved.has(want))
      .map((want) => want.step(this.files.has(want.path) && !leaving.has(want.path)));
    const removes = [...this.placed.keys()]
      .filter((path) => !this.wantedPaths.has(path) && !leaving.has(path))
      .map((path): Step => ({ type: 'remove', path }));
    const steps = [...this.newFolders([...moves, ...writes]), ...moves, ...writes, ...removes];
    return { steps, current: wanted.length - open.length };
  }

  foreignCount(): number {
    return this.files.size - this.placed.size;
  }

  /** Files there that no run of ours put there and that stay, under their coming names. */
  foreign(): readonly string[] {
    const renamed = new Map(this.choices.renames.map(({ from, to }) => [from, to]));
    return [...this.files.keys()]
      .filter((path) => !this.placed.has(path) && !this.wantedPaths.has(path))
      .map((path) => renamed.get(path) ?? path);
  }

  /** Videos already there that the player does not read, because folder, file and sidecar differ in name. */
  reportForeign(showing: Showing, rulebook: Rulebook, report: Report): void {
    const missed = showing.unplaced.filter(
      ({ code, path }) => (code === 'namesDiffer' || code === 'noSidecar') && !this.wantedPaths.has(path),
    );
    if (missed.length === 0) return;
    const sidecars = new Map<string, string>();
    for (const path of this.foreign()) if (extensionOf(path) === 'xml') sidecars.set(folderOf(path), path);
    for (const { path } of missed) {
      const section = rulebook.sections.find(({ root }) => path.startsWith(`${root}/`));
      if (!section?.sidecar) continue;
      const folder = folderOf(path);
      const sidecar = sidecars.get(folder) ?? null;
      const base = `${folder}/${nameOf(folder)}`;
      const wanted = [
        { from: path, to: `${base}.${extensionOf(path)}` },
        ...(sidecar ? [{ from: sidecar, to: `${base}.${section.sidecar.extension}` }] : []),
      ];
      report.sidecarMismatch(
        path,
        sidecar,
        sidecar ? wanted.filter(({ from, to }) => from !== to && !this.files.has(to)) : [],
      );
    }
  }

  private isCurrent(want: Wanted): boolean {
    return this.isUntouched(want.path, want.signature);
  }

  /** The file lies there as our run left it. */
  private isUntouched(path: string, signature: string): boolean {
    const ours = this.placed.get(path);
    const file = this.files.get(path);
    if (!ours || !file || ours.signature !== signature || ours.size !== file.size) return false;
    return ours.digest === null || file.digest === null || ours.digest === file.digest;
  }

  /** Wanted files whose very bytes lie on the player under a name that is wanted no more. */
  private findMoves(open: readonly Wanted[]): ReadonlyMap<Wanted, string> {
    const loose = new Map<string, string>();
    const wantedAs = new Map(open.map((want) => [want.path, want]));
    for (const [path, { item, signature }] of this.placed) {
      if (item === null || !this.isUntouched(path, signature)) continue;
      // A path that stays wanted by the same content stays where it is.
      if (this.wantedPaths.has(path) && !wantedAs.has(path)) continue;
      loose.set(`${item}\n${extensionOf(path)}\n${signature}`, path);
    }
    const moves = new Map<Wanted, string>();
    for (const want of open) {
      const from = loose.get(`${want.item}\n${extensionOf(want.path)}\n${want.signature}`);
      if (from !== undefined && from !== want.path) moves.set(want, from);
    }
    return moves;
  }

  private renames(): Move[] {
    return this.choices.renames
      .filter(({ from, to }) => this.files.has(from) && !this.files.has(to))
      .map(({ from, to }) => ({ type: 'move', from, path: to, item: null, signature: '' }));
  }

  /** Moves that wait for each other's names (A to B, B to A) go by way of a name of their own. */
  private orderMoves(moves: readonly Move[]): Move[] {
    const sources = new Set(moves.map(({ from }) => from));
    const waits = (move: Move) => sources.has(move.path);
    const between = (move: Move) => `${move.path}.moving`;
    return [
      ...moves.filter((move) => !waits(move)),
      ...moves.filter(waits).map((move) => ({ ...move, path: between(move) })),
      ...moves.filter(waits).map((move) => ({ ...move, from: between(move) })),
    ];
  }

  private newFolders(steps: readonly Step[]): Step[] {
    const known = new Set<string>();
    for (const path of this.files.keys()) addFolders(path, known, []);
    const made: string[] = [];
    for (const { path } of steps) addFolders(path, known, made);
    return made.map((path) => ({ type: 'makeFolder', path }));
  }
}

type Move = Extract<Step, { type: 'move' }>;

/** Adds every folder above `path` that is not known yet, outermost first. */
function addFolders(path: string, known: Set<string>, made: string[]): void {
  const folder = folderOf(path);
  if (folder === '' || known.has(folder)) return;
  addFolders(folder, known, made);
  known.add(folder);
  made.push(folder);
}

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
  for (const path of world.foreign()) {
    const extension = extensionOf(path);
    if (extension === 'xml') tree.push({ type: 'sidecar', path, text: null });
    else if (/^(jpe?g|png|webp)$/.test(extension)) tree.push({ type: 'picture', path });
    else tree.push({ type: 'media', path, item: null, fields: null, durationSeconds: null });
  }
  return tree;
}
