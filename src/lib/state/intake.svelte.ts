import { roleOf } from '$lib/core/rulebooks';
import { RULEBOOKS } from '$lib/rulebooks';
import { findBeside, isSameFile, type Change } from '$lib/core/library';
import {
  MOST_ASIDE,
  trimOverlay,
  type Arrival,
  type ArrivalId,
  type ChosenPicture,
  type Content,
  type Item,
  type ItemId,
  type Overlay,
  type SourceId,
  type UnreadFile,
} from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';
import { LIST_FILE_ENDINGS } from '$lib/core/list-files';
import { outsideNumberIn } from '$lib/core/naming';
import { extensionOf, nameOf } from '$lib/core/paths';
import { isMediaName, otherMedia } from '$lib/formats/reading/media-names';
import { newId } from '$lib/io/new-id';
import { openItem } from '$lib/io/take-in/open-item';
import type { Given, LostFile, WalkedFile } from '$lib/io/take-in/walk';
import type { ParsePool } from '$lib/workers/parse-pool';
import type { ReadOutcome } from '$lib/workers/parse-protocol';
import { afterPaint } from './after-paint';
import { guessAround } from './guess-around';
import type { Library } from './library.svelte';
import type { Job, Work } from './work.svelte';

/** Milliseconds between adding files that were read to the library: each time the board is redrawn. */
const HAND_OVER = 1500;
/** Files after which the first hand-overs come: something is soon seen, and the board fills a few rows at a time. */
const FIRST_HAND_OVERS: readonly number[] = [9, 16, 24, 32];
/** Files read before all others: their rows are the first ever drawn, while the workers leave the page its time. */
const FIRST_FILES = 4;
/** The most files in progress at once. */
const IN_FLIGHT = 32;

export interface TakeInResult {
  readonly added: number;
  readonly changed: number;
  readonly known: number;
  readonly unread: number;
  /** Files that were left out because they equal another one beside them. */
  readonly doubles: number;
  /** Files beside media that items use. */
  readonly beside: number;
  readonly cancelled: boolean;
}

/** Takes files in: walks folders, has files read by workers, and adds them to the library. */
export class Intake {
  busy = $state(false);
  private cancelled = false;

  constructor(
    private readonly library: Library,
    private readonly pool: () => ParsePool,
    private readonly work: Work,
    /** Called with the items that were taken in, at the end. */
    private readonly after: (ids: readonly ItemId[]) => void = () => {},
    /** Stores a picture found beside items. @throws {Error} if the browser cannot show it */
    private readonly keepPicture: (file: Blob) => Promise<ChosenPicture> = () => {
      throw new Error('pictures cannot be drawn here');
    },
    /** Reads a list file found beside items. @returns whether it is one */
    private readonly readList: (file: File, path: string) => Promise<boolean> = () => Promise.resolve(false),
  ) {}

  /** Takes in everything that was given, one arrival each. Returns the result of the last. */
  async takeIn(given: readonly Given[]): Promise<TakeInResult | null> {
    if (this.busy || given.length === 0) return null;
    let result: TakeInResult | null = null;
    this.busy = true;
    this.library.setBusy(true);
    this.cancelled = false;
    try {
      for (const one of given) {
        // The board is drawn for it first, while the workers leave the page its time.
        await nextFrame();
        result = await this.takeInOne(one);
        this.work.say(inWords(one.label, result), result.unread > 0);
      }
    } catch (error) {
      this.work.say(`Take-in stopped: ${error instanceof Error ? error.message : String(error)}`, true);
    } finally {
      this.library.setBusy(false);
      this.busy = false;
    }
    return result;
  }

  /** Takes what is there of a file that an arrival lists as cut short. @returns why it could not be had, or null */
  async takeEvenCut(arrival: Arrival, path: string): Promise<string | null> {
    const { library } = this;
    let file: File;
    try {
      const blob = await openItem(library.storage, arrival.source, path);
      file = blob instanceof File ? blob : new File([blob], nameOf(path), { lastModified: arrival.at });
    } catch (error) {
      return error instanceof Error ? error.message : String(error);
    }
    const outcome = await this.pool().read(path, file, true);
    if (outcome.type === 'unread') return outcome.detail;
    const batch = new Batch(library, arrival);
    const known = library.items.find((item) => item.source === arrival.source && item.path === path) ?? null;
    batch.add({ path, file, size: file.size, modified: file.lastModified }, known, outcome);
    batch.handOver();
    const now = library.arrivals.find(({ id }) => id === arrival.id) ?? arrival;
    library.addArrival({ ...now, unread: now.unread.filter((one) => one.path !== path) });
    library.put(await guessAround(library, batch.taken));
    await library.flush();
    this.work.say(`${nameOf(path)}: the readable part was taken in`);
    return null;
  }

  private async takeInOne(given: Given): Promise<TakeInResult> {
    const job = this.work.start(`Take in ${given.label}`, given.total ?? null, () => {
      this.cancelled = true;
      given.onCancel?.();
    });
    try {
      return await this.takeInAs(given, job);
    } finally {
      job.end();
    }
  }

  private async takeInAs(given: Given, job: Job): Promise<TakeInResult> {
    const source = await this.sourceOf(given);
    const arrival: Arrival = {
      id: newId() as ArrivalId,
      source,
      origin: given.origin ?? 'folder',
      label: given.label,
      at: Date.now(),
      unread: [],
      setAside: 0,
    };
    const batch = new Batch(this.library, arrival, given.onTaken);
    const walk = await this.readAll(given, source, batch, job);
    batch.handOver();
    const others = walk.others.map(({ path }) => path);
    this.noteBeside(batch.taken, findBeside(walk.media, others, isSidecar));
    this.library.put(await guessAround(this.library, batch.taken));
    const read = walk.media.length - walk.known;
    const used = await this.readBeside(
      source,
      walk.others,
      (done) => job.progress(read + done, read + walk.others.length),
      () => this.cancelled,
    );
    const aside = others.filter((path) => !used.has(path));
    if (batch.taken.length + batch.unread.length > 0)
      this.library.addArrival({
        ...arrival,
        unread: batch.unread,
        setAside: aside.length,
        aside: aside.slice(0, MOST_ASIDE),
      });
    await this.library.flush();
    this.after(batch.taken);
    return {
      added: batch.added,
      changed: batch.changed,
      known: walk.known,
      unread: batch.unread.filter(({ code }) => code !== 'double').length,
      doubles: batch.unread.filter(({ code }) => code === 'double').length,
      beside: used.size,
      cancelled: this.cancelled,
    };
  }

  /** Walks what was given and has unknown files read, at the same time. */
  private async readAll(given: Given, source: SourceId, batch: Batch, job: Job): Promise<Walk> {
    const have = new Map(
      this.library.items.filter((item) => item.source === source).map((item) => [item.path, item]),
    );
    const walk: Walk = { media: [], others: [], known: 0 };
    const inFlight = new Set<Promise<void>>();
    let done = 0;
    for await (const file of given.files) {
      if (this.cancelled) break;
      if ('lost' in file) {
        batch.lose(file);
        job.progress(++done);
        continue;
      }
      if (!isMediaName(file.path)) {
        const other = otherMedia(file.path);
        if (other === null) walk.others.push(file);
        else {
          batch.lose({ path: file.path, lost: { code: 'otherMedia', detail: other } });
          job.progress(++done);
        }
        continue;
      }
      walk.media.push(file.path);
      const item = have.get(file.path) ?? null;
      if (item && isSameFile(file, item)) {
        walk.known++;
        continue;
      }
      batch.begin();
      const reading = this.readOne(file, item, source, given.handle === null, batch).then(() => {
        inFlight.delete(reading);
        job.progress(++done);
      });
      inFlight.add(reading);
      if (walk.media.length - walk.known === FIRST_FILES) {
        await Promise.all(inFlight);
        batch.handOver();
        await nextFrame();
      }
      if (inFlight.size >= IN_FLIGHT) await Promise.race(inFlight);
    }
    job.progress(done, walk.media.length - walk.known);
    await Promise.all(inFlight);
    return walk;
  }

  private async readOne(
    file: WalkedFile,
    item: Item | null,
    source: SourceId,
    keep: boolean,
    batch: Batch,
  ): Promise<void> {
    const outcome = await this.pool().read(file.path, file.file);
    const isCut = outcome.type === 'unread' && outcome.code === 'cutShort';
    if ((outcome.type === 'read' || isCut) && keep)
      await this.library.storage.files.keep(source, file.path, file.file);
    batch.add(file, item, outcome);
  }

  /**
   * Reads files that are not media: adds what they say to the items of their source, and makes lists of list files.
   * @returns paths of those that were used
   */
  async readBeside(
    source: SourceId,
    others: readonly WalkedFile[],
    progress: (done: number) => void = () => {},
    isCancelled: () => boolean = () => false,
  ): Promise<ReadonlySet<string>> {
    if (others.length === 0 || isCancelled()) return NONE;
    const items = this.library.items.filter((item) => item.source === source && item.gone === null);
    const own = this.library.players.flatMap((player) => player.own ?? []);
    const { findBesideItems } = await import('./beside-files');
    const used = await findBesideItems(this.library, items, others, [...Object.values(RULEBOOKS), ...own], {
      keepPicture: this.keepPicture,
      progress,
      isCancelled,
    });
    if (items.length === 0) return used;
    for (const { path, file } of others)
      if (LIST_ENDINGS.has(extensionOf(path)) && (await this.readList(file, path))) used.add(path);
    return used;
  }

  private noteBeside(taken: readonly ItemId[], beside: ReadonlyMap<string, readonly string[]>): void {
    if (beside.size === 0) return;
    const changes = this.library.findAll(taken).flatMap((item): Change[] => {
      const near = beside.get(item.path);
      return near ? [{ id: item.id, before: item, after: { ...item, beside: near } }] : [];
    });
    this.library.put(changes);
  }

  /** The existing source with this handle or name, or a new one. */
  async sourceOf({ handle, label }: Pick<Given, 'handle' | 'label'>): Promise<SourceId> {
    for (const source of this.library.sources) {
      const known = source.type === 'folder' ? await this.library.storage.handles.find(source.id) : null;
      if (known && handle && (await known.isSameEntry(handle))) return source.id;
      // A library read in from a file knows its folders by name only, until they are chosen again.
      const isSame =
        source.label === label && (handle ? source.type === 'folder' && !known : source.type === 'kept');
      if (!isSame) continue;
      if (handle) await this.library.storage.handles.keep(source.id, handle);
      return source.id;
    }
    const id = newId() as SourceId;
    if (handle) await this.library.storage.handles.keep(id, handle);
    this.library.addSource({ id, type: handle ? 'folder' : 'kept', label });
    return id;
  }
}

/** The files of a take-in: paths of media, and all other files. */
interface Walk {
  readonly media: string[];
  readonly others: WalkedFile[];
  /** Number of media files that the library had already. */
  known: number;
}

const NONE: ReadonlySet<string> = new Set();

/** A plain text beside media need not be a list. */
const LIST_ENDINGS: ReadonlySet<string> = new Set(
  Object.values(LIST_FILE_ENDINGS).filter((ending) => ending !== LIST_FILE_ENDINGS.text),
);

/** A file that was read, on its way to the library. */
interface Read {
  readonly id: ItemId;
  readonly file: WalkedFile;
  /** The library had it before. */
  readonly isKnown: boolean;
  readonly outcome: Extract<ReadOutcome, { type: 'read' }>;
}

/** Collects items and adds them from time to time, so that the page can draw in between. */
class Batch {
  readonly unread: UnreadFile[] = [];
  readonly taken: ItemId[] = [];
  added = 0;
  changed = 0;
  private begun = false;
  private waiting: Read[] = [];
  private lastHandOver = performance.now();

  constructor(
    private readonly library: Library,
    private readonly arrival: Arrival,
    private readonly onTaken: NonNullable<Given['onTaken']> = () => {},
  ) {}

  /** Called for every file that is read: the arrival shows with the first one. */
  begin(): void {
    if (!this.begun) this.library.addArrival(this.arrival);
    this.begun = true;
  }

  add(file: WalkedFile, known: Item | null, outcome: ReadOutcome): void {
    if (outcome.type === 'unread') {
      this.unread.push({ path: file.path, code: outcome.code, detail: outcome.detail });
      return;
    }
    const id = known?.id ?? (newId() as ItemId);
    this.waiting.push({ id, file, isKnown: known !== null, outcome });
    this.taken.push(id);
    if (known) this.changed++;
    else this.added++;
    if (FIRST_HAND_OVERS.includes(this.taken.length) || performance.now() - this.lastHandOver > HAND_OVER)
      this.handOver();
  }

  /** Notes a file that did not come through. */
  lose({ path, lost }: LostFile): void {
    this.begin();
    this.unread.push({ path, ...lost });
  }

  handOver(): void {
    const changes = this.waiting.flatMap((waiting): Change[] => {
      const before = this.library.find(waiting.id);
      // What the curator forgot while it was read again stays forgotten.
      if (waiting.isKnown && !before) return [];
      return [{ id: waiting.id, before, after: this.toItem(waiting, before) }];
    });
    this.library.put(changes);
    if (this.waiting.length > 0) this.onTaken(this.waiting.map(({ file }) => file.path));
    this.waiting = [];
    this.lastHandOver = performance.now();
  }

  /** @param known the item as it is now: it may have been edited while its file was read */
  private toItem({ id, file, outcome }: Read, known: Item | null): Item {
    const { read, guess } = outcome;
    const { format, facts, file: content, native } = read;
    return {
      id,
      arrival: this.arrival.id,
      source: this.arrival.source,
      path: file.path,
      size: file.size,
      modified: file.modified,
      format,
      facts,
      native,
      file: content,
      guess,
      settled: known?.settled ?? file.says?.settled ?? null,
      edits: trimOverlay(content, known?.edits ?? saidOf(file, content, guess.kind)),
      gone: null,
      beside: known?.beside ?? [],
      identity: known?.identity ?? file.says?.identity ?? null,
      gathering: known?.gathering ?? null,
      made: file.says?.made ?? known?.made ?? null,
      foundBeside: known?.foundBeside ?? null,
    };
  }
}

/** Kinds whose names carry numbers of outside databases. */
const NUMBERED: ReadonlySet<Kind | null> = new Set(['film', 'episode']);

/** What is known of a new file beside its tags: from its source, and the outside number in its name. */
function saidOf({ path, says }: WalkedFile, { fields }: Content, kind: Kind | null): Overlay {
  const said = says?.edits ?? {};
  const outsideNumber = NUMBERED.has(kind) && fields.outsideNumber === null ? outsideNumberIn(path) : null;
  return outsideNumber === null ? said : { ...said, fields: { outsideNumber, ...said.fields } };
}

const nextFrame = () => new Promise<void>((resolve) => void afterPaint(resolve));

const files = (count: number) => `${count} ${count === 1 ? 'file' : 'files'}`;

function inWords(label: string, result: TakeInResult): string {
  const { added, changed, known, unread, doubles, beside, cancelled } = result;
  const parts = [
    added > 0 || (changed === 0 && known === 0) ? `${files(added)} taken in` : 'nothing new',
    ...(changed > 0 ? [`${changed} changed`] : []),
    ...(known > 0 ? [`${known} already in the library`] : []),
    ...(doubles > 0 ? [`${doubles} ${doubles === 1 ? 'duplicate' : 'duplicates'}`] : []),
    ...(beside > 0 ? [`${files(beside)} beside them used`] : []),
    ...(unread > 0 ? [`${unread} could not be read`] : []),
  ];
  return `${label}: ${parts.join(', ')}${cancelled ? ' before you cancelled' : ''}`;
}

/** Whether some player uses sidecars with this extension. */
const isSidecar = (path: string): boolean =>
  Object.values(RULEBOOKS).some((rulebook) => roleOf(rulebook, path) === 'sidecar');
