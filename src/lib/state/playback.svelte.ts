import { chaptersOf, titleOf, type Chapter, type Item } from '$lib/core/items';
import { SteadySound } from './steady-sound';

/** Seconds into an item or a chapter up to which going back means the one before. */
const AT_BEGINNING = 4;
/** Seconds by which a beginning may miss the place that it was gone to: players round. */
const SAME_PLACE = 0.05;

/** The last of those that have begun at a place, in seconds. */
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
  /** Why nothing is heard. */
  trouble = $state<string | null>(null);
  /** What is played one after the other. */
  queue = $state.raw<readonly Item[]>([]);

  readonly at: number = $derived.by(() => this.queue.findIndex(({ id }) => id === this.loaded?.id));
  /** The chapter that is heard. */
  readonly chapter: Chapter | null = $derived.by(() =>
    this.loaded ? begunAt(chaptersOf(this.loaded), this.place) : null,
  );

  private player: HTMLAudioElement | null = null;
  private url: string | null = null;
  private sound: SteadySound | null = null;
  /** Which load is the last one asked for. */
  private turn = 0;

  constructor(private readonly openFile: (item: Item) => Promise<Blob>) {}

  /** Plays through this element, until what it answers with is called. */
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

  /** Opens an item's file; what was heard before falls silent. */
  async load(item: Item): Promise<boolean> {
    const own = ++this.turn;
    this.trouble = null;
    this.loaded = item;
    this.player?.pause();
    // What was heard before must not be heard under another title, should this one not open.
    if (this.url) URL.revokeObjectURL(this.url);
    this.url = null;
    try {
      const file = await this.openFile(item);
      // Another one was asked for meanwhile.
      if (own !== this.turn) return false;
      this.url = URL.createObjectURL(file);
      if (this.player) this.player.src = this.url;
      return true;
    } catch {
      if (own === this.turn) this.trouble = `${titleOf(item)} cannot be opened now`;
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

  /** Goes to the next item, or to the one before; further into one, back means its beginning. */
  async go(by: 1 | -1): Promise<void> {
    if (by < 0 && this.place > AT_BEGINNING) return this.seek(0);
    const item = this.queue[this.at + by];
    if (item) await this.start(item);
  }

  /** Puts items behind the one that is heard, so that they come next. Those that wait already come sooner. */
  playNext(items: readonly Item[]): void {
    const ids = new Set(items.map(({ id }) => id));
    const isOwn = (item: Item) => item.id === this.loaded?.id;
    const rest = this.queue.filter((item) => !ids.has(item.id) || isOwn(item));
    const at = rest.findIndex(isOwn) + 1;
    this.queue = [...rest.slice(0, at), ...items.filter((item) => !isOwn(item)), ...rest.slice(at)];
  }

  /** Another place in what is played for the item at this one. */
  moveInQueue(from: number, to: number): void {
    const next = [...this.queue];
    const [item] = next.splice(from, 1);
    if (!item || to < 0 || to > next.length) return;
    next.splice(to, 0, item);
    this.queue = next;
  }

  takeOut(index: number): void {
    this.queue = this.queue.filter((_, at) => at !== index);
  }

  /** To the chapter beside the one that is heard. */
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
