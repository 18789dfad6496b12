import { LookingOnError } from '$lib/io/storage';
import { soon } from './soon';

/** Milliseconds that writes are gathered before they go out together: an edit is soon safe. */
const GATHER = 300;
/** The same while a take-in fills record after record: each would be written many times over. */
const GATHER_BUSY = 3000;
/** Milliseconds until what the browser refused is tried again. */
const RETRY = 5000;
/** Keys written side by side. */
const AT_ONCE = 6;

/** Gathers names of things that changed and writes each once, later. A write that fails is told. */
export class WriteBehind<Key> {
  private readonly dirty = new Set<Key>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private running: Promise<void> = Promise.resolve();
  private underWay = 0;
  /** Set while much comes in. What would be lost with the page is taken in again. */
  busy = false;

  constructor(
    private readonly write: (key: Key) => Promise<void>,
    private readonly failed: (error: unknown) => void,
    /** Told when all is kept that was to be. */
    private readonly kept: () => void = () => {},
    /** Whether a key may be written beside others: waiting for the disk takes longer than writing. */
    private readonly isSideBySide: (key: Key) => boolean = () => false,
  ) {}

  mark(key: Key): void {
    this.dirty.add(key);
    this.timer ??= setTimeout(() => void this.flush(), this.busy ? GATHER_BUSY : GATHER);
  }

  /** Whether nothing waits and nothing is being written. */
  get isIdle(): boolean {
    return this.dirty.size === 0 && this.underWay === 0;
  }

  /** Writes all that waits; resolves when it is kept. */
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
        // The page has its turn before each: what is written is put together there.
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
      // It is tried again with whatever is written next, or after a while: where another tab works, it never comes.
      this.dirty.add(key);
      if (!(error instanceof LookingOnError)) this.timer ??= setTimeout(() => void this.flush(), RETRY);
      this.failed(error);
    }
  }
}
