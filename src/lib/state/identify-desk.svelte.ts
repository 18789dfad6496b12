import {
  KIND_OF_TYPE,
  NO_DECISIONS,
  TAKEN_FIELDS,
  entriesInOrder,
  factsFor,
  matchOf,
  toLineFile,
  type Candidate,
  type Decisions,
  type Gathering,
  type LineFile,
  type LineUp,
  type LookUp,
  type Offer,
  type ReferenceEntry,
  type ReferenceRelease,
} from '$lib/core/identify';
import {
  editContent,
  kindOf,
  titleOf,
  type ChosenPicture,
  type Edits,
  type FieldName,
  type Item,
  type ItemId,
  type Overlay,
  type PictureId,
} from '$lib/core/items';
import { ServiceError } from '$lib/io/bounded-fetch';
import { newId } from '$lib/io/new-id';
import { toJpeg } from '$lib/io/pictures';
import { ReferenceClient } from '$lib/io/reference-client';
import { IdentifyClient } from '$lib/workers/identify-client';
import { WorkerError } from '$lib/workers/worker-client';
import type { LibraryMirror } from './library-mirror';
import type { Library } from './library.svelte';
import type { Listening } from './listening.svelte';
import type { Work } from './work.svelte';

/** Milliseconds after an edit until items are gathered anew. */
const SETTLE = 250;

/** How a look-up of a gathering stands. */
export interface LookedUp {
  readonly phase: 'asking' | 'found' | 'nobody' | 'failed';
  readonly candidates: readonly Candidate[];
  /** Why it failed; null otherwise. */
  readonly trouble: { readonly code: ServiceError['code'] | 'other'; readonly detail: string } | null;
  /** Releases of the answer that could not be used. */
  readonly dropped: number;
}

/** What the curator chose for one gathering. Kept while the page is open. */
interface Choice {
  /** Keys of candidates: the first is the release, others lend entries for some of the files. */
  readonly candidates: readonly string[];
  readonly decisions: Decisions;
  /** The straight line-up is the one on show. */
  readonly straight: boolean;
}

const NO_CHOICE: Choice = { candidates: [], decisions: NO_DECISIONS, straight: false };

/** Which ways a look-up goes. */
export type LookUpWay = 'all' | 'words' | 'lengths' | 'number' | 'sound';

/** Gatherings, the reference's candidates for them, and the line-up in hand. */
export class IdentifyDesk {
  gatherings = $state.raw<readonly Gathering[]>([]);
  /** Key of the gathering whose line-up is on show; null shows all of them. */
  openKey = $state<string | null>(null);
  offer = $state.raw<Offer | null>(null);
  /** Fields that taking a line-up writes; those of other types do not matter. */
  fields = $state.raw<ReadonlySet<FieldName>>(new Set(Object.values(TAKEN_FIELDS).flat()));
  /** Edge of the picture to take in pixels, or null for none. */
  pictureSize = $state<number | null>(null);
  withLyrics = $state(false);
  private looked = $state.raw<ReadonlyMap<string, LookedUp>>(new Map());
  private choices = $state.raw<ReadonlyMap<string, Choice>>(new Map());
  private heard = $state.raw<ReadonlyMap<ItemId, LineFile['heard']>>(new Map());

  readonly gathering: Gathering | null = $derived(
    this.gatherings.find(({ key }) => key === this.openKey) ?? null,
  );
  readonly items: readonly Item[] = $derived.by(() => {
    // Read first, so that the line-up follows every edit.
    void this.library.items;
    return this.gathering ? this.library.findAll(this.gathering.items) : [];
  });
  readonly files: readonly LineFile[] = $derived.by(() =>
    this.items.map((item) => toLineFile(item, this.heard.get(item.id) ?? null)),
  );
  readonly lookUp: LookedUp | null = $derived(this.looked.get(this.openKey ?? '') ?? null);
  readonly choice: Choice = $derived(this.choices.get(this.openKey ?? '') ?? NO_CHOICE);
  /** The release that is laid against, and those that lend entries. */
  readonly chosen: readonly Candidate[] = $derived.by(() => {
    const all = this.lookUp?.candidates ?? [];
    const picked = this.choice.candidates.flatMap((key) => all.find((one) => one.key === key) ?? []);
    return picked.length > 0 ? picked : all.slice(0, 1);
  });
  readonly entries: readonly ReferenceEntry[] = $derived.by(() =>
    this.chosen.flatMap(({ release, order }) => entriesInOrder(release, order)),
  );
  readonly lineUp: LineUp | null = $derived.by(() => {
    if (!this.offer || this.chosen.length === 0) return null;
    return this.choice.straight && this.offer.straight ? this.offer.straight : this.offer.best;
  });
  readonly waiting: readonly Gathering[] = $derived(this.gatherings.filter(({ state }) => state === 'waits'));
  /** Items that no line-up has touched, over all gatherings that wait. */
  readonly unmatched: number = $derived(this.waiting.reduce((sum, { waiting }) => sum + waiting, 0));

  private timer: ReturnType<typeof setTimeout> | null = null;
  private turn = 0;
  private asking: AbortController | null = null;

  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly listening: Listening,
    private readonly mirror: LibraryMirror,
    private readonly reference = new ReferenceClient(),
    private readonly client = new IdentifyClient(),
  ) {}

  /** Gathers soon, once edits have settled. */
  gatherSoon(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.gatherNow(), SETTLE);
  }

  async gatherNow(again = false): Promise<void> {
    this.timer = null;
    try {
      await this.gather();
    } catch (error) {
      if (!(error instanceof WorkerError)) throw error;
      // One that fell over is started anew and told everything, once.
      if (error.code === 'died' && !again) return this.gatherNow(true);
      if (error.code !== 'ended') this.work.say(`Sets could not be gathered: ${error.message}`, true);
    }
  }

  /** Ends the worker, with the library. */
  end(): void {
    if (this.timer) clearTimeout(this.timer);
    this.asking?.abort();
    this.client.end();
  }

  private async gather(): Promise<void> {
    const generation = await this.mirror.bring();
    const first = this.gathering?.items[0];
    this.gatherings = await this.mirror.client.gather(generation);
    if (first && !this.gatherings.some(({ key }) => key === this.openKey)) this.follow(first);
    await this.pair();
  }

  /** Shows a gathering's line-up, and looks it up where it waits and nobody was asked yet. */
  open(key: string | null): void {
    this.openKey = key;
    this.offer = null;
    const { gathering } = this;
    if (gathering?.state === 'waits' && !this.looked.has(gathering.key)) void this.ask('all');
    else void this.pair();
  }

  /** Opens the next gathering that waits, or the one before. */
  step(by: 1 | -1): void {
    const { waiting } = this;
    if (waiting.length === 0) return;
    const at = waiting.findIndex(({ key }) => key === this.openKey);
    const next = at < 0 ? 0 : (at + by + waiting.length) % waiting.length;
    this.open(waiting[next]?.key ?? null);
  }

  /**
   * Asks the reference what the open gathering could be.
   * @param text words or a number, for the ways that take them
   */
  async ask(way: LookUpWay, text = this.gathering?.words ?? ''): Promise<void> {
    const { gathering } = this;
    if (!gathering) return;
    this.asking?.abort();
    const asking = (this.asking = new AbortController());
    const before = this.looked.get(gathering.key)?.candidates ?? [];
    this.setLooked(gathering.key, { phase: 'asking', candidates: before, trouble: null, dropped: 0 });
    try {
      const query = await this.query(gathering, way, text, asking.signal);
      const answer = await this.reference.lookUp(query, asking.signal);
      if (query.fingerprints) this.noteHeard(gathering, answer.heard);
      const words = way === 'words' ? text : gathering.words;
      const candidates = await this.client.rank(this.filesOf(gathering), words, answer.releases);
      if (asking.signal.aborted) return;
      const phase = candidates.length > 0 ? 'found' : 'nobody';
      this.setLooked(gathering.key, { phase, candidates, trouble: null, dropped: answer.dropped });
    } catch (error) {
      if (asking.signal.aborted) return;
      const trouble =
        error instanceof ServiceError
          ? { code: error.code, detail: error.message }
          : { code: 'other' as const, detail: error instanceof Error ? error.message : String(error) };
      this.setLooked(gathering.key, { phase: 'failed', candidates: before, trouble, dropped: 0 });
    }
    await this.pair();
  }

  choose(candidate: string): void {
    this.change({ candidates: [candidate], straight: false, decisions: NO_DECISIONS });
  }

  /** Adds a release whose entries some of the files may belong to, or takes it away again. */
  toggleSecond(candidate: string): void {
    const now = this.chosen.map(({ key }) => key);
    const next = now.includes(candidate) ? now.filter((key) => key !== candidate) : [...now, candidate];
    this.change({ candidates: next });
  }

  /** Holds a file to an entry; null keeps it open. */
  lock(file: string, entry: string | null): void {
    const { locked, leftOut } = this.choice.decisions;
    // An entry takes one file: whoever held it before is free again.
    const rest = Object.fromEntries(
      Object.entries(locked).filter(([other, own]) => other !== file && (entry === null || own !== entry)),
    );
    this.change({
      decisions: { locked: { ...rest, [file]: entry }, leftOut: leftOut.filter((id) => id !== file) },
    });
  }

  /** Gives a file back to the pairing. */
  free(file: string): void {
    const { locked, leftOut } = this.choice.decisions;
    const { [file]: _, ...rest } = locked;
    this.change({ decisions: { locked: rest, leftOut: leftOut.filter((id) => id !== file) } });
  }

  leaveOut(file: string): void {
    const { locked, leftOut } = this.choice.decisions;
    const { [file]: _, ...rest } = locked;
    this.change({ decisions: { locked: rest, leftOut: [...leftOut.filter((id) => id !== file), file] } });
  }

  setStraight(straight: boolean): void {
    this.change({ straight });
  }

  /** Writes what the entries say into the files' descriptions, as one act. */
  async take(): Promise<void> {
    const { gathering, lineUp } = this;
    const release = this.chosen[0]?.release;
    if (!gathering || !lineUp || !release || lineUp.pairs.length === 0) return;
    try {
      const picture = await this.takePicture(release);
      const taken = await this.taken(lineUp);
      const at = Date.now();
      const label = `Line-up of ${release.title}`;
      this.library.act(label, this.library.findAll(taken.keys()), (item) => {
        const own = taken.get(item.id);
        if (!own) return item;
        const settled = item.settled ?? KIND_OF_TYPE[gathering.type];
        const identity = matchOf(own.release, own.entry, at);
        const over: Overlay = { fields: own.edits, ...(picture && { pictures: { front: picture } }) };
        return { ...editContent(item, over), settled, identity };
      });
      const open = lineUp.openFiles.length;
      this.work.say(
        `${release.title}: ${taken.size} files described${open > 0 ? `, ${open} left open` : ''}`,
      );
      await this.gatherNow();
    } catch (error) {
      this.work.say(
        `${release.title} was not taken: ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`,
        true,
      );
    }
  }

  /** Leaves the gathering's open items as they are: they no longer wait. */
  leaveAsTheyAre(gathering: Gathering): void {
    const items = this.library.findAll(gathering.items).filter(({ identity }) => identity === null);
    this.library.act(`Leave ${gathering.label} as it is`, items, (item) => ({
      ...item,
      identity: { type: 'left', at: Date.now() },
    }));
  }

  /** Lets matched or left items wait again. */
  reopen(gathering: Gathering): void {
    this.library.act(`Open ${gathering.label} again`, this.library.findAll(gathering.items), (item) =>
      item.identity === null ? item : { ...item, identity: null },
    );
  }

  /** Makes these items a release of their own. */
  split(ids: readonly ItemId[]): void {
    const items = this.library.findAll(ids);
    const [first] = items;
    if (!first) return;
    const label = this.freeLabel(
      items.length === 1 ? titleOf(first) : `${this.gathering?.label ?? titleOf(first)}, part`,
    );
    this.library.act(`Split off ${items.length}`, items, (item) => ({ ...item, gathering: label }));
  }

  /** Puts items into the open gathering, all of whose files become one release by hand. */
  join(ids: readonly ItemId[]): void {
    const { gathering } = this;
    if (!gathering) return;
    const own = this.library.findAll(gathering.items);
    const label = own[0]?.gathering ?? this.freeLabel(gathering.label);
    const kind = own[0] ? kindOf(own[0]) : null;
    const all = [...own, ...this.library.findAll(ids)];
    this.library.act(`Join ${ids.length} to ${gathering.label}`, all, (item) => ({
      ...item,
      gathering: label,
      settled: kindOf(item) === kind ? item.settled : kind,
    }));
  }

  private freeLabel(wanted: string): string {
    const taken = new Set(this.library.items.map(({ gathering }) => gathering));
    for (let count = 1; ; count++) {
      const label = count === 1 ? wanted : `${wanted} ${count}`;
      if (!taken.has(label)) return label;
    }
  }

  /** A split, a join or a new album gives the open set another key: it stays open, with all that is known of it. */
  private follow(first: ItemId): void {
    const [from, to] = [this.openKey ?? '', this.gatherings.find(({ items }) => items.includes(first))?.key];
    const [looked, choice] = [this.looked.get(from), this.choices.get(from)];
    if (to !== undefined && looked) this.setLooked(to, looked);
    if (to !== undefined && choice) this.choices = new Map(this.choices).set(to, choice);
    this.openKey = to ?? null;
  }

  private filesOf(gathering: Gathering): LineFile[] {
    return this.library
      .findAll(gathering.items)
      .map((item) => toLineFile(item, this.heard.get(item.id) ?? null));
  }

  private async query(
    gathering: Gathering,
    way: LookUpWay,
    text: string,
    signal: AbortSignal,
  ): Promise<LookUp> {
    const { type } = gathering;
    const files = this.filesOf(gathering);
    const lengths = files.flatMap(({ id, lengthSeconds }) =>
      lengthSeconds === null || id === gathering.whole ? [] : [lengthSeconds],
    );
    switch (way) {
      case 'words':
        return { type, words: text };
      case 'number':
        return { type, number: text.trim() };
      case 'lengths':
        return { type, lengths };
      case 'sound':
        return { type, fingerprints: await this.fingerprints(gathering, signal) };
      case 'all':
        return { type, lengths, ...(text === '' ? {} : { words: text }) };
    }
  }

  /** Fingerprints of a gathering's files, in their order; empty text where nothing was heard. */
  private async fingerprints(gathering: Gathering, signal: AbortSignal): Promise<string[]> {
    const items = this.library.findAll(gathering.items);
    return this.listening.fingerprints(items, signal);
  }

  private noteHeard(gathering: Gathering, heard: readonly Readonly<Record<string, number>>[]): void {
    const next = new Map(this.heard);
    gathering.items.forEach((id, index) => next.set(id, heard[index] ?? null));
    this.heard = next;
  }

  private setLooked(key: string, looked: LookedUp): void {
    this.looked = new Map(this.looked).set(key, looked);
  }

  private change(part: Partial<Choice>): void {
    if (this.openKey === null) return;
    const picked = this.chosen.map(({ key }) => key);
    const now = this.choice.candidates.length > 0 ? this.choice : { ...this.choice, candidates: picked };
    this.choices = new Map(this.choices).set(this.openKey, { ...now, ...part });
    void this.pair();
  }

  /** Pairs anew; an answer that comes late gives way to a later question. */
  private async pair(): Promise<void> {
    const turn = ++this.turn;
    if (this.chosen.length === 0) {
      this.offer = null;
      return;
    }
    const { gathering } = this;
    const { decisions } = this.choice;
    const whole = gathering?.whole;
    // A file that holds all the others is no entry, unless the curator says so.
    const leaves = whole && !(whole in decisions.locked) && !decisions.leftOut.includes(whole);
    const offer = await this.client.lineUp(
      $state.snapshot(this.files) as readonly LineFile[],
      this.entries,
      leaves ? { ...decisions, leftOut: [...decisions.leftOut, whole] } : decisions,
    );
    if (turn === this.turn) this.offer = offer;
  }

  private async takePicture(release: ReferenceRelease): Promise<ChosenPicture | null> {
    const size = this.pictureSize;
    if (size === null || !release.pictureSizes.includes(size)) return null;
    const { blob, mime, width, height } = await toJpeg(await this.reference.picture(release.id, size));
    const id = newId() as PictureId;
    await this.library.storage.keepPicture(id, blob);
    return { id, mime, bytes: blob.size, width, height };
  }

  /** For each paired item, what its entry says. */
  private async taken(lineUp: LineUp) {
    const owners = new Map(
      this.chosen.flatMap(({ release }) => release.entries.map(({ id }) => [id, release] as const)),
    );
    const entries = new Map(this.entries.map((entry) => [entry.id, entry]));
    const taken = new Map<ItemId, { release: ReferenceRelease; entry: ReferenceEntry; edits: Edits }>();
    for (const pair of lineUp.pairs) {
      const entry = entries.get(pair.entry);
      const release = owners.get(pair.entry);
      if (!entry || !release) continue;
      const edits = factsFor(release, entry, this.fields);
      const lyrics = this.withLyrics && entry.hasLyrics ? await this.reference.lyrics(entry.id) : null;
      taken.set(pair.file as ItemId, {
        release,
        entry,
        edits: lyrics === null ? edits : { ...edits, lyrics },
      });
    }
    return taken;
  }
}
