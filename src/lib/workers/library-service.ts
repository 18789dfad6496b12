import { EntryIndex, readListFile } from '$lib/core/list-files';
import { LiveLists, type ListId, type PlayerList } from '$lib/core/lists';
import { folderOf } from '$lib/core/paths';
import { askedOf } from '$lib/core/query';
import { gather, gatherItemWith, type GatherItem } from '$lib/core/identify';
import { searchText, type Item, type ItemId } from '$lib/core/items';
import type { PlayerId, TargetId } from '$lib/core/library';
import {
  isSameOwner,
  itemOf,
  LivePlan,
  driftingOf,
  editedPlanItem,
  leftAt,
  mayBe,
  mildSteps,
  prove,
  provenRemedy,
  toPlanItem,
  withTwins,
  type Incoming,
  type Finding,
  type ListChange,
  type Permission,
  pastKey,
  type PastFile,
  type PlacedFile,
  type PlanDigest,
  type PlanItem,
  type PlayerScan,
  type Proof,
  type ThereFile,
} from '$lib/core/plan';
import { playsOnBy, type Rulebook } from '$lib/core/rulebooks';
import { type TargetRoom, JOURNAL_VERSION, type Journal } from '$lib/core/run';
import { outgoingOf } from '$lib/formats';
import type { Twin } from '$lib/core/twins';
import type { TargetSnapshot } from '$lib/io/storage';
import type {
  GatheredPart,
  KeptPlace,
  LibraryRequest,
  ListOfFile,
  ListsTold,
  ToldLists,
  LookResult,
  LookRequest,
  PlanStart,
  PlanWishes,
  TwinsOf,
} from './library-protocol';
import type { TargetAddress } from '$lib/io/stores/store-of';
import { PlaceClaims, type ClaimsOutside } from './place-claims';
import { ToldGatherings } from './told-gatherings';
import { serveAnswers, type Port } from './worker-client';

/** What the library worker needs of the world outside. */
export interface LibraryOutside extends ClaimsOutside {
  /** The items of a library as the browser keeps them, record by record. */
  readItems(library: string): AsyncIterable<readonly Item[]>;
  /** The twins that the browser keeps, by item. */
  readTwins(library: string): Promise<ReadonlyMap<ItemId, readonly Twin[]>>;
  list(target: TargetAddress): Promise<readonly ThereFile[]>;
  /** How much room it has; null where it does not tell. */
  room(target: TargetAddress): Promise<TargetRoom | null>;
  /** What the player itself shows. */
  scan(device: string): Promise<PlayerScan>;
  /** What a file there says, as tags or as a list, or its digest. What cannot be found out is left out. */
  examine(
    target: TargetAddress,
    path: string,
    what: 'says' | 'text' | 'digest',
  ): Promise<Pick<ThereFile, 'says'> | Pick<ThereFile, 'text'> | Pick<ThereFile, 'digest'>>;
  /** Keeps a journal that begins, with all that lies there now. */
  keepJournal(
    library: string,
    target: TargetId,
    journal: Journal,
    there: readonly ThereFile[],
  ): Promise<void>;
  /** What lay at a place by our hand earlier. */
  findPast(at: KeptPlace): Promise<readonly PastFile[]>;
  /** What a place listed when it last answered; null where it never did. */
  findSeen(at: KeptPlace): Promise<TargetSnapshot | null>;
  keepSeen(at: KeptPlace, seen: TargetSnapshot): Promise<void>;
}

/** Gathers and plans for whoever asks through a port. */
export function serveLibrary(port: Port, outside: LibraryOutside): void {
  const mirror = new Mirror(outside);
  serveAnswers<LibraryRequest, GatheredPart>(port, (request, tellPart) => mirror.answer(request, tellPart));
}

/** A player as it lies there, and the plan that brings it up to date. */
interface Planned {
  /** Null until a plan was asked for. */
  live: LivePlan | null;
  /** Where it was listed last; null before that, and for a folder that is not chosen. */
  target: TargetAddress | null;
  /** What it lists; null while it does not answer: then it is taken to be as we left it. */
  there: readonly ThereFile[] | null;
  /** What it said of its room when it last did. */
  room: TargetRoom | null;
  /** Which target was listed as that, and since when it is so, in milliseconds since 1970. */
  seen: { readonly target: TargetId | null; readonly at: number } | null;
  /** The place as the browser keeps it; null where nothing is kept of it. */
  kept: KeptPlace | null;
  readonly claims: PlaceClaims;
  /** Until when what lay there by our hand earlier did, by `pastKey`. */
  past: ReadonlyMap<string, number>;
  placed: readonly PlacedFile[];
  /** When both sides agreed on that, in milliseconds since 1970. */
  since: number | null;
  /** Of the plan that was told last; none before that, or since something changed under it. */
  token: string | null;
}

/** Milliseconds in which rule lists are made before others are answered. */
const LISTS_AT_ONCE = 150;
/** Files that one look goes into: what others have changed beyond that waits for the curator, unread. */
const MOST_LOOKED_INTO = 5000;
const LOOKED_INTO_AT_ONCE = 6;
const NOTHING: readonly never[] = [];
const NO_PAST: ReadonlyMap<string, number> = new Map();
const NOTHING_COMES: Incoming = { edits: [], files: [], lists: [] };

/** The items, as far as gathering and planning need them, and a plan for each player that was asked for. */
class Mirror {
  private readonly items = new Map<ItemId, PlanItem>();
  private readonly twins = new Map<ItemId, readonly Twin[]>();
  private readonly gathering = new Map<ItemId, GatherItem>();
  private readonly told = new ToldGatherings();
  /** Tracks that are left out of copies are in the items of lists all the same. */
  private readonly lists = new LiveLists<PlanItem>({
    asked: (item) => askedOf({ ...item, streams: item.ownStreams }),
    text: ({ fields, path }) => searchText(fields, path),
  });
  private readonly players = new Map<PlayerId, Planned>();
  /** What entries of list files are found by, and which state of the items it is of. */
  private entryIndex: { readonly at: number; readonly index: EntryIndex } | null = null;
  /** How often items were told to have changed. */
  private changes = 0;

  constructor(private readonly outside: LibraryOutside) {}

  answer(request: LibraryRequest, tellPart: (part: GatheredPart) => void): unknown {
    switch (request.type) {
      case 'load':
        return this.load(request.library);
      case 'forget':
        return this.change([], [...this.items.keys()]);
      case 'items':
        return this.change(request.changed, request.removed);
      case 'twins':
        return this.changeTwins(request.changed);
      case 'lists':
        return this.knowLists(request.wishes);
      case 'listed':
        return this.lists.listed(request.list);
      case 'readList':
        return this.readList(request.path, new Uint8Array(request.bytes));
      case 'listsOf':
        return this.lists.listsOf(request.item);
      case 'whyListed':
        return this.lists.why(request.list, request.item);
      case 'gather':
        return this.told.tell(gather([...this.gathering.values()]), tellPart);
      case 'look':
        return this.look(request);
      case 'base':
        Object.assign(this.of(request.player), { placed: request.placed, since: request.since });
        return null;
      case 'plan':
        return this.plan(request.player, request.wishes);
      case 'nodes':
        return this.of(request.player).live?.nodesOf(request.key) ?? NOTHING;
      case 'about':
        return this.of(request.player).live?.about(request.items) ?? null;
      case 'finding':
        return this.finding(request.player, request.finding);
      case 'itemsOf':
        return this.of(request.player).live?.itemsOf(request.finding, request.most) ?? null;
      case 'findings': {
        const { severity, from, to } = request;
        return this.of(request.player).live?.findings(severity, from, to) ?? NOTHING;
      }
      case 'sides':
        return this.of(request.player).live?.sides(request.finding) ?? NOTHING;
      case 'topFolders':
        return this.of(request.player).live?.topFolders() ?? NOTHING;
      case 'comes':
        return this.of(request.player).live?.comes() ?? NOTHING_COMES;
      case 'begin':
        return this.begin(request);
      case 'prove':
        return this.prove(request.player, request.device);
    }
  }

  private async load(library: string): Promise<null> {
    const gone = new Set(this.items.keys());
    this.twins.clear();
    for (const [item, twins] of await this.outside.readTwins(library)) this.twins.set(item, twins);
    for await (const items of this.outside.readItems(library)) {
      for (const { id } of items) gone.delete(id);
      this.change(items, []);
    }
    return this.change([], [...gone]);
  }

  private change(changed: readonly Item[], removed: readonly ItemId[]): null {
    this.changes++;
    for (const id of removed) {
      this.items.delete(id);
      this.gathering.delete(id);
    }
    const planned = changed.map((item) => {
      const own = toPlanItem(item, outgoingOf, this.twins.get(item.id));
      this.items.set(item.id, own);
      this.gathering.set(item.id, gatherItemWith(item, own.fields));
      return own;
    });
    this.lists.change(planned, removed);
    this.tellPlayers(planned, removed);
    return null;
  }

  private knowLists({ rulebooks, ...wishes }: ListsTold): ToldLists {
    const more = { ...wishes, ...(rulebooks && { playsOn: playsOnBy(rulebooks) }) };
    const isWhole = this.lists.know(more, LISTS_AT_ONCE);
    return { digests: this.lists.digests(), isWhole };
  }

  private readList(path: string, bytes: Uint8Array): ListOfFile {
    const { name, entries } = readListFile(bytes, path);
    // Several files are read one after the other: items are gone through once.
    if (this.entryIndex?.at !== this.changes)
      this.entryIndex = { at: this.changes, index: new EntryIndex(this.items.values()) };
    return { name, resolved: this.entryIndex.index.resolve(entries, folderOf(path)) };
  }

  private changeTwins(changed: readonly TwinsOf[]): null {
    this.changes++;
    const planned = changed.flatMap(([id, twins]) => {
      if (twins.length > 0) this.twins.set(id, twins);
      else this.twins.delete(id);
      const item = this.items.get(id);
      if (!item) return [];
      const own = withTwins(item, twins, outgoingOf);
      this.items.set(id, own);
      return [own];
    });
    this.tellPlayers(planned, []);
    return null;
  }

  private tellPlayers(changed: readonly PlanItem[], removed: readonly ItemId[]): void {
    for (const player of this.players.values()) {
      player.live?.change(changed, removed);
      player.token = null;
    }
  }

  private async look({ player: id, target, kept, permissions }: LookRequest): Promise<LookResult> {
    const player = this.of(id);
    player.target = target;
    player.kept = kept;
    const before = player.there;
    // What a place said before it stopped answering is no ground for a plan.
    player.there = null;
    player.token = null;
    const { seen } = player;
    const was =
      before && seen && seen.target === (kept?.target ?? null)
        ? { at: seen.at, list: before, room: player.room }
        : null;
    player.seen = null;
    if (!target) return { type: 'unchosen' };
    try {
      const past = new Map(
        (kept ? await this.outside.findPast(kept) : NOTHING).map((file) => [pastKey(file), file.until]),
      );
      // The very same: all that follows from it stands.
      if (past.size !== player.past.size) player.past = past;
      player.room = await this.outside.room(target);
      const list = await this.outside.list(target);
      const there = await this.lookCloser(list, player, target, permissions);
      // The very same files: all that follows from them stands.
      const now = before && isSame(there, before) ? before : there;
      await player.claims.look(target, kept, now, player.placed, this.digestThere(target));
      player.there = now;
    } catch (error) {
      return this.lookBack(player, kept, error);
    }
    const at = await this.keepSeen(player.there, player.room, was, kept);
    player.seen = { target: kept?.target ?? null, at };
    return { type: 'listed', room: player.room, since: at };
  }

  /** Keeps what a place listed, unless that is what is kept of it. @returns since when it is as it is */
  private async keepSeen(
    list: readonly ThereFile[],
    room: TargetRoom | null,
    was: TargetSnapshot | null,
    kept: KeptPlace | null,
  ): Promise<number> {
    const before = was ?? (kept && (await this.outside.findSeen(kept)));
    if (before && isSame(before.list, list) && JSON.stringify(before.room) === JSON.stringify(room))
      return before.at;
    const at = Date.now();
    if (kept?.mayWrite) await this.outside.keepSeen(kept, { at, list, room });
    return at;
  }

  /** A place that does not answer is planned for as it was when it last did. */
  private async lookBack(player: Planned, kept: KeptPlace | null, error: unknown): Promise<LookResult> {
    const seen = kept && (await this.outside.findSeen(kept));
    player.there = seen?.list ?? null;
    player.room = seen?.room ?? player.room;
    const why = error instanceof Error ? error.message : String(error);
    return { type: 'away', why, seenAt: seen?.at ?? null, room: player.room };
  }

  /** Looks into the files that are not as we left them: what they say, and whether they are some that lay elsewhere. */
  private async lookCloser(
    list: readonly ThereFile[],
    { placed, since, past }: Planned,
    target: TargetAddress,
    permissions: readonly Permission[],
  ): Promise<readonly ThereFile[]> {
    // The latest comes first, and is to count.
    const pastSizes = new Map([...past].reverse().map(([key, until]) => [Number(key.split(' ')[0]), until]));
    const open = driftingOf(list, placed, since, permissions, pastSizes);
    if (open.size === 0) return list;
    const left = leftAt(placed);
    const looked = new Map<ThereFile, ThereFile>();
    const waiting = [...open].slice(0, MOST_LOOKED_INTO);
    const lookOn = async () => {
      for (let file = waiting.pop(); file; file = waiting.pop()) {
        const seen = file.digest === null ? await this.examine(file, target, 'digest') : file;
        const own = left(file.path);
        const what = own?.owner?.type === 'list' ? 'text' : 'says';
        looked.set(file, own && !mayBe(seen, own) ? await this.examine(seen, target, what) : seen);
      }
    };
    await Promise.all(Array.from({ length: LOOKED_INTO_AT_ONCE }, lookOn));
    return list.map((file) => looked.get(file) ?? file);
  }

  /** A finding whose remedy names files of others by their digests: what the curator permits holds for these alone. */
  private async finding(id: PlayerId, finding: string): Promise<Finding | null> {
    const { live, target } = this.of(id);
    const found = live?.finding(finding) ?? null;
    if (!found || !target) return found;
    const digestOf = async (path: string) => {
      const read = await this.outside.examine(target, path, 'digest');
      return 'digest' in read ? read.digest : null;
    };
    return { ...found, remedy: await provenRemedy(found.remedy, digestOf) };
  }

  private async examine(
    file: ThereFile,
    target: TargetAddress,
    what: 'says' | 'text' | 'digest',
  ): Promise<ThereFile> {
    return { ...file, ...(await this.outside.examine(target, file.path, what)) };
  }

  private async plan(id: PlayerId, wishes: PlanWishes): Promise<PlanDigest> {
    const player = this.of(id);
    player.token = null;
    let digest: PlanDigest;
    let changes: number;
    do {
      digest = this.planFor(player, wishes);
      changes = this.changes;
      // What stands in the way may be the very thing: then it is no longer, and something else may come to its place. And
      // items may have changed while that was looked at: what is told is of the items as they are.
    } while ((await this.findOurs(player)) || changes !== this.changes);
    player.token = wishes.token;
    return digest;
  }

  private planFor(player: Planned, { rulebook, token: _, isBrief, ...wishes }: PlanWishes): PlanDigest {
    const { placed, claims, past } = player;
    const there = player.there ?? asLeft(placed);
    const { found, others } = claims;
    const agreed = { placed, ...wishes, free: freeOf(there, player.room, rulebook), found, others, past };
    const live = this.liveFor(player, rulebook) ?? new LivePlan(rulebook);
    const isNew = live !== player.live;
    // One that breaks off half way is no ground for the next: that one is made anew.
    player.live = null;
    live.see(there, agreed);
    live.know(this.lists.forPlayer(wishes.selection?.lists ?? NOTHING));
    if (isNew) live.change([...this.items.values()], []);
    const digest = this.withComing(live, live.digest(isBrief), wishes.selection?.lists ?? NOTHING, isBrief);
    player.live = live;
    return digest;
  }

  /**
   * What a run does once the library has taken over what comes from the player: what follows from that, such as other
   * names, is part of the sheet. What is found stays what is found of the library as it is.
   */
  private withComing(
    live: LivePlan,
    digest: PlanDigest,
    ids: readonly ListId[],
    isBrief: boolean,
  ): PlanDigest {
    if (digest.comes.edits + digest.comes.lists === 0) return digest;
    const { edits, lists } = live.comes();
    const before = edits.flatMap(({ item }) => this.items.get(item) ?? []);
    const said = new Map(edits.map((one) => [one.item, one.edits]));
    live.change(
      before.map((item) => editedPlanItem(item, said.get(item.id) ?? {}, outgoingOf)),
      [],
    );
    const own = this.lists.forPlayer(ids);
    if (lists.length > 0)
      live.know(
        own.map((list) => withChange(list, lists)),
        new Set(lists.map(({ list }) => list)),
      );
    const { findings, bySeverity, comes } = digest;
    const after = live.digest(isBrief);
    live.change(before, []);
    if (lists.length > 0) live.know(own);
    return { ...after, findings, bySeverity, comes };
  }

  /** @returns whether something that stood in the way is ours */
  private async findOurs({ live, target, kept, there, claims }: Planned): Promise<boolean> {
    if (!live || !target || !kept || !there) return false;
    return claims.compare(kept, live.unclaimed(), this.digestThere(target));
  }

  private digestThere(target: TargetAddress): (file: ThereFile) => Promise<string | null> {
    return async (file) => {
      const read = file.digest === null ? await this.examine(file, target, 'digest') : file;
      return read.digest;
    };
  }

  /** The plan so far, where it is by the same rulebook: each message brings a copy of it. */
  private liveFor({ live }: Planned, rulebook: Rulebook): LivePlan | null {
    return live && JSON.stringify(live.rulebook) === JSON.stringify(rulebook) ? live : null;
  }

  private of(id: PlayerId): Planned {
    let player = this.players.get(id);
    if (!player) {
      player = {
        live: null,
        target: null,
        there: null,
        room: null,
        seen: null,
        kept: null,
        claims: new PlaceClaims(this.outside),
        past: NO_PAST,
        placed: NOTHING,
        since: null,
        token: null,
      };
      this.players.set(id, player);
    }
    return player;
  }

  /** Writes the journal of a run of the plan that was told, or of none where it would do nothing; tells how many steps it has. */
  private async begin({ player: id, token, library, target, journal, isMild }: PlanStart): Promise<number> {
    const { live, token: told, placed, there } = this.of(id);
    if (!live || told !== token) throw new Error('the plan was made anew in between');
    const all = live.steps(token);
    const steps = isMild ? mildSteps(all, live.rulebook) : all;
    if (isMild && steps.length === 0 && !journal.took) return 0;
    const taken = new Set(journal.took?.placed.map(({ owner }) => itemOf(owner)));
    const begun: Journal = {
      ...journal,
      version: JOURNAL_VERSION,
      endedAt: null,
      state: 'running',
      reason: null,
      steps,
      outcomes: [],
      // What a run brought is no part of what was before it.
      placedBefore: placed.flatMap((file) => {
        const { owner } = file;
        if (itemOf(owner) !== null && taken.has(itemOf(owner))) return [];
        return journal.took?.lists.find(({ left }) => isSameOwner(left.owner, owner))?.left ?? file;
      }),
    };
    await this.outside.keepJournal(library, target, begun, there ?? NOTHING);
    return steps.length;
  }

  private async prove(id: PlayerId, device: string): Promise<Proof> {
    const { live } = this.of(id);
    if (!live) throw new Error('there is no rehearsal to hold it against');
    const scan = await this.outside.scan(device);
    const ours = live.paths().map(({ path }) => path);
    return prove(live.showing(), scan, ours, (path) => live.keyOf(path));
  }
}

/** A list as it is to become before a run. */
function withChange(list: PlayerList, changes: readonly ListChange[]): PlayerList {
  const change = changes.find((one) => one.list === list.id);
  if (!change) return list;
  if (change.type === 'entries') return { ...list, entries: change.entries };
  const dropped = new Set(change.items);
  return { ...list, entries: list.entries.filter((entry) => !('item' in entry && dropped.has(entry.item))) };
}

/** Bytes that a run may write: what an earlier run held aside goes before it begins. */
function freeOf(there: readonly ThereFile[], told: TargetRoom | null, { disk }: Rulebook): number | null {
  const limit = told ? told.room - told.others : disk.room;
  return limit === null ? null : there.reduce((left, { size }) => left - size, limit);
}

/** A player that does not answer is planned for as we left it. */
const asLeft = (placed: readonly PlacedFile[]): readonly ThereFile[] =>
  placed.filter(({ gone }) => !gone).map(({ path, size, digest }) => ({ path, size, digest }));

function isSame(one: readonly ThereFile[], other: readonly ThereFile[]): boolean {
  return (
    one.length === other.length &&
    one.every(({ path, size, digest, says, text }, index) => {
      const file = other[index];
      return (
        file?.path === path &&
        file.size === size &&
        file.digest === digest &&
        file.text === text &&
        JSON.stringify(file.says) === JSON.stringify(says)
      );
    })
  );
}
