import { foldCase } from '../../src/lib/core/naming';
import { nameOf } from '../../src/lib/core/paths';
import type { ThereFile } from '../../src/lib/core/plan';
import { MemoryStore, StoreError, type Holding } from '../../src/lib/core/run';
import { cheapDigest, type StoreKind, type TrialPlace } from './run-world';

/** What the names of what a run keeps begin with: no path does. */
const KEPT = '.lectorum-held~';

/**
 * A place that knows no folders: a path is a name like any other, and what a run keeps has names of its own. A
 * folder is there as long as something is called as if it lay in it.
 */
class FlatPlace extends MemoryStore implements TrialPlace {
  private readonly all = new Map<string, { readonly path: string; readonly bytes: Uint8Array }>();

  readonly holding: Holding = {
    stage: (run, path) => `${KEPT}${run}~new~${nameOf(path)}`,
    hold: (run, step, path) => `${KEPT}${run}~${step}~${nameOf(path)}`,
    release: async () => undefined,
    clear: async () => undefined,
  };

  constructor(private readonly kind: Pick<StoreKind, 'caseBlind' | 'digests'>) {
    super();
  }

  override get files(): ReadonlyMap<string, Uint8Array> {
    return new Map([...this.all.values()].map(({ path, bytes }) => [path, bytes]));
  }

  override get folders(): readonly string[] {
    return [];
  }

  override put(path: string, bytes: Uint8Array): void {
    this.all.set(this.keyOf(path), { path, bytes });
  }

  take(path: string): void {
    this.all.delete(this.keyOf(path));
  }

  override async list(): Promise<readonly ThereFile[]> {
    return [...this.all.values()].filter(({ path }) => !path.startsWith(KEPT)).map((one) => this.told(one));
  }

  override async listHeld(): Promise<readonly ThereFile[]> {
    return [];
  }

  override async makeFolder(): Promise<void> {}

  override async hasFolder(path: string): Promise<boolean> {
    return [...this.all.keys()].some((key) => key.startsWith(`${this.keyOf(path)}/`));
  }

  override async removeEmptyFolder(): Promise<void> {}

  override async write(path: string, content: Uint8Array) {
    if (this.all.has(this.keyOf(path))) throw new StoreError('exists', path);
    this.put(path, content);
    return { size: content.length, digest: cheapDigest(content) };
  }

  override async move(from: string, to: string): Promise<void> {
    const one = this.all.get(this.keyOf(from));
    if (!one) throw new StoreError('gone', from);
    if (this.all.has(this.keyOf(to))) throw new StoreError('exists', to);
    this.take(from);
    this.put(to, one.bytes);
  }

  override async remove(path: string): Promise<void> {
    if (!this.all.has(this.keyOf(path))) throw new StoreError('gone', path);
    this.take(path);
  }

  override async find(path: string): Promise<ThereFile | null> {
    const one = this.all.get(this.keyOf(path));
    return one ? this.told(one) : null;
  }

  override async read(path: string) {
    const one = this.all.get(this.keyOf(path));
    if (!one) throw new StoreError('gone', path);
    const { bytes } = one;
    return { size: bytes.length, read: async (start: number, end: number) => bytes.subarray(start, end) };
  }

  private told({ path, bytes }: { readonly path: string; readonly bytes: Uint8Array }): ThereFile {
    return { path, size: bytes.length, digest: this.kind.digests ? cheapDigest(bytes) : null };
  }

  private keyOf(path: string): string {
    return this.kind.caseBlind ? foldCase(path) : path;
  }
}

const names = { caseBlind: false, digests: true };

/** A place without folders, for the trials of runs. */
export const FLAT: StoreKind = {
  name: 'without folders',
  ...names,
  make: () => new FlatPlace(names),
};
