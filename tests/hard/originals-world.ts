import { fresh, kept, memorySource, joinSpans, type ByteSource, type Span } from '../../src/lib/core/bytes';
import {
  EMPTY_FIELDS,
  fieldsOf,
  type Fields,
  type Item,
  type Overlay,
  type SourceId,
} from '../../src/lib/core/items';
import {
  jobOf,
  takeBackOriginals,
  withTakenBack,
  withWritten,
  writeOriginals,
  type FileChange,
  type Guard,
  type OpenOriginal,
  type OriginalEffects,
  type OriginalJob,
  type OriginalOutcome,
  type OriginalPlace,
} from '../../src/lib/core/originals';
import { StepError, StoreError } from '../../src/lib/core/run';
import { makeItem } from '../helpers/items';
import { cheapDigest } from './run-world';

/*
 * Originals of a format that a trial can read by eye: a room of a fixed length that holds the fields as text, then the
 * sound. What fits the room is written over in place, as tags of real formats are.
 */

export const FIELDS = ['title', 'album', 'albumArtist', 'comment'] as const;
export type Field = (typeof FIELDS)[number];
export type Said = Readonly<Partial<Record<Field, string>>>;

const ROOM = 160;
const encoder = new TextEncoder();
const decoder = new TextDecoder();

const headOf = (said: Said): Uint8Array => {
  const text = JSON.stringify(
    Object.fromEntries(FIELDS.flatMap((name) => (said[name] ? [[name, said[name]]] : []))),
  );
  return encoder.encode(`${text.padEnd(ROOM)}\n`);
};
export const fileOf = (said: Said, sound: string): Uint8Array =>
  Uint8Array.from([...headOf(said), ...encoder.encode(sound)]);

export function readFile(bytes: Uint8Array): { readonly said: Said; readonly sound: string } {
  const text = decoder.decode(bytes);
  const end = text.indexOf('\n');
  return { said: JSON.parse(text.slice(0, end)) as Said, sound: text.slice(end + 1) };
}

const fieldsIn = (said: Said): Fields => ({ ...EMPTY_FIELDS, ...said });

/** What a call can be cut by: an error of a store, or the end of the process. */
export interface Trouble {
  readonly call: number;
  readonly when: 'before' | 'after';
  readonly does: StoreError['code'] | 'gone' | (() => void);
}

/** The end of the process. */
export class Gone extends Error {}

export class Originals implements OriginalPlace {
  readonly files = new Map<string, Uint8Array>();
  readonly modified = new Map<string, number>();
  readonly items = new Map<string, Item>();
  /** Each run's jobs, and what came of them. */
  readonly runs: { readonly jobs: readonly OriginalJob[]; outcomes: (OriginalOutcome | undefined)[] }[] = [];
  calls = 0;
  trouble: Trouble | null = null;
  private isGone = false;
  private clock = 1;

  add(path: string, said: Said): void {
    this.files.set(path, fileOf(said, `sound of ${path}`));
    this.modified.set(path, this.clock++);
    this.items.set(path, this.read(path));
  }

  /** An item as its file is now, with nothing said over it. */
  private read(path: string): Item {
    const bytes = this.files.get(path) as Uint8Array;
    const item = makeItem(path, fieldsIn(readFile(bytes).said), {
      format: 'mp3',
      path,
      source: 's' as SourceId,
    });
    return { ...item, size: bytes.length, modified: this.modified.get(path) ?? 0 };
  }

  say(path: string): Said {
    return readFile(this.files.get(path) as Uint8Array).said;
  }

  /** Another program writes into a file; some keep its time. */
  hand(path: string, said: Said, keepsTime: boolean): void {
    const { said: before, sound } = readFile(this.files.get(path) as Uint8Array);
    this.files.set(path, fileOf({ ...before, ...said }, sound));
    if (!keepsTime) this.modified.set(path, this.clock++);
  }

  /** The curator says something of items and has it written into their originals. */
  begin(changes: ReadonlyMap<string, Overlay>, again?: ReadonlyMap<string, Overlay>): number {
    const jobs = [...changes].map(([path, overlay]): OriginalJob => {
      const own = again?.get(path);
      return { ...jobOf(this.read(path), overlay, null), ...(own && { again: own }) };
    });
    this.runs.push({ jobs, outcomes: [] });
    return this.runs.length - 1;
  }

  async write(job: OriginalJob, { spans }: FileChange, guard: Guard): Promise<void> {
    return this.at(job.path, async () => {
      const old = this.files.get(job.path) as Uint8Array;
      await guard({ bytes: memorySource(old), modified: this.modified.get(job.path) ?? 0 });
      this.files.set(job.path, await joinSpans(memorySource(old), spans));
      this.modified.set(job.path, this.clock++);
    });
  }

  async open({ path }: OriginalJob): Promise<OpenOriginal> {
    return this.at(path, async () => {
      const bytes = this.files.get(path);
      if (!bytes) throw new StoreError('gone', path);
      return { bytes: memorySource(bytes), modified: this.modified.get(path) ?? 0 };
    });
  }

  async go(run: number): Promise<void> {
    const { jobs, outcomes } = this.of(run);
    await writeOriginals(jobs, [...outcomes], this, this.effects(run));
    this.follow(run);
  }

  async takeBack(run: number) {
    const { jobs, outcomes } = this.of(run);
    const taken = await takeBackOriginals(jobs, [...outcomes], this, this.effects(run));
    this.follow(run);
    return taken;
  }

  /** The page comes back: nothing of the process that ended goes on. */
  revive(): void {
    this.isGone = false;
    this.trouble = null;
  }

  private of(run: number) {
    return this.runs[run] as Originals['runs'][number];
  }

  /** Brings items to what their files say, as the application does. */
  private follow(run: number): void {
    const { jobs, outcomes } = this.of(run);
    for (const [index, job] of jobs.entries()) {
      const type = outcomes[index]?.type;
      if (type !== 'done' && type !== 'undone') continue;
      const { edits } = this.items.get(job.path) as Item;
      const read = { ...this.read(job.path), edits };
      const item = type === 'done' ? withWritten(read, job.changes) : withTakenBack(read, job.changes);
      this.items.set(job.path, type === 'done' && job.again ? withTakenBack(item, job.again) : item);
    }
  }

  private effects(run: number): OriginalEffects {
    const { outcomes } = this.of(run);
    return {
      rewrite: (job, original) => this.at(job.path, () => this.rewrite(job, original)),
      check: (job, _original, changed) =>
        this.at(job.path, async () => {
          const { said } = readFile(await changed.read(0, changed.size));
          const wanted = fieldsOf({
            file: { fields: fieldsIn(said), pictures: [], chapters: [] },
            edits: job.changes,
          });
          if (FIELDS.some((name) => wanted[name] !== fieldsIn(said)[name]))
            throw new StepError('readBackDiffers', job.path);
        }),
      digest: (source) => this.at('', async () => cheapDigest(await source.read(0, source.size))),
      save: (index, outcome) =>
        this.at('', async () => {
          outcomes[index] = structuredClone(outcome);
        }),
      progress: () => undefined,
      isCancelled: () => false,
    };
  }

  private async rewrite({ changes }: OriginalJob, original: ByteSource): Promise<readonly Span[]> {
    const { said, sound } = readFile(await original.read(0, original.size));
    const head = headOf({ ...said, ...(changes.fields as Said) });
    return [fresh(head), kept(original.size - encoder.encode(sound).length, original.size)];
  }

  /** Every call is counted, and one of them may be cut, or used by another hand. */
  private async at<T>(path: string, act: () => Promise<T>): Promise<T> {
    if (this.isGone) throw new Gone();
    const { trouble } = this;
    if (this.calls++ !== trouble?.call) return act();
    const result = trouble.when === 'after' ? await act() : null;
    const { does } = trouble;
    if (typeof does === 'function') does();
    else if (does === 'gone') {
      this.isGone = true;
      throw new Gone();
    } else throw new StoreError(does, path, 'cut');
    return result === null ? act() : result;
  }
}
