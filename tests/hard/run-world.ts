import { editItem, type Item, type ItemId, type PictureId } from '../../src/lib/core/items';
import { folderOf } from '../../src/lib/core/paths';
import {
  itemOf,
  NO_CHOICES,
  planRun,
  toPlanItem,
  type PlacedFile,
  type PlayerChoices,
  type Step,
} from '../../src/lib/core/plan';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import {
  JOURNAL_VERSION,
  MemoryStore,
  applyRun,
  placedAfter,
  takeAsGood,
  type Journal,
  type Outcome,
  type RunEffects,
  type Store,
  type WritingStep,
} from '../../src/lib/core/run';
import { outgoingOf } from '../../src/lib/formats';
import { makeItem } from '../helpers/items';
import { twinsFor } from '../helpers/twins';

/*
 * A player with a history, and a run sheet of every sort of step for it: what an earlier run left there, what
 * others put beside it, and a library that has changed since. All files have one length, so that a place
 * without digests can tell none of them by its size.
 */

/** A place that a trial can look at and change past all rules, as another hand would. */
export interface TrialPlace extends Store<Uint8Array> {
  /** Every file, those held aside included. */
  readonly files: ReadonlyMap<string, Uint8Array>;
  readonly folders: readonly string[];
  put(path: string, bytes: Uint8Array): void;
  take(path: string): void;
}

export interface StoreKind {
  readonly name: string;
  /** Made anew for every trial; a place in memory where it is absent. */
  readonly make?: (rulebook: string) => TrialPlace;
  readonly caseBlind: boolean;
  readonly digests: boolean;
}

export const STORE_KINDS: readonly StoreKind[] = [true, false].flatMap((digests) =>
  [true, false].map((caseBlind) => ({
    name: `${digests ? 'with' : 'without'} digests, ${caseBlind ? 'blind to' : 'minding'} letter case`,
    caseBlind,
    digests,
  })),
);

const LENGTH = 160;
const encoder = new TextEncoder();
const bytesOf = (text: string) => encoder.encode(text.padEnd(LENGTH, '.').slice(-LENGTH));

/** A digest that is cheap, and good enough for texts that differ. */
export function cheapDigest(bytes: Uint8Array): string {
  let a = 0x811c9dc5;
  let b = bytes.length;
  for (const byte of bytes) {
    a = Math.imul(a ^ byte, 0x01000193);
    b = Math.imul(b ^ byte, 0x5bd1e995) ^ (b >>> 13);
  }
  return `${(a >>> 0).toString(16)}${(b >>> 0).toString(16)}`;
}

class MemoryPlace extends MemoryStore implements TrialPlace {
  take(path: string): void {
    // In memory it is done before anybody can ask.
    void this.remove(path);
  }
}

/** @param rulebook of the player that the place is of */
export function makeStore({ make, caseBlind, digests }: StoreKind, rulebook = 'attic'): TrialPlace {
  return make?.(rulebook) ?? new MemoryPlace({ caseBlind, digests, digest: cheapDigest });
}

export async function cloneStore(
  store: TrialPlace,
  kind: StoreKind,
  rulebook = 'attic',
): Promise<TrialPlace> {
  const copy = makeStore(kind, rulebook);
  for (const folder of store.folders) await copy.makeFolder(folder);
  for (const [path, bytes] of store.files) copy.put(path, bytes);
  return copy;
}

/** Everything on a place: folders, and files with what they hold. */
export function snapshot(store: TrialPlace): Readonly<Record<string, string>> {
  const decoder = new TextDecoder();
  return Object.fromEntries(
    [
      ...store.folders.map((path) => [`${path}/`, 'folder']),
      ...[...store.files].map(([path, bytes]) => [path, decoder.decode(bytes)]),
    ].sort(([a = ''], [b = '']) => (a < b ? -1 : 1)),
  ) as Record<string, string>;
}

/** What a step writes: the same whenever it is made, as real copies are. */
function contentOf(step: WritingStep): Uint8Array {
  const what =
    step.type === 'writeText' ? step.text : step.type === 'copy' ? step.signature : step.picture.key;
  return bytesOf(
    `${step.type} ${step.type === 'copy' ? itemOf(step.owner) : ''} ${cheapDigest(encoder.encode(what))}`,
  );
}

export function plainEffects(): RunEffects<Uint8Array> {
  return {
    content: async (step) => contentOf(step),
    check: async () => undefined,
    digest: async (source) => cheapDigest(await source.read(0, source.size)),
    save: async () => undefined,
    progress: () => undefined,
    isCancelled: () => false,
  };
}

export interface RunWorld {
  readonly store: TrialPlace;
  readonly steps: readonly Step[];
  readonly placed: readonly PlacedFile[];
}

export function journalOf({ steps, placed }: RunWorld, outcomes: readonly Outcome[] = []): Journal {
  return {
    version: JOURNAL_VERSION,
    id: 'this-run',
    startedAt: 0,
    endedAt: null,
    state: 'running',
    reason: null,
    steps,
    outcomes,
    placedBefore: placed,
  };
}

const song = (id: string, album: string, track: number, title: string, rest: Partial<Item> = {}) =>
  makeItem(
    id,
    { title, artist: ['Orla Venn'], albumArtist: 'Orla Venn', album, date: '2020', track },
    { format: 'opus', path: `Music/${album}/${id}.opus`, ...rest },
  );
const flac = (id: string, album: string, track: number, title: string) =>
  song(id, album, track, title, { format: 'flac', path: `Music/${album}/${id}.flac` });
/** Sound that the player does not take: what goes there is a twin. */
const dsf = (id: string, track: number, title: string) =>
  song(id, 'Deep', track, title, {
    format: 'dsf',
    path: `Music/Deep/${id}.dsf`,
    facts: {
      durationSeconds: 200,
      streams: [
        { type: 'sound', codec: 'DSD', channels: 2, sampleRate: 2_822_400, width: null, height: null },
      ],
      tagFormats: ['ID3v2.3'],
    },
  });
const video = (id: string, title: string) =>
  makeItem(
    id,
    { title, artist: ['Slack Tide'], album: 'Ebb', date: '2021' },
    { settled: 'musicVideo', format: 'mp4', path: `Videos/${id}.mp4` },
  );

/** The library as the earlier run found it. */
function before(): Item[] {
  return [
    // Names that chase each other: one title, tracks that shift, swap and turn.
    ...[1, 2, 3, 4].map((track) => song(`chain-${track}`, 'Chain', track, 'Song')),
    ...[1, 2].map((track) => song(`swap-${track}`, 'Swap', track, 'Song')),
    ...[1, 2, 3].map((track) => song(`ring-${track}`, 'Ring', track, 'Song')),
    song('case-1', 'Kelp', 1, 'kelp road'),
    song('case-2', 'Kelp', 2, 'ſtone und ς'),
    ...[1, 2, 3].map((track) => song(`fold-${track}`, 'salt ledger', track, `Page ${track}`)),
    ...[1, 2].map((track) => flac(`gone-${track}`, 'Gone', track, `Gone ${track}`)),
    ...[1, 2, 3].map((track) => flac(`edit-${track}`, 'Edited', track, `Part ${track}`)),
    ...[1, 2].map((track) => flac(`year-${track}`, 'Dated', track, `Day ${track}`)),
    flac('mix-1', 'mixed case', 1, 'One'),
    flac('mix-2', 'mixed case', 2, 'Two'),
    flac('stay', 'Stay', 1, 'Stays'),
    ...[1, 2, 3, 4].map((track) => dsf(`twin-${track}`, track, `Deep ${track}`)),
    video('v-stay', 'Quiet'),
    video('v-edit', 'Loud'),
    video('v-gone', 'Ended'),
    video('v-case', 'low water'),
  ];
}

/** What became of each item since; null for those that left. */
function changed(item: Item): Item | null {
  const [sort, number] = item.id.split('-');
  const n = Number(number);
  switch (sort) {
    case 'chain':
      return editItem(item, { track: n + 1 });
    case 'swap':
      return editItem(item, { track: 3 - n });
    case 'ring':
      return editItem(item, { track: (n % 3) + 1 });
    case 'case':
      return editItem(item, { title: n === 1 ? 'Kelp Road' : 'Stone und Σ' });
    case 'fold':
      return editItem(item, { album: 'Salt Ledger' });
    case 'edit':
      return editItem(item, { composer: ['Somebody'] });
    case 'year':
      return editItem(item, { date: '1999' });
    case 'mix':
      return editItem(item, n === 1 ? { album: 'Mixed Case' } : { album: 'Mixed Case', title: 'Zwei' });
    case 'twin':
      // One is called otherwise, one was recorded anew, one left, one stays.
      if (n === 1) return editItem(item, { title: 'Deeper' });
      if (n === 2) return { ...item, modified: 2, size: 1100 };
      return n === 3 ? null : item;
    case 'gone':
      return n === 1 ? null : item;
    case 'v':
      if (number === 'gone') return null;
      if (number === 'edit') return editItem(item, { album: 'Flow' });
      return number === 'case' ? editItem(item, { title: 'Low Water' }) : item;
    default:
      return item;
  }
}

function after(): Item[] {
  const pictured = { id: 'chosen' as PictureId, mime: 'image/jpeg', bytes: 9, width: 600, height: 600 };
  const kept = before().flatMap((item) => changed(item) ?? []);
  return [
    ...kept.map((item) => (item.id.startsWith('ring') ? { ...item, picture: pictured } : item)),
    ...[1, 2, 3].map((track) => flac(`new-${track}`, 'Brand New', track, `New ${track}`)),
    dsf('deep-new', 5, 'Deep 5'),
    ...[1, 2].map((track) => song(`over-${track}`, 'Taken', track, `Over ${track}`)),
    video('v-new', 'Spring Tide'),
    video('v-over', 'Neap Tide'),
  ];
}

const FOREIGN_REPLACED = [
  'Music/Orla Venn/Taken (2020)/01 Over 1.opus',
  'Music/Orla Venn/Taken (2020)/sleeve.jpg',
  'Music Videos/Slack Tide - Neap Tide/Slack Tide - Neap Tide.slip',
  'Music Videos/Slack Tide - Neap Tide/Slack Tide - Neap Tide.mp4',
];
const FOREIGN = [
  ...FOREIGN_REPLACED,
  'Music/Own/own.mp3',
  'Music/Orla Venn/Swap (2020)/01 Song.opus.moving',
  'Music/Orla Venn/Gone (2020)/notes.txt',
  'Music Videos/Odd/odd_one.mp4',
  'Music Videos/Odd/Odd One.slip',
];
const RENAMES = [
  { path: 'Music Videos/Odd/odd_one.mp4', to: 'Music Videos/Odd/Odd.mp4' },
  { path: 'Music Videos/Odd/Odd One.slip', to: 'Music Videos/Odd/Odd.slip' },
];

async function planFor(
  items: readonly Item[],
  store: TrialPlace,
  placed: readonly PlacedFile[],
  choices: Partial<PlayerChoices>,
  token: string,
): Promise<readonly Step[]> {
  return planRun({
    items: items.map((item) => toPlanItem(item, outgoingOf, twinsFor(item, [RULEBOOKS.attic]))),
    rulebook: RULEBOOKS.attic,
    there: await store.list(),
    placed,
    choices: { ...NO_CHOICES, ...choices },
    policy: 'leads',
    token,
  }).steps;
}

/** Makes the world anew for a kind of store: always the same one. */
export async function makeRunWorld(kind: StoreKind): Promise<RunWorld> {
  const store = makeStore(kind);
  const first = await planFor(before(), store, [], {}, 'first');
  const journal: Journal = { ...journalOf({ store, steps: first, placed: [] }), id: 'first-run' };
  const { outcomes } = await applyRun(journal, store, plainEffects());
  await takeAsGood({ ...journal, outcomes }, store);
  const placed = placedAfter({ ...journal, outcomes });
  for (const path of FOREIGN) store.put(path, bytesOf(`by another hand ${path}`));
  await store.makeFolder('Music/Empty/Inside');
  // An empty folder stands where a file of ours will go.
  await store.makeFolder('Music/Orla Venn/Brand New (2020)/02 New 2.flac');
  await store.makeFolder(folderOf('Music Videos/Bare/x'));
  const seen = (path: string) => {
    const bytes = store.files.get(path) as Uint8Array;
    return { path, was: { size: bytes.length, digest: cheapDigest(bytes) } };
  };
  const renames = RENAMES.map(({ path, to }) => ({ ...seen(path), to }));
  const choices = { replace: FOREIGN_REPLACED.map(seen), renames, leftOut: [] as ItemId[] };
  const steps = await planFor(after(), store, placed, choices, 'this-run');
  return { store, steps, placed };
}
