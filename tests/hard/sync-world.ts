import {
  editItem,
  fieldsOf,
  type Edits,
  type Fields,
  type Item,
  type ItemId,
} from '../../src/lib/core/items';
import { entriesOf, withEntries, type HandList } from '../../src/lib/core/lists';
import {
  isSameOwner,
  itemOf,
  ofItem,
  LivePlan,
  NO_CHOICES,
  copySignature,
  driftingOf,
  leftAt,
  mayBe,
  type Incoming,
  type Plan,
  type PlacedFile,
  type PlayerChoices,
  type Remedy,
  type Side,
  type SyncPolicy,
  type ThereFile,
} from '../../src/lib/core/plan';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import {
  applyRun,
  placedAfter,
  takeAsGood,
  takeBack,
  type Journal,
  type Outcome,
  type RunEffects,
  type WritingStep,
} from '../../src/lib/core/run';
import { makeItem, planItem } from '../helpers/items';
import { cheapDigest, journalOf, plainEffects, type TrialPlace } from './run-world';

/*
 * A house with one player that others use too: a library that changes, a player on which things are removed, moved,
 * re-titled and added by hand, and what both agreed on. A song's bytes are the text of what its tags say, so that a
 * trial can read what lies there without knowing who wrote it.
 */

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** What a song's file holds: who it sounds like, and what its tags say. */
export interface Song {
  readonly sound: string;
  readonly fields: Fields;
}

export const bytesOfSong = (song: Song): Uint8Array => encoder.encode(JSON.stringify(song));
/** Null for a file that is no song. */
export function readSong(bytes: Uint8Array): Song | null {
  const text = decoder.decode(bytes);
  return text.startsWith('{"sound"') ? (JSON.parse(text) as Song) : null;
}

/** A song of the library, whose sound is named after it. */
export function newSong(id: string, fields: Partial<Fields>): Item {
  const item = makeItem(
    id,
    { artist: ['Orla Venn'], albumArtist: 'Orla Venn', genre: ['folk'], date: '2020', ...fields },
    { format: 'mp3', path: `in/${id}.mp3` },
  );
  const streams = item.facts.streams.map((stream) => ({ ...stream, codec: 'mp3' }));
  const facts = { ...item.facts, streams, tagFormats: ['ID3v2.4'] };
  return { ...item, facts, size: bytesOfSong({ sound: id, fields: item.file.fields }).length };
}

export class House {
  items = new Map<ItemId, Item>();
  placed: readonly PlacedFile[] = [];
  choices: PlayerChoices = NO_CHOICES;
  policy: SyncPolicy = 'both';
  /** Lists by hand that the player gets. */
  lists: readonly HandList[] = [];
  /** The sound of each item's file. */
  readonly sounds = new Map<ItemId, string>();
  private runs = 0;
  private taken = 0;

  constructor(
    readonly store: TrialPlace,
    readonly rulebook = RULEBOOKS.attic,
  ) {}

  copy(store: TrialPlace): House {
    const house = new House(store, this.rulebook);
    house.items = new Map(this.items);
    for (const [id, sound] of this.sounds) house.sounds.set(id, sound);
    house.placed = this.placed;
    house.choices = this.choices;
    house.policy = this.policy;
    house.lists = this.lists;
    house.runs = this.runs;
    return house;
  }

  add(item: Item, sound: string = item.id): void {
    this.items.set(item.id, item);
    this.sounds.set(item.id, sound);
  }

  edit(id: ItemId, edits: Edits): void {
    const item = this.items.get(id);
    if (item) this.items.set(id, editItem(item, edits));
  }

  /** Lists the player, and looks into what is not as it was left. */
  private async look(): Promise<readonly ThereFile[]> {
    const list = await this.store.list();
    const { replace, renames, removes } = this.choices;
    const open = driftingOf(list, this.placed, null, [...replace, ...renames, ...removes]);
    const left = leftAt(this.placed);
    const files = this.store.files;
    return list.map((file) => {
      if (!open.has(file)) return file;
      const bytes = files.get(file.path) as Uint8Array;
      const seen = { ...file, digest: file.digest ?? cheapDigest(bytes) };
      const own = left(file.path);
      if (own?.owner?.type === 'list' && !mayBe(seen, own)) return { ...seen, text: decoder.decode(bytes) };
      const says = own && !mayBe(seen, own) && readSong(bytes)?.fields;
      return says ? { ...seen, says } : seen;
    });
  }

  async plan(): Promise<{ readonly plan: Plan; readonly comes: Incoming }> {
    const live = new LivePlan(this.rulebook);
    const { placed, choices, policy } = this;
    live.see(await this.look(), { placed, choices, policy });
    live.know(this.lists.map((list) => ({ ...list, entries: entriesOf(list) })));
    live.change([...this.items.values()].map(planItem), []);
    return { plan: live.whole(`run-${this.runs}`), comes: live.comes() };
  }

  /** Takes what comes from the player into the library. */
  takeIn({ edits, files, lists }: Incoming): void {
    this.lists = this.lists.map((list) => {
      const change = lists.find((one) => one.list === list.id);
      return change?.type === 'entries' ? withEntries(list, change.entries) : list;
    });
    this.placed = this.placed.map(
      (file) => lists.find(({ left }) => isSameOwner(left.owner, file.owner))?.now ?? file,
    );
    for (const { item, edits: own } of edits) this.edit(item, own);
    for (const file of files) {
      const bytes = this.store.files.get(file.path) as Uint8Array;
      const song = readSong(bytes);
      if (!song) continue;
      const item = { ...newSong(`taken-${this.taken++}`, song.fields), size: file.size };
      this.add(item, song.sound);
      const signature = copySignature(planItem(item), this.rulebook);
      const { path, size } = file;
      const digest = cheapDigest(bytes);
      this.placed = [
        ...this.placed,
        { path, owner: ofItem(item.id), signature, size, digest, kept: true, taken: true },
      ];
    }
  }

  /** The journal of a run that is to come. */
  async begin(): Promise<Journal> {
    const { comes } = await this.plan();
    this.takeIn(comes);
    const { plan } = await this.plan();
    const { store, placed } = this;
    return { ...journalOf({ store, steps: plan.steps, placed }), id: `run-${this.runs++}` };
  }

  effects(): RunEffects<Uint8Array> {
    return { ...plainEffects(), content: async (step) => this.contentOf(step) };
  }

  contentOf(step: WritingStep): Uint8Array {
    if (step.type !== 'copy') return encoder.encode(step.type === 'writeText' ? step.text : step.picture.key);
    const id = itemOf(step.owner) as ItemId;
    const item = this.items.get(id) as Item;
    const sound = this.sounds.get(id) ?? '';
    const { recipe } = step;
    return bytesOfSong({ sound, fields: recipe.type === 'retag' ? recipe.expect : item.file.fields });
  }

  /** Takes the end of a run over, as the application does. */
  end(journal: Journal, outcomes: readonly Outcome[]): void {
    this.placed = placedAfter({ ...journal, outcomes });
    this.choices = { ...this.choices, sides: [] };
  }

  async run(): Promise<Journal> {
    const journal = await this.begin();
    const { outcomes, state } = await applyRun(journal, this.store, this.effects());
    if (state !== 'finished') throw new Error(`the run ended ${state}`);
    const failed = outcomes.findIndex(({ type }) => type === 'failed');
    if (failed >= 0) throw new Error(`failed: ${JSON.stringify([journal.steps[failed], outcomes[failed]])}`);
    this.end(journal, outcomes);
    return { ...journal, outcomes };
  }

  async takeBack(journal: Journal): Promise<void> {
    const { left } = await takeBack(journal, this.store, plainEffects());
    if (left.length > 0) throw new Error(`left: ${JSON.stringify(left)}`);
    this.placed = journal.placedBefore;
  }

  takeAsGood(journal: Journal): Promise<void> {
    return takeAsGood(journal, this.store);
  }

  /** Decides all that waits for it. */
  decide(remedies: readonly (Remedy | null)[], side: () => Side): void {
    const sides = remedies.flatMap((remedy) =>
      remedy?.type === 'decide' ? remedy.files.map((file) => ({ ...file, side: side() })) : [],
    );
    this.choices = { ...this.choices, sides: [...this.choices.sides, ...sides] };
  }

  /** Songs on the player, by path, as its own tags tell. */
  songs(): ReadonlyMap<string, Song> {
    return new Map(
      [...this.store.files].flatMap(([path, bytes]) => {
        const song = path.startsWith('.') ? null : readSong(bytes);
        return song ? [[path, song] as const] : [];
      }),
    );
  }

  saying(id: ItemId): Fields | null {
    const item = this.items.get(id);
    return item ? fieldsOf(item) : null;
  }
}
