import { LookingOnError } from '$lib/io/storage';
import { soon } from './soon';

/** Milliseconds that writes are collected before they are written together. */
const GATHER = 300;
/** The same during a take-in, which would otherwise write each record many times. */
const GATHER_BUSY = 3000;
/** Milliseconds before a refused write is tried again. */
const RETRY = 5000;
/** Writes in parallel. */
const AT_ONCE = 6;

/** Collects the keys of things that changed, and writes each once, later. */
export class WriteBehind<Key> {
  private readonly dirty = new Set<Key>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private running: Promise<void> = Promise.resolve();
  private underWay = 0;
  /** Set during a take-in. Files whose records are lost with the page can be taken in again. */
  busy = false;

  constructor(
    private readonly write: (key: Key) => Promise<void>,
    private readonly failed: (error: unknown) => void,
    /** Called when everything has been written. */
    private readonly kept: () => void = () => {},
    /** Whether a key can be written in parallel with others: most of the time is spent waiting for the disk. */
    private readonly isSideBySide: (key: Key) => boolean = () => false,
  ) {}

  mark(key: Key): void {
    this.dirty.add(key);
    this.timer ??= setTimeout(() => void this.flush(), this.busy ? GATHER_BUSY : GATHER);
  }

  /** Whether nothing is pending or being written. */
  get isIdle(): boolean {
    return this.dirty.size === 0 && this.underWay === 0;
  }

  /** Writes everything that is pending. Resolves when it is stored. */
  flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const keys = [...this.dirty];
    this.dirty.clear();
    this.underWay++;
    this.running = this.running.then(async () => {
      const underWay = new Set<Promise<void>>();
      for (const key of keys) {
        const isSide = this.isSideBySide(key);
        // Yields before each write, because records are packed in the page.
        if (isSide) await new Promise<void>((resolve) => soon(resolve));
        while (underWay.size >= (isSide ? AT_ONCE : 1)) await Promise.race(underWay);
        const writing = this.writeOne(key).then(() => void underWay.delete(writing));
        underWay.add(writing);
        if (!isSide) await writing;
      }
      await Promise.all(underWay);
      this.underWay--;
      if (this.isIdle) this.kept();
    });
    return this.running;
  }

  private async writeOne(key: Key): Promise<void> {
    try {
      await this.write(key);
    } catch (error) {
      // Tried again with the next write, or after a while, unless another tab is the working one.
      this.dirty.add(key);
      if (!(error instanceof LookingOnError)) this.timer ??= setTimeout(() => void this.flush(), RETRY);
      this.failed(error);
    }
  }
}
