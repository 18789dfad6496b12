/**
 * One tab works on a library and others only look on, by the browser's lock manager. A tab that takes over makes the
 * other one look on.
 */
export class TabLock {
  /** `asking` until the browser has answered. */
  state = $state<'asking' | 'working' | 'looking'>('asking');
  private release: () => void = () => undefined;

  constructor(
    private readonly library: string,
    /** Called when another tab took the library over. */
    private readonly lost: () => void,
  ) {}

  private get lockName(): string {
    return `lectorum-library-${this.library}`;
  }

  /** Requests the lock. Resolves once it is decided. */
  ask(takeOver = false): Promise<void> {
    if (!navigator.locks) {
      this.state = 'working';
      return Promise.resolve();
    }
    return new Promise((answered) => {
      const options: LockOptions = takeOver ? { steal: true } : { ifAvailable: true };
      const held = navigator.locks.request(this.lockName, options, (lock) => {
        this.state = lock ? 'working' : 'looking';
        answered();
        return lock ? new Promise<void>((release) => (this.release = release)) : undefined;
      });
      held.catch(() => {
        this.state = 'looking';
        this.lost();
      });
    });
  }

  end(): void {
    this.release();
  }
}
