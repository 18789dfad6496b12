import { chaptersOf, titleOf, type Chapter, type Item, type ItemId } from '$lib/core/items';
import {
  countEntries,
  entriesOf,
  moveTo,
  newHandList,
  putIn,
  takeOut,
  type HandList,
  type ListEntry,
  type ListId,
  type Suite,
} from '$lib/core/lists';
import { SteadySound } from './steady-sound';

/** Seconds into an item or a chapter up to which going back means the one before. */
const AT_BEGINNING = 4;
/** Seconds by which a beginning may miss the place that it was gone to: players round. */
const SAME_PLACE = 0.05;

/** The most entries that are queued when everything in scope is played. */
const MOST_QUEUED = 10_000;
/** Of those, the most before the one that playing starts with. */
const QUEUED_BEFORE = 100;

/** The queue is a hand list of its own. */
const EMPTY_QUEUE: HandList = { ...newHandList('queue' as ListId, 'Queue'), allowsDoubles: true };

/** The queue as it is kept, so that it survives a reload. */
export interface KeptQueue {
  readonly suites: readonly Suite[];
  /** Index of the current entry; -1 for none. */
  readonly at: number;
  /** The list that it was begun from. */
  readonly from: ListId | null;
}

/** What playback asks of the library. */
export interface Played {
  openFile(item: Item): Promise<Blob>;
  find(id: ItemId): Item | null;
  /** Called when an item was played to the end, with the list that it was played from. */
  heard(item: Item, from: ListId | null): void;
  /** Called when the queue or the place in it changes. */
  queueChanged(queue: KeptQueue): void;
}

/** The last one that begins at or before a time, in seconds. */
export const begunAt = <T extends { readonly startSeconds: number }>(
  all: readonly T[],
  place: number,
): T | null => all.findLast(({ startSeconds }) => startSeconds <= place + SAME_PLACE) ?? null;

/** What is played, whatever board is looked at: one item after the other, with their chapters. */
export class Playback {
  /** Null until something was opened. */
  loaded = $state.raw<Item | null>(null);
  paused = $state(true);
  /** Seconds. */
  place = $state(0);
  length = $state(0);
  speed = $state(1);
  steady = $state(false);
  /** Why playing failed. */
  trouble = $state<string | null>(null);
  /** What is played one after the other. */
  queue = $state.raw<HandList>(EMPTY_QUEUE);
  /** Index of the current entry; -1 for none. */
  at = $state(-1);
  /** The list that it was begun from. */
  from = $state.raw<ListId | null>(null);
  /** A single item is played while the queue waits. */
  private isAlone = false;
  readonly entries: readonly ListEntry[] = $derived(entriesOf(this.queue));
  /** The chapter that is heard. */
  readonly chapter: Chapter | null = $derived.by(() =>
    this.loaded ? begunAt(chaptersOf(this.loaded), this.place) : null,
  );

  private player: HTMLAudioElement | null = null;
  private url: string | null = null;
  private sound: SteadySound | null = null;
  /** Which load is the last one asked for. */
  private turn = 0;

  constructor(private readonly of: Played) {}

  /** Plays through this element until the returned function is called. */
  attach(player: HTMLAudioElement): () => void {
    this.player = player;
    return () => {
      if (this.url) URL.revokeObjectURL(this.url);
      this.url = null;
      this.sound?.end();
      this.sound = null;
      this.player = null;
      this.loaded = null;
    };
  }

  /** Opens an item's file and stops the one before. */
  async load(item: Item): Promise<boolean> {
    const own = ++this.turn;
    this.trouble = null;
    this.loaded = item;
    this.player?.pause();
    // The file before must not keep playing under this title if this one fails to open.
    if (this.url) URL.revokeObjectURL(this.url);
    this.url = null;
    try {
      const file = await this.of.openFile(item);
      // Another item was requested meanwhile.
      if (own !== this.turn) return false;
      this.url = URL.createObjectURL(file);
      if (this.player) this.player.src = this.url;
      return true;
    } catch {
      if (own === this.turn) this.trouble = `${titleOf(item)} cannot be opened`;
      return false;
    }
  }

  async start(item: Item): Promise<void> {
    if ((item.id !== this.loaded?.id || !this.url) && !(await this.load(item))) return;
    await this.player?.play().catch(() => (this.trouble = 'this browser cannot play it'));
    if (this.player) this.player.playbackRate = this.speed;
  }

  pause(): void {
    this.player?.pause();
  }

  /** Plays suites one after the other, from an entry on; by default the first that can be played. */
  async begin(suites: readonly Suite[], position = 0, from: ListId | null = null): Promise<void> {
    this.set({ ...EMPTY_QUEUE, suites }, position - 1, from);
    await this.goFrom(position, 1);
  }

  /** Plays items one after the other, from one of them on. */
  async playAll(items: readonly Item[], first: Item): Promise<void> {
    const place = Math.max(0, items.indexOf(first));
    const begin = items.length > MOST_QUEUED ? Math.max(0, place - QUEUED_BEFORE) : 0;
    const queued = items.slice(begin, begin + MOST_QUEUED);
    await this.begin(
      queued.map(({ id }) => ({ name: null, entries: [{ item: id }] })),
      place - begin,
    );
  }

  /** Plays one item alone, as when its lyrics are timed: nothing follows, and the queue stays as it is. */
  async playAlone(item: Item): Promise<void> {
    this.isAlone = true;
    await this.start(item);
  }

  /** Loads one item alone, and leaves it at its beginning. */
  async loadAlone(item: Item): Promise<boolean> {
    this.isAlone = true;
    return this.load(item);
  }

  /** Goes to the next item, or to the one before; further into one, back means its beginning. */
  async go(by: 1 | -1): Promise<void> {
    if (by < 0 && this.place > AT_BEGINNING) return this.seek(0);
    await this.goFrom(this.at + by, by);
  }

  async startAt(position: number): Promise<void> {
    await this.goFrom(position, 1);
  }

  /** The one that is heard came to its end. */
  async ended(): Promise<void> {
    const { loaded, isAlone } = this;
    if (loaded) this.of.heard(loaded, isAlone ? null : this.from);
    if (!isAlone) await this.goFrom(this.at + 1, 1);
  }

  /** Goes to the first entry from a position on that is an item of the library. */
  private async goFrom(position: number, by: 1 | -1): Promise<void> {
    // Read once, because it is computed each time outside of components.
    const { entries } = this;
    for (let at = position; at >= 0 && at < entries.length; at += by) {
      const entry = entries[at] as ListEntry;
      const item = 'item' in entry ? this.of.find(entry.item) : null;
      if (!item) continue;
      this.isAlone = false;
      this.set(this.queue, at, this.from);
      // The same item can be there twice: it starts again.
      if (item.id === this.loaded?.id) this.seek(0);
      return this.start(item);
    }
  }

  /** Adds items after the current suite, several as one suite. Items already waiting move forward. */
  playNext(items: readonly Item[]): void {
    this.put(items, true);
  }

  /** Adds items at the end, several as one suite. Items already waiting move back. */
  playLast(items: readonly Item[]): void {
    this.put(items, false);
  }

  private put(items: readonly Item[], isNext: boolean): void {
    const ids = new Set(items.map(({ id }) => id));
    const waits = new Set<number>();
    this.entries.forEach((entry, index) => {
      if (index !== this.at && 'item' in entry && ids.has(entry.item)) waits.add(index);
    });
    const heard = this.entries[this.at];
    const rest = takeOut(this.queue, waits);
    const isHeard = heard !== undefined && 'item' in heard && ids.has(heard.item);
    const fresh = items.flatMap(({ id }) => (isHeard && id === heard.item ? [] : id));
    const { list, positions } = putIn(rest, fresh, fresh.length > 1 ? { name: null } : null);
    this.change(isNext ? moveTo(list, positions, endOfSuite(list, heard)).list : list);
  }

  /** Takes the queue as it was put in order. */
  putInOrder(list: HandList): void {
    this.change(list);
  }

  takeOut(positions: ReadonlySet<number>): void {
    this.change(takeOut(this.queue, positions));
  }

  /** Takes all out that waits; what is heard goes on. */
  clear(): void {
    const positions = this.entries.flatMap((_, index) => (index === this.at ? [] : index));
    this.change(takeOut(this.queue, new Set(positions)));
  }

  /** Takes the queue up as it was left. */
  restore({ suites, at, from }: KeptQueue): void {
    if (this.loaded) return;
    this.queue = { ...EMPTY_QUEUE, suites };
    this.at = at;
    this.from = from;
    const entry = this.entries[at];
    this.loaded = entry && 'item' in entry ? this.of.find(entry.item) : null;
  }

  /** The current entry keeps playing; if it was removed, the one before it is current. */
  private change(list: HandList): void {
    const heard = this.entries[this.at];
    const before = this.entries.slice(0, Math.max(0, this.at)).reverse();
    this.queue = list;
    const places = new Map(this.entries.map((entry, index) => [entry, index]));
    const kept = heard && places.has(heard) ? heard : before.find((entry) => places.has(entry));
    this.set(list, (kept && places.get(kept)) ?? -1, this.from);
  }

  private set(list: HandList, at: number, from: ListId | null): void {
    this.queue = list;
    this.at = at;
    this.from = from;
    this.of.queueChanged({ suites: list.suites, at, from });
  }

  /** Goes to the next or previous chapter. */
  goChapter(by: 1 | -1): void {
    if (!this.loaded) return;
    const all = chaptersOf(this.loaded);
    const index = this.chapter ? all.indexOf(this.chapter) : -1;
    const isInto = by < 0 && this.chapter !== null && this.place - this.chapter.startSeconds > AT_BEGINNING;
    const to = all[isInto ? index : index + by];
    if (to) this.seek(to.startSeconds);
  }

  /** To a place in seconds, as far as there is one. */
  seek(seconds: number): void {
    if (!this.player) return;
    this.player.currentTime = Math.max(0, this.length > 0 ? Math.min(seconds, this.length) : seconds);
    this.place = this.player.currentTime;
  }

  setSpeed(speed: number): void {
    this.speed = speed;
    if (this.player) this.player.playbackRate = speed;
  }

  setSteady(on: boolean): void {
    this.steady = on;
    if (!this.player) return;
    this.sound ??= new SteadySound(this.player);
    this.sound.set(on);
  }
}

/** The end of an entry's suite; the beginning of the queue if it has none. */
function endOfSuite(list: Pick<HandList, 'suites'>, entry: ListEntry | undefined): number {
  if (!entry) return 0;
  let end = 0;
  for (const { entries } of list.suites) {
    end += entries.length;
    if (entries.includes(entry)) return end;
  }
  return countEntries(list);
}
