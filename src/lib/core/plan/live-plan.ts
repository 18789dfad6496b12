import { FIELDS, type Edits, type ItemId } from '../items';
import { firstLetters } from '../naming';
import type { Kind } from '../kinds';
import { extensionOf, folderOf, nameOf, stemOf } from '../paths';
import {
  findPlace,
  picturesFor,
  placesAt,
  roleOf,
  sidecarFor,
  sidecarPath,
  type Rulebook,
  type SidecarRules,
} from '../rulebooks';
import { Claims } from './names/claims';
import { FolderRules } from './names/folder-rules';
import { sidesOf, type SidesOf } from './there/drift';
import {
  MOST_ABOUT,
  cutNodes,
  digestOf,
  type HeldBy,
  type PlanAbout,
  type PlanDigest,
  type Some,
} from './digest';
import { Entry, type EntryRemarks } from './entry';
import type { Outgoing } from './names/outgoing';
import { ItemPlan } from './outgoing/item-plan';
import type { Recipe } from './outgoing/recipe';
import { isSameOwner, itemOf } from './owner';
import { Findings, type FindingLine } from './findings/findings';
import { FolderPictures, type TopFolderPicture } from './steps/folder-pictures';
import { Lengths } from './names/lengths';
import { Namer, type Named } from './names/namer';
import { Neighbours } from './findings/neighbours';
import { PathKeys } from './path-keys';
import type { Plan, PlannedPath } from './plan';
import type { PlanItem } from './outgoing/plan-item';
import { proposed } from './findings/proposals';
import { Releases } from './findings/releases';
import { FilesOfOthers } from './there/files-of-others';
import { Room, type RoomTaken } from './steps/room';
import * as say from './findings/remark';
import { NONE, type Remark } from './findings/remark';
import { SELECT_ALL, selectionTest, type Selection } from './selection';
import { Shelves } from './shown/shelves';
import type { ShownNode, Showing, TreeFile } from './shown/showing';
import { writeSidecar } from './shown/sidecar';
import { Spelling } from './names/spelling';
import { NO_CHOICES, type PlayerChoices } from './choices';
import type { FailedStep, Step } from './step';
import type { Finding, Severity } from './findings/finding';
import type { PlacedFile, ThereFile } from './there/files';
import type { SyncPolicy } from './there/sides';
import { There, type Agreed } from './there/there';
import { copyOf, stepFor, textBeside, type Want } from './steps/want';
import { tooLong } from './names/too-long';
import { World } from './steps/world';

const NUMBERS = FIELDS.filter(({ type }) => type === 'number');

/**
 * A plan that is kept as items change: what brings a player up to date, and what it would then show. What one item's
 * change touches is looked at, and nothing else is. What it says is what planning anew would say.
 */
export class LivePlan {
  private readonly keys: PathKeys;
  private readonly namer: Namer;
  private readonly entries = new Map<ItemId, Entry>();
  private order = 0;
  /** Items that are to be looked at again. */
  private readonly open = new Set<Entry>();
  private there: readonly ThereFile[] = [];
  private placed: readonly PlacedFile[] = [];
  private choices: PlayerChoices = NO_CHOICES;
  private policy: SyncPolicy = 'ask';
  private selection: Selection = SELECT_ALL;
  private isSelected = selectionTest(SELECT_ALL);
  private free: number | null = null;
  private failed: readonly FailedStep[] = NOTHING_FAILED;
  private found: Agreed['found'];
  private others: Agreed['others'];
  private past: Agreed['past'];
  private leftOut: ReadonlySet<ItemId> = new Set();
  /** Items that something stands in the way of. */
  private readonly barredItems = new Set<Entry>();
  private short: ReadonlySet<ItemId> = new Set();
  private suffixes: ReadonlyMap<ItemId, string> = new Map();
  /** Items that are held back, by what for. */
  private held = new Map<ItemId, HeldBy>();
  private parts: Parts;

  constructor(readonly rulebook: Rulebook) {
    this.keys = new PathKeys(rulebook);
    this.namer = new Namer(rulebook);
    this.parts = this.makeParts();
  }

  /** What lies on the player, what we know to have put there, and what the curator decided for it. */
  see(
    there: readonly ThereFile[],
    {
      placed,
      choices,
      policy,
      selection = SELECT_ALL,
      free = null,
      failed = NOTHING_FAILED,
      found,
      others,
      past,
    }: Agreed,
  ): void {
    const before = this.choices;
    const isSame =
      this.there === there &&
      this.placed === placed &&
      this.policy === policy &&
      this.free === free &&
      this.found === found &&
      this.others === others &&
      this.past === past &&
      JSON.stringify(this.failed) === JSON.stringify(failed) &&
      JSON.stringify(this.selection) === JSON.stringify(selection);
    this.there = there;
    this.placed = placed;
    this.choices = choices;
    this.policy = policy;
    this.free = free;
    this.failed = failed;
    this.found = found;
    this.others = others;
    this.past = past;
    this.selection = selection;
    this.isSelected = selectionTest(selection);
    const [leftOut, short, suffixes] = [this.leftOut, this.short, this.suffixes];
    this.leftOut = new Set(choices.leftOut);
    this.short = new Set(choices.shorten);
    this.suffixes = new Map(choices.suffixes.map(({ item, text }) => [item, text]));
    if (!isSame || !this.takeIn(before, choices)) return this.begin();
    for (const id of [...leftOut, ...this.leftOut]) this.reopen(id, leftOut, this.leftOut);
    for (const id of [...short, ...this.short]) this.reopen(id, short, this.short);
    for (const id of [...suffixes.keys(), ...this.suffixes.keys()]) {
      const entry = this.entries.get(id);
      if (entry && suffixes.get(id) !== this.suffixes.get(id)) this.open.add(entry);
    }
  }

  /**
   * Takes in what was decided of files at the place since: a decision costs what it touches.
   * @returns whether that could be; what was taken back, or touches too much, is planned for anew
   */
  private takeIn(before: PlayerChoices, choices: PlayerChoices): boolean {
    const same = ({ renames, pictures }: PlayerChoices) => JSON.stringify([renames, pictures]);
    if (same(before) !== same(choices)) return false;
    const sides = addedTo(before.sides, choices.sides);
    const replace = addedTo(before.replace, choices.replace);
    if (!sides || !replace) return false;
    if (sides.length + replace.length === 0) return true;
    const { world, spelling, pictures } = this.parts;
    const decided = world.there.decide({ sides, replace });
    if (!decided) return false;
    world.takeIn(decided);
    spelling?.release(decided.unfixed);
    pictures.lookAgain(decided.keys);
    for (const item of decided.items) {
      const entry = this.entries.get(item);
      if (entry) this.open.add(entry);
    }
    this.reopenAt(decided.keys);
    return true;
  }

  /** Looks again at who wants what lies at these keys, or has it in the way. */
  private reopenAt(keys: ReadonlySet<string>): void {
    if (keys.size === 0) return;
    for (const { owner } of this.parts.world.wantedAt(keys)) {
      const entry = this.entries.get(itemOf(owner) ?? NOBODY);
      if (entry) this.open.add(entry);
    }
    const isTouched = ({ code, places }: Remark) =>
      code === 'folderThere' || places.some((path) => keys.has(this.keys.of(path)));
    for (const entry of this.barredItems) if (entry.said.place.some(isTouched)) this.open.add(entry);
  }

  /** Items as they are now, and those that left. */
  change(changed: readonly PlanItem[], removed: readonly ItemId[]): void {
    for (const id of removed) {
      const entry = this.entries.get(id);
      if (!entry) continue;
      entry.gone = true;
      this.entries.delete(id);
      this.open.add(entry);
    }
    for (const item of changed) {
      let entry = this.entries.get(item.id);
      if (entry) entry.known = new ItemPlan(item, this.rulebook);
      else this.entries.set(item.id, (entry = new Entry(item.id, this.order++, item, this.rulebook)));
      this.open.add(entry);
    }
  }

  /** What a screen shows of it. @param isBrief only what a list of several players shows */
  digest(isBrief = false): PlanDigest {
    this.settle();
    const { world, shelves, findings, lengths, room } = this.parts;
    const { free } = this;
    return digestOf({
      world,
      shelves,
      findings,
      lengths,
      held: this.held.values(),
      free,
      missing: room.missing,
      isBrief,
    });
  }

  /** The steps of a run. @param token a name that no other run has */
  steps(token: string): readonly Step[] {
    this.settle();
    return this.parts.world.steps(token);
  }

  /** All that the player would show. */
  showing(): Showing {
    this.settle();
    const { world, shelves } = this.parts;
    const own = this.goes().map(({ file }) => file);
    return shelves.whole([...own, ...world.stayingFiles().filter(({ role }) => role === 'media')]);
  }

  /** The player's own idea of equal paths. */
  keyOf(path: string): string {
    return this.keys.of(path);
  }

  /** Where items go, in their order. */
  paths(): PlannedPath[] {
    this.settle();
    return this.goes().map(({ item, path }) => ({ item: item.id, from: item.path, path }));
  }

  /** What an outermost node of the showing holds. */
  nodesOf(key: string): readonly ShownNode[] {
    this.settle();
    const orderOf = ({ item }: TreeFile) =>
      item === null ? Infinity : (this.entries.get(item)?.order ?? Infinity);
    return cutNodes(this.parts.shelves.nodesOf(key, orderOf));
  }

  /** Findings of a severity, or of all, the gravest first: those of one stretch. */
  findings(severity: Severity | null, from: number, to: number): readonly FindingLine[] {
    this.settle();
    return this.parts.findings.range(severity, from, to);
  }

  finding(id: string): Finding | null {
    this.settle();
    return this.parts.findings.find(id);
  }

  /** The first items that a finding is about, with what its button would write into each. */
  itemsOf(id: string, most: number): Some<ItemOfFinding> {
    const { items = [], remedy = null } = this.finding(id) ?? {};
    const edits = new Map(
      remedy?.type === 'edit' ? remedy.changes.map(({ item, edits: own }) => [item, own]) : [],
    );
    const first = items.slice(0, most).map((item) => ({ item, edits: edits.get(item) ?? null }));
    return { count: items.length, first };
  }

  /** What it means for some items. */
  about(ids: readonly ItemId[]): PlanAbout {
    this.settle();
    const entries = ids.flatMap((id) => this.entries.get(id) ?? []).sort((a, b) => a.order - b.order);
    const goes = entries.flatMap(({ out }) => out ?? []);
    const remarks = entries.flatMap((entry) => this.remarksOn(entry));
    return {
      goes: goes.length,
      path: goes[0]?.path ?? null,
      findings: this.parts.findings.ofShare(remarks, MOST_ABOUT),
      unselected: entries.flatMap(({ id, item }) => (this.isSelected(item) ? [] : [id])),
      leftOut: entries.flatMap(({ id }) => (this.leftOut.has(id) ? [id] : [])),
    };
  }

  /** Files there that stand where something is wanted, by no run that we know of: each may be the very one. */
  unclaimed(): readonly Unclaimed[] {
    this.settle();
    const { there } = this.parts.world;
    const wanted = [
      ...[...this.barredItems].flatMap(({ candidate }) => (candidate ? this.wantedFor(candidate) : [])),
      ...this.parts.pictures.barred(),
    ];
    return wanted.flatMap((want) => {
      const file = there.files.get(want.key);
      const drift = there.changedAt(want.key);
      const isOther = file?.path === want.path && !there.ours.has(want.key);
      if (!isOther || (drift && !isSameOwner(drift.placed?.owner ?? null, want.owner))) return [];
      return [{ step: stepFor(want, null), file }];
    });
  }

  /** Top folders that are to have a picture of their own. */
  topFolders(): readonly TopFolderPicture[] {
    this.settle();
    return this.parts.pictures.topFolders();
  }

  /** What comes from the player before a run: what its files say otherwise, and files that others added. */
  comes(): Incoming {
    this.settle();
    const edits: { item: ItemId; edits: Edits }[] = [];
    const files: ThereFile[] = [];
    for (const [{ type, placed, file }, { side, edits: own }] of this.parts.world.allDrifts()) {
      if (type === 'added' && side === 'there' && file) files.push(file);
      const item = itemOf(placed?.owner);
      if (own && item !== null) edits.push({ item, edits: own });
    }
    return { edits, files };
  }

  /** Both sides of the files that a finding is about, where one of them is to be chosen. */
  sides(id: string): readonly SidesOf[] {
    this.settle();
    const { world, findings } = this.parts;
    const remedy = findings.find(id)?.remedy;
    if (remedy?.type !== 'decide') return [];
    return remedy.files.slice(0, MOST_SIDES).flatMap(({ path }) => {
      const drift = world.there.drifts.get(this.keys.of(path));
      return drift ? [sidesOf(drift, world.allDrifts().get(drift)?.wanted ?? null)] : [];
    });
  }

  whole(token: string): Plan {
    this.settle();
    const { world, findings } = this.parts;
    return {
      steps: this.steps(token),
      findings: findings.all(),
      showing: this.showing(),
      paths: this.paths(),
      held: [...this.entries.keys()].filter((id) => this.held.has(id)),
      current: world.current,
      foreign: world.foreignCount(),
    };
  }

  /** Everything anew, but for what follows from single items. */
  private begin(): void {
    this.parts = this.makeParts();
    this.held = new Map();
    this.barredItems.clear();
    for (const [id, { order, known }] of this.entries) {
      const entry = new Entry(id, order, known.item, this.rulebook, known);
      this.entries.set(id, entry);
      this.open.add(entry);
    }
  }

  private makeParts(): Parts {
    const { keys, rulebook } = this;
    this.open.clear();
    const { placed, choices, policy, found, past } = this;
    const there = new There(
      this.there,
      { placed, choices, policy, found, others: this.others, past },
      keys,
      rulebook,
    );
    const others = new FilesOfOthers(this.there, placed, keys);
    const findings = new Findings();
    const shelves = new Shelves(rulebook);
    const world = new World(there, rulebook, keys, findings, shelves, policy);
    return {
      findings,
      shelves,
      world,
      neighbours: new Neighbours(),
      spelling: rulebook.disk.caseSensitive
        ? null
        : new Spelling(keys, (key) => there.fixedFolders.spelling(key)),
      claims: new Claims(),
      stems: new Claims(),
      releases: new Releases(findings, this.namer),
      pictures: new FolderPictures(rulebook, keys, world, findings, choices.pictures),
      lengths: new Lengths(rulebook.disk.unit),
      room: new Room(this.freeAmount(others), this.selection),
      folders: new FolderRules(folderRulesOf(rulebook), (key) => others.in(key)),
      shown: new Claims(),
      failed: new Map(this.failed.map((step) => [keys.of(step.path), step])),
      mismatches: NONE,
    };
  }

  /** Bytes that a run may write, and files that may be ours once it is done. */
  private freeAmount(others: FilesOfOthers): RoomTaken {
    const { files } = this.rulebook.disk;
    return { bytes: this.free ?? Infinity, files: files === null ? Infinity : files - others.all() };
  }

  private reopen(id: ItemId, before: ReadonlySet<ItemId>, after: ReadonlySet<ItemId>): void {
    const entry = this.entries.get(id);
    if (entry && before.has(id) !== after.has(id)) this.open.add(entry);
  }

  /** Brings everything up to what was told since. Each part tells which other items its changes touch. */
  private settle(): void {
    const { open, parts } = this;
    const { neighbours, spelling, claims, stems, shown, folders, releases, pictures, world, shelves } = parts;
    for (const entry of open)
      if (entry.gone) neighbours.take(entry);
      else neighbours.put(entry);
    addAll(open, neighbours.settle());
    for (const entry of open) this.name(entry);
    addAll(open, spelling?.settle() ?? []);
    for (const entry of open) this.claim(entry);
    addAll(open, claims.settle());
    addAll(open, stems.settle());
    addAll(open, shown.settle());
    this.reopenAt(world.takeChangedOwners());
    for (const entry of open) this.fill(entry);
    addAll(open, folders.settle());
    this.offerRoom();
    for (const entry of open) this.place(entry);
    open.clear();
    releases.settle();
    pictures.settle();
    world.settle((item) => this.entries.get(item));
    this.settleRoom();
    if (shelves.settle()) this.sayMismatches();
  }

  /**
   * Who most likely stays out, before anybody is placed: of a library that is far larger than its player most would be
   * placed only to be taken out again.
   */
  private offerRoom(): void {
    const { room, world } = this.parts;
    if (!room.isLimited) return;
    for (const entry of this.open) this.offer(entry);
    addAll(this.open, room.settle(world.amount));
  }

  /** How many files go out for an item of a kind. */
  private filesOf(kind: Kind): number {
    return sidecarFor(this.rulebook, kind) ? 2 : 1;
  }

  /** Puts it where its folder counts it, if it gets its name. */
  private fill(entry: Entry): void {
    const { candidate } = entry;
    const { claims, folders, world } = this.parts;
    if (!candidate || claims.holder(candidate.takes) !== entry) return folders.take(entry);
    const { kind, folder, path } = candidate;
    const shared = picturesFor(this.rulebook, kind).filter(({ of }) => of === 'folder').length;
    const isThere = world.hasAny(entry.id);
    const key = this.keys.of(folder);
    folders.put(entry, { key, path, files: this.filesOf(kind), isThere, shared });
  }

  /** Whether it comes anew, if there is room. */
  private offer(entry: Entry): boolean {
    const { candidate } = entry;
    const { room, world, claims } = this.parts;
    const comes =
      candidate !== null &&
      claims.holder(candidate.takes) === entry &&
      !world.hasAny(entry.id) &&
      this.barred(entry, candidate).length === 0;
    if (comes) room.put(entry, candidate.kind, this.filesOf(candidate.kind));
    else room.take(entry);
    return comes;
  }

  /** Who stays out depends on what the others write: it is decided last, and concerns nobody's name. */
  private settleRoom(): void {
    const { room, world, releases, pictures } = this.parts;
    const changed = room.settle(world.amount);
    if (changed.length === 0) return;
    for (const entry of changed) this.place(entry);
    releases.settle();
    pictures.settle();
    world.settle((item) => this.entries.get(item));
  }

  private goes(): Outgoing[] {
    return [...this.entries.values()].flatMap(({ out }) => out ?? []);
  }

  private remarksOn({ id, said, out }: Entry): readonly Remark[] {
    const { releases, pictures } = this.parts;
    const shared = out
      ? [...releases.about(out), ...pictures.about(out)].filter(({ item }) => item === id)
      : [];
    return [...Object.values(said).flat(), ...shared];
  }

  private say(entry: Entry, about: keyof EntryRemarks, next: readonly Remark[]): void {
    const before = entry.said[about];
    if (before.length === 0 && next.length === 0) return;
    entry.said = { ...entry.said, [about]: this.parts.findings.exchange(before, next) };
  }

  /** Its name by the rulebook, or what is to be done about it first. */
  private name(entry: Entry): void {
    const said: Remark[] = [];
    const before = entry.named?.folder ?? null;
    const isAway = this.hearPlayer(entry, said);
    entry.named = isAway ? null : this.namedBy(entry, said);
    this.say(entry, 'name', said);
    this.parts.spelling?.move(entry, before, entry.named?.folder || null);
  }

  /**
   * Takes in what other hands did with its file there.
   * @returns whether it is not to be there: it left, or was left out, or was removed there and that counts
   */
  private hearPlayer(entry: Entry, said: Remark[]): boolean {
    const { world } = this.parts;
    const { id, known } = entry;
    const isOut = entry.gone || this.leftOut.has(id) || !this.isSelected(known.item);
    const wanted =
      isOut || (known.item.kind !== null && !known.place)
        ? null
        : { signature: known.signature, fields: known.copyFields };
    entry.waits = entry.says = null;
    entry.keptAt = wanted && world.there.keptAt(id);
    let isRemoved = false;
    for (const drift of world.there.driftsOf.get(id) ?? []) {
      const side = world.settleDrift(drift, wanted);
      if (side === 'here' || !wanted || !drift.placed || !world.there.isMedia(drift.placed)) continue;
      if (side === 'open') entry.waits = drift;
      else if (drift.type === 'changed') entry.says = drift.file?.says ?? null;
      else if (drift.type === 'removed') isRemoved = true;
      if (drift.type === 'moved') entry.keptAt = drift.file?.path ?? null;
    }
    const away = wanted && world.there.away.get(id);
    if (away) said.push(say.staysAway(entry, away));
    return isOut || isRemoved || Boolean(away);
  }

  private namedBy(entry: Entry, said: Remark[]): Named | null {
    const { known, keptAt } = entry;
    const kind = this.kindAt(known, entry, said);
    const { place } = known;
    if (kind === null || !place) return null;
    const lacks = known.missing.map(({ field, severity }) => {
      return { field, severity, proposal: proposed(entry, field, this.parts.neighbours) };
    });
    said.push(...say.missingFields(entry, lacks));
    if (known.missing.some(({ severity }) => severity === 'blocks')) return null;
    if (keptAt !== null) return { path: keptAt, folder: '', mended: false };
    const suffix = this.suffixes.get(entry.id) ?? '';
    return this.namer.of(known, kind, place, this.short.has(entry.id), suffix);
  }

  /** The kind as which an item has a place; null, and said, where it has none. */
  private kindAt({ item, place, refusal }: ItemPlan, entry: Entry, said: Remark[]): Kind | null {
    const { kind, nextKind } = item;
    if (kind === null) said.push(say.kindOpen(entry));
    else if (!place) said.push(say.noSection(entry, findPlace(this.rulebook, nextKind) ? nextKind : null));
    else if (refusal !== null) said.push(say.formatRefused(entry, refusal));
    else return kind;
    return null;
  }

  /** Its path as its folders are spelled, and its claim on that. */
  private claim(entry: Entry): void {
    const { named, known, candidate } = entry;
    const said: Remark[] = [];
    entry.candidate = null;
    if (named && known.place && known.item.kind) {
      const folder = this.parts.spelling?.of(entry) ?? named.folder;
      const path = folder === named.folder ? named.path : `${folder}/${nameOf(named.path)}`;
      const long = this.tooLong(entry, path, known.item.kind);
      if (long) said.push(long);
      else {
        entry.candidate = candidate;
        entry.candidate = entry.at(path, known.item.kind, known.place, named.mended, this.keys);
      }
    }
    this.say(entry, 'length', said);
    this.parts.claims.move(entry, candidate?.takes ?? null, entry.candidate?.takes ?? null);
    this.parts.stems.move(entry, candidate?.stem ?? null, entry.candidate?.stem ?? null);
    this.parts.shown.move(entry, this.shownAs(candidate), this.shownAs(entry.candidate));
  }

  /** What the player shows of its name, with its folder; null where it shows names as they are. */
  private shownAs(out: Outgoing | null): string | null {
    const { shownLetters } = this.rulebook.disk;
    if (!out || shownLetters === null) return null;
    return this.keys.of(`${out.folder}/${firstLetters(stemOf(out.path), shownLetters)}`);
  }

  /** Its path, or that of what goes beside it. */
  private tooLong(entry: Entry, path: string, kind: Kind): Remark | null {
    const rules = sidecarFor(this.rulebook, kind);
    for (const one of rules ? [path, sidecarPath(path, rules)] : [path]) {
      const found = tooLong(one, this.rulebook);
      if (found) return say.tooLong(entry, one, found, 'blocks');
    }
    return null;
  }

  /** Whether it goes to its path, and what is to be said of it there. */
  private place(entry: Entry): void {
    const { candidate } = entry;
    const holder = candidate && this.parts.claims.holder(candidate.takes);
    const wins = holder === entry;
    this.say(entry, 'claim', candidate && holder ? this.besides(entry, holder, candidate) : NONE);
    const barred = candidate && wins ? this.barred(entry, candidate) : NONE;
    const isOut = candidate !== null && this.offer(entry) && this.parts.room.out.has(entry);
    if (barred.length > 0) this.barredItems.add(entry);
    else this.barredItems.delete(entry);
    this.say(entry, 'place', isOut ? [say.noRoom(entry, candidate.path)] : barred);
    const out = wins && barred.length === 0 && !isOut ? candidate : null;
    if (out !== entry.out) this.put(entry, out);
    this.hold(entry);
  }

  /** What is to be said of it beside another one of its name, or of its name but for the ending. */
  private besides(entry: Entry, holder: Entry, { path, stem }: Outgoing): readonly Remark[] {
    if (holder !== entry) return [say.sameName(entry, holder, path)];
    const first = stem === null ? entry : this.parts.stems.holder(stem);
    const shownAs = this.shownAs(entry.candidate);
    const isShownAlike = shownAs !== null && this.parts.shown.holder(shownAs) !== entry;
    return [
      ...(first && first !== entry ? say.besideEdition(entry, first) : NONE),
      ...(this.parts.folders.late.has(entry) ? [say.writtenLate(entry, path)] : NONE),
      ...(isShownAlike ? [say.shownAlike(entry, path, this.rulebook.disk.shownLetters ?? 0)] : NONE),
    ];
  }

  /** What stands where its copy or its sidecar would go. */
  private barred(entry: Entry, { kind, path }: Outgoing): readonly Remark[] {
    const { world, folders } = this.parts;
    if (entry.waits) return [say.waits(entry, entry.waits)];
    if (folders.out.has(entry)) return [say.folderFull(entry, path, this.rulebook.disk.filesInFolder ?? 0)];
    const rules = sidecarFor(this.rulebook, kind);
    const own = world.inTheWay(path, entry, 'blocks');
    if (own) return [own];
    const beside = rules && world.inTheWay(sidecarPath(path, rules), entry, 'blocks');
    return beside ? [beside] : NONE;
  }

  private put(entry: Entry, out: Outgoing | null): void {
    const { releases, pictures, world, shelves, lengths } = this.parts;
    const before = entry.out;
    if (before) {
      releases.leave(before);
      pictures.leave(before);
      lengths.take(before);
      shelves.take(before.file);
      for (const want of world.wantedOf(entry.id)) world.unwant(want);
    }
    entry.out = out;
    if (out) {
      releases.join(out);
      pictures.join(out);
      lengths.put(out);
      shelves.put(out.file);
      for (const want of this.wantedFor(out)) world.want(want);
    }
    this.say(entry, 'notes', out ? this.notesOn(entry, out) : NONE);
  }

  /** The copy of an item, and what goes beside it. */
  private wantedFor(out: Outgoing): readonly Want[] {
    const copy = copyOf(out, this.keys);
    const rules = sidecarFor(this.rulebook, out.kind);
    return rules ? [copy, this.sidecar(out, rules)] : [copy];
  }

  private sidecar(out: Outgoing, rules: SidecarRules): Want {
    const text = writeSidecar(rules, out.item.fields, out.item.durationSeconds);
    return textBeside(out, sidecarPath(out.path, rules), rules.mime, text, this.keys);
  }

  private notesOn(entry: Entry, { item, kind, path, mended }: Outgoing): readonly Remark[] {
    const notes: Remark[] = [];
    const failed = this.parts.failed.get(this.keys.of(path));
    if (failed) notes.push(say.failedBefore(entry, failed));
    const kept = this.parts.world.there.keptFile(entry.id);
    if (kept) notes.push(say.keptThere(entry, kept));
    if (mended) notes.push(say.nameMended(entry, path));
    if (!item.settled && item.certainty !== 'sure' && item.kind) notes.push(say.kindGuess(entry, item.kind));
    if (!item.writable) notes.push(say.cannotWrite(entry));
    const { picture } = item;
    // What lies in its tags is what players of podcasts show, whatever else the rulebook asks for.
    if (kind === 'podcast' && picture && picture.width !== picture.height)
      notes.push(say.pictureShape(entry, picture, folderOf(path), null));
    for (const part of item.unheld) notes.push(say.cannotHold(entry, part));
    for (const { name, limit } of NUMBERS) {
      const value = item.fields[name];
      if (typeof value === 'number' && value > limit) notes.push(say.oddValue(entry, name, value));
    }
    const { tags } = this.rulebook;
    const version = item.tagFormats.map((sort) => /^ID3v2\.([234])/.exec(sort)).find(Boolean);
    if (version && !isBroughtTo(entry.known.recipe) && !tags.id3.includes(Number(version[1]) as 3))
      notes.push(say.tagVersion(entry, version[0]));
    const rules = sidecarFor(this.rulebook, kind);
    const old = rules && item.beside.find((beside) => roleOf(this.rulebook, beside) === 'sidecar');
    if (old && stemOf(old) !== stemOf(path)) notes.push(say.besideMismatch(entry, old, path));
    return notes;
  }

  private hold(entry: Entry): void {
    const { id, out, said } = entry;
    const blocks = [said.name, said.length, said.claim].some((remarks) =>
      remarks.some(({ severity, code }) => severity === 'blocks' || code === 'needsTwin'),
    );
    const held = out === null && (blocks || said.place.length > 0);
    if (held) this.held.set(id, heldBy(said));
    else this.held.delete(id);
    if (held === entry.held) return;
    entry.held = held;
    this.parts.world.holdChanged(id, held);
  }

  /** Videos already there that the player does not read, because folder, file and sidecar differ in name. */
  private sayMismatches(): void {
    const { shelves, world, findings } = this.parts;
    const missed = [...shelves.unplaced()].filter(
      ({ code, path }) => (code === 'namesDiffer' || code === 'noSidecar') && !world.isWanted(path),
    );
    const sidecars = new Map<string, string>();
    if (missed.length > 0)
      for (const { path, role } of world.stayingFiles())
        if (role === 'sidecar') sidecars.set(folderOf(path), path);
    const said = missed.flatMap(
      ({ path }) => this.mismatch(path, sidecars.get(folderOf(path)) ?? null) ?? [],
    );
    this.parts.mismatches = findings.exchange(this.parts.mismatches, said);
  }

  private mismatch(path: string, sidecar: string | null): Remark | null {
    const kind = placesAt(this.rulebook, path)[0]?.kinds[0];
    const rules = kind && sidecarFor(this.rulebook, kind);
    if (!rules) return null;
    const folder = folderOf(path);
    const base = `${folder}/${nameOf(folder)}`;
    const wanted = [
      { path, to: `${base}.${extensionOf(path)}` },
      ...(sidecar ? [{ path: sidecar, to: `${base}.${rules.extension}` }] : []),
    ];
    const { there } = this.parts.world;
    const renames = wanted.flatMap(({ path: from, to }) => {
      const file = there.files.get(this.keys.of(from));
      if (!sidecar || from === to || !file || !there.isFreeFor(from, to)) return [];
      return [{ path: from, was: { size: file.size, digest: file.digest }, to }];
    });
    return say.sidecarMismatch(path, sidecar, renames);
  }
}

const NOTHING_FAILED: readonly FailedStep[] = [];
const NOBODY = '' as ItemId;

/** What was added to decisions, where nothing of them was taken back or changed; else null. */
function addedTo<T extends { readonly path: string }>(
  before: readonly T[],
  after: readonly T[],
): readonly T[] | null {
  if (before === after) return [];
  const known = new Set(before.map((one) => JSON.stringify(one)));
  const added = after.filter((one) => !known.delete(JSON.stringify(one)));
  const paths = new Set(before.map(({ path }) => path));
  return known.size === 0 && added.every(({ path }) => !paths.has(path)) ? added : null;
}

/** Whether its copy's tag gets another version, which the player reads. */
const isBroughtTo = (recipe: Recipe): boolean => recipe.type === 'retag' && recipe.id3 !== null;

/** What keeps an item back: a finding that somebody has to mend, a twin that is to be made, or room. */
function heldBy({ name, length, claim, place }: EntryRemarks): HeldBy {
  const all = [...name, ...length, ...claim, ...place];
  if (all.every(({ code, severity }) => code === 'noRoom' || severity === 'note')) return 'room';
  return all.some(({ severity }) => severity === 'blocks') || place.length > 0 ? 'finding' : 'twin';
}

/** Files whose two sides are told at once. */
const MOST_SIDES = 100;

/** An item that a finding is about. */
export interface ItemOfFinding {
  readonly item: ItemId;
  /** What mending it would write into this one; null where that is nothing. */
  readonly edits: Edits | null;
}

/** A file that stands where something is wanted, and the step that would write it. */
export interface Unclaimed {
  readonly step: Extract<Step, { type: 'copy' | 'writePicture' | 'writeText' }>;
  readonly file: ThereFile;
}

/** What comes from a player, where what was done there counts. */
export interface Incoming {
  readonly edits: readonly { readonly item: ItemId; readonly edits: Edits }[];
  /** Files that others put there, to be taken in. */
  readonly files: readonly ThereFile[];
}

/** What a plan consists of, for one look at the player. */
interface Parts {
  readonly findings: Findings;
  readonly shelves: Shelves;
  readonly world: World;
  readonly neighbours: Neighbours<Entry>;
  /** Null where the player tells names apart by letter case. */
  readonly spelling: Spelling<Entry> | null;
  readonly claims: Claims<Entry>;
  /** Of names without their endings, where there may be editions. */
  readonly stems: Claims<Entry>;
  readonly releases: Releases;
  readonly pictures: FolderPictures;
  readonly lengths: Lengths;
  readonly room: Room<Entry>;
  readonly folders: FolderRules<Entry>;
  /** Of names as far as the player shows them. */
  readonly shown: Claims<Entry>;
  readonly failed: ReadonlyMap<string, FailedStep>;
  mismatches: readonly Remark[];
}

const folderRulesOf = ({ disk }: Rulebook) => ({
  limit: disk.filesInFolder,
  isWritten: disk.order === 'written',
});

function addAll<T>(set: Set<T>, more: readonly T[]): void {
  for (const one of more) set.add(one);
}
