import { isSameOwner, mayBe, type PlacedFile, type ThereFile, type Unclaimed } from '$lib/core/plan';
import { MOST_RECORDS, newestRecords, type PlaceRecord } from '$lib/core/run';
import type { KeptPlace } from './library-protocol';
import type { TargetAddress } from '$lib/io/stores/store-of';

/** What telling whose files lie at a place needs of the world outside. */
export interface ClaimsOutside {
  /** Names this library in this browser; null before its first run. */
  findWriter(library: string): Promise<string | null>;
  /** Paths of the records that libraries keep at a place. */
  listRecords(target: TargetAddress): Promise<readonly string[]>;
  /** Null for one that cannot be read, or does not hold together. */
  readRecord(target: TargetAddress, path: string): Promise<PlaceRecord | null>;
  /** The digest of what a step would write; null where that has another size, or cannot be made. */
  wouldWrite(library: string, step: Unclaimed['step'], size: number): Promise<string | null>;
}

/** The digest of a file there, read where its listing has none; null where that cannot be found out. */
type DigestThere = (file: ThereFile) => Promise<string | null>;

/** Files that stand where something is wanted and are compared with that for one plan. */
const MOST_COMPARED = 5000;
const COMPARED_AT_ONCE = 6;
const NOTHING: readonly never[] = [];

/**
 * Whose files lie at a place, beyond what both sides agreed on: ours, where the place's own record of us or their bytes
 * say so, and another library's, where its record there does. Nothing counts that a digest does not confirm.
 */
export class PlaceClaims {
  /** Files that are ours though both sides did not agree on them yet. The same list as long as it says the same. */
  found: readonly PlacedFile[] = NOTHING;
  /** When another library that put a file there last ran, in milliseconds since 1970, by paths. */
  others: ReadonlyMap<string, number> = new Map();
  private read = new Map<string, PlaceRecord | null>();
  private records: readonly PlaceRecord[] = NOTHING;
  /** What all of them say, by paths. */
  private noted: ReadonlyMap<string, readonly PlacedFile[]> = new Map();
  private list: readonly ThereFile[] | null = null;
  /** What was compared before. */
  private compared = new Set<string>();

  constructor(private readonly outside: ClaimsOutside) {}

  /** Takes in what a place lists. @param placed what both sides agreed on */
  async look(
    target: TargetAddress,
    kept: KeptPlace | null,
    list: readonly ThereFile[],
    placed: readonly PlacedFile[],
    digestThere: DigestThere,
  ): Promise<void> {
    const isNews = await this.readRecords(target);
    const there = new Map(list.map((file) => [file.path, file]));
    const agreed = new Set(placed.flatMap(({ path, gone }) => (gone ? [] : path)));
    const own = kept && (await this.ownOf(kept));
    if (isNews || list !== this.list) this.others = othersOf(this.records, own, there);
    this.list = list;
    const standing = this.found.filter((record) => {
      const file = there.get(record.path);
      return file && mayBe(file, record) && !agreed.has(record.path);
    });
    const known = new Set(standing.map(({ path }) => path));
    const more: PlacedFile[] = [];
    for (const record of own?.files ?? NOTHING) {
      const file = there.get(record.path);
      if (!file || record.gone || known.has(record.path) || agreed.has(record.path)) continue;
      if (record.digest === null || !mayBe(file, record)) continue;
      if ((await digestThere(file)) === record.digest) more.push(record);
    }
    if (more.length > 0 || standing.length < this.found.length) this.found = [...standing, ...more];
  }

  /** Compares what stands where something is wanted with just that. @returns whether more was found to be ours */
  async compare(
    kept: KeptPlace,
    unclaimed: readonly Unclaimed[],
    digestThere: DigestThere,
  ): Promise<boolean> {
    const open = unclaimed.filter(({ step, file }) => {
      const { size, digest, modified } = file;
      const key = [file.path, size, digest, modified, JSON.stringify(step.owner), step.signature].join('\n');
      if (this.compared.has(key) || this.compared.size >= MOST_COMPARED) return false;
      this.compared.add(key);
      return true;
    });
    const found: PlacedFile[] = [];
    const goOn = async () => {
      for (let one = open.pop(); one; one = open.pop()) {
        const record = await this.provenRecord(kept, one, digestThere);
        if (record) found.push(record);
      }
    };
    await Promise.all(Array.from({ length: COMPARED_AT_ONCE }, goOn));
    if (found.length > 0) this.found = [...this.found, ...found];
    return found.length > 0;
  }

  private async provenRecord(
    { library }: KeptPlace,
    { step, file }: Unclaimed,
    digestThere: DigestThere,
  ): Promise<PlacedFile | null> {
    const { owner, signature } = step;
    const { path, size } = file;
    // Who wrote the same before said what came of it.
    const noted = this.noted
      .get(path)
      ?.find(
        (one) =>
          isSameOwner(one.owner, owner) && one.signature === signature && one.size === size && one.digest,
      );
    const digest = noted?.digest ?? (await this.outside.wouldWrite(library, step, size));
    if (digest === null || (await digestThere(file)) !== digest) return null;
    return { path, owner, signature, size, digest };
  }

  /** @returns whether there are others than before */
  private async readRecords(target: TargetAddress): Promise<boolean> {
    const paths = [...(await this.outside.listRecords(target))].sort().slice(0, MOST_RECORDS);
    if (paths.length === this.read.size && paths.every((path) => this.read.has(path))) return false;
    const read = new Map<string, PlaceRecord | null>();
    for (const path of paths)
      read.set(path, this.read.get(path) ?? (await this.outside.readRecord(target, path)));
    this.read = read;
    this.records = newestRecords(read);
    this.noted = byPath(this.records.flatMap(({ files }) => files));
    this.compared = new Set();
    return true;
  }

  private async ownOf({ library, target }: KeptPlace): Promise<PlaceRecord | null> {
    const writer = await this.outside.findWriter(library);
    return this.records.find((one) => one.writer === writer && one.target === target) ?? null;
  }
}

function byPath(files: readonly PlacedFile[]): ReadonlyMap<string, readonly PlacedFile[]> {
  const all = new Map<string, PlacedFile[]>();
  for (const file of files) {
    const own = all.get(file.path);
    if (own) own.push(file);
    else all.set(file.path, [file]);
  }
  return all;
}

/** What other libraries put there, and nobody changed since. */
function othersOf(
  records: readonly PlaceRecord[],
  own: PlaceRecord | null,
  there: ReadonlyMap<string, ThereFile>,
): ReadonlyMap<string, number> {
  const others = new Map<string, number>();
  const note = (path: string, at: number) => others.set(path, Math.max(at, others.get(path) ?? 0));
  for (const record of records) {
    if (record === own) continue;
    const { files, coming, at } = record;
    for (const one of files) {
      const file = there.get(one.path);
      // What others put there is not its own because it took that in.
      if (file && !one.gone && !one.taken && !one.theirs && mayBe(file, one)) note(one.path, at);
    }
    for (const path of coming) if (there.has(path)) note(path, at);
  }
  return others;
}
