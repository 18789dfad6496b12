import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { joinSpans, memorySource } from '../../src/lib/core/bytes';
import { editItem, type Edits, type Item, type ItemId } from '../../src/lib/core/items';
import type { Kind } from '../../src/lib/core/kinds';
import { itemOf, LivePlan, NO_CHOICES, prove, type PlacedFile } from '../../src/lib/core/plan';
import type { Rulebook } from '../../src/lib/core/rulebooks';
import {
  JOURNAL_VERSION,
  applyRun,
  placedAfter,
  type RunEffects,
  type WritingStep,
} from '../../src/lib/core/run';
import { WRITABLE } from '../../src/lib/formats';
import { writeId3, type Id3Version } from '../../src/lib/formats/id3';
import { readMedia } from '../../src/lib/formats/reading';
import { digestOf } from '../../src/lib/io/digest';
import { DeviceStore } from '../../src/lib/io/stores/device-store';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { deviceFetch } from '../helpers/device-fetch';
import { makeItem, planItem } from '../helpers/items';
import { TRIAL_TIME, seeded, sized, tell } from './size';

/*
 * What a rehearsal shows is what the player's own scanner finds: made libraries of real bytes, with faults, go to the
 * devices of the house by real runs over their routes; then their scans are held against the rehearsal. A scanner
 * shares no code with the plan.
 */

const LIBRARIES = sized(500, 40);
/** Silent frames of MPEG-1 layer III at 128 kbit/s. */
const SOUND = new Uint8Array(417 * 12).map((_, at) => [0xff, 0xfb, 0x90, 0xc4][at % 417] ?? 0);
const container = (name: string) =>
  new Uint8Array(readFileSync(join(import.meta.dirname, '../fixtures/containers', name)));
const VIDEO = container('tone.m4v');
/** Sounds whose tags lie elsewhere than in front of them. */
const OTHERS = ['oga', 'opus', 'ogg', 'wav', 'aiff'].map((ending) => ({
  path: `x.${ending}`,
  bytes: container(`tone.${ending}`),
}));
const JPEG = Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 0);

const WORDS = [
  ...['Wick', 'wick', 'Kelp Road?', 'AC/DC', 'Ebb.', ' Tides ', 'Straße', 'Nòtt', 'CON', '海の歌', 'a: b'],
  ...['<Fog> & "Bell"', 'Lamp|Light*', 'x'.repeat(120), '..', '...and'],
];
const KINDS: readonly Kind[] = [
  'song',
  'song',
  'musicVideo',
  'film',
  'episode',
  'audiobook',
  'podcast',
  'ringtone',
];

interface Made {
  readonly item: Item;
  readonly bytes: Uint8Array;
}

type Random = () => number;
const pick = <T>(random: Random, from: readonly T[]): T => from[Math.floor(random() * from.length)] as T;

function fieldsBy(random: Random): Edits {
  const maybe = <T>(value: T): T | null => (random() < 0.8 ? value : null);
  const word = () => pick(random, WORDS);
  const names = () => (random() < 0.8 ? [word()] : [word().trim(), 'Orla Venn']);
  return {
    title: maybe(word()),
    album: maybe(pick(random, ['Ebb', 'ebb', 'Tides ', 'Nine/Lamps'])),
    albumArtist: maybe(word()),
    artist: maybe(names()),
    date: maybe(pick(random, ['2019', '2019-05', '1998-12-01'])),
    track: maybe(Math.ceil(random() * 30)),
    disc: random() < 0.2 ? 2 : null,
    compilation: random() < 0.2 ? true : null,
    genre: maybe([pick(random, ['folk', 'sea choir', 'a/b'])]),
    show: maybe(word()),
    season: maybe(Math.ceil(random() * 3)),
    episode: maybe(Math.ceil(random() * 40)),
    narrator: maybe([word()]),
  };
}

/** Sound whose tags are not ID3v2: ID3v1 at the end, an APE tag before that, or both; or an ID3v2.4 tag that says nothing. */
function withoutId3v2(random: Random, said: Edits): Uint8Array {
  const text = (value: unknown) =>
    Array.isArray(value) ? String(value[0]) : typeof value === 'string' ? value : '';
  const pieces = [...[text(said.title), text(said.artist), text(said.album)]];
  const latin = (one: string, length: number) =>
    Buffer.from(one.padEnd(length, '\0').slice(0, length), 'latin1');
  const v1 = Buffer.concat([
    Buffer.from('TAG'),
    ...pieces.map((one) => latin(one.replace(/[^\x20-\x7e]/g, '?'), 30)),
    latin('2019', 4),
    Buffer.alloc(28),
    Buffer.from([0, 1 + Math.floor(random() * 20), 255]),
  ]);
  const names = ['Title', 'Artist', 'Album'];
  const items = pieces.flatMap((one, index) => {
    const value = Buffer.from(one);
    const head = Buffer.alloc(8);
    head.writeUInt32LE(value.length, 0);
    return value.length > 0 ? [Buffer.concat([head, Buffer.from(`${names[index]}\0`), value])] : [];
  });
  const body = Buffer.concat(items);
  const footer = Buffer.alloc(32);
  footer.write('APETAGEX');
  footer.writeUInt32LE(2000, 8);
  footer.writeUInt32LE(body.length + 32, 12);
  footer.writeUInt32LE(items.length, 16);
  const ape = Buffer.concat([body, footer]);
  const empty = writeId3({ version: 4, flags: 0, frames: [], size: 0 }, { fields: {} });
  const chance = random();
  if (chance < 0.3) return new Uint8Array(Buffer.concat([SOUND, v1]));
  if (chance < 0.6) return new Uint8Array(Buffer.concat([SOUND, ape]));
  if (chance < 0.8) return new Uint8Array(Buffer.concat([SOUND, ape, v1]));
  return new Uint8Array(Buffer.concat([empty, SOUND]));
}

function bytesFor(
  random: Random,
  kind: Kind,
  said: Edits,
): { readonly path: string; readonly bytes: Uint8Array } {
  const isVideo = kind === 'musicVideo' || kind === 'film' || kind === 'episode';
  if (isVideo) return { path: 'x.m4v', bytes: VIDEO };
  const chance = random();
  if (chance < 0.25) return pick(random, OTHERS);
  if (chance < 0.35) return { path: 'x.mp3', bytes: SOUND };
  if (chance < 0.5) return { path: 'x.mp3', bytes: withoutId3v2(random, said) };
  const version: Id3Version = chance < 0.7 ? 4 : 3;
  const tag = writeId3({ version, flags: 0, frames: [], size: 0 }, { fields: said });
  const bytes = new Uint8Array(tag.length + SOUND.length);
  bytes.set(tag);
  bytes.set(SOUND, tag.length);
  return { path: 'x.mp3', bytes };
}

async function makeOne(random: Random, id: string): Promise<Made> {
  const kind = pick(random, KINDS);
  const { path, bytes } = bytesFor(random, kind, fieldsBy(random));
  const { format, facts, file, native } = await readMedia(memorySource(bytes), path);
  const own = {
    format,
    facts,
    file,
    native,
    size: bytes.length,
    settled: kind,
    path: `in/${id}${path.slice(1)}`,
  };
  const item = makeItem(id, {}, own);
  return { item: random() < 0.6 ? editItem(item, fieldsBy(random)) : item, bytes };
}

/** What the browser's worker does, with pictures that need no canvas. */
function effects(library: ReadonlyMap<ItemId, Made>): RunEffects<Blob> {
  const content = async (step: WritingStep): Promise<Blob> => {
    if (step.type === 'writeText') return new Blob([step.text]);
    if (step.type === 'writePicture') return new Blob([JPEG]);
    const { bytes } = library.get(itemOf(step.owner) as ItemId) as Made;
    const { recipe } = step;
    const format = recipe.type === 'retag' ? WRITABLE.get(recipe.format) : null;
    if (!format || recipe.type !== 'retag') return new Blob([bytes as Uint8Array<ArrayBuffer>]);
    const source = memorySource(bytes);
    const { rewrite } = await format.load();
    const { fields = {}, chapters } = recipe.changes;
    const { spans } = await rewrite(source, {
      fields,
      chapters,
      all: recipe.expect,
      ...(recipe.id3 && { id3: recipe.id3 }),
    });
    return new Blob([(await joinSpans(source, spans)) as Uint8Array<ArrayBuffer>]);
  };
  return {
    content,
    check: async () => undefined,
    digest: digestOf,
    save: async () => undefined,
    progress: () => undefined,
    isCancelled: () => false,
  };
}

let home: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'scans-'));
  process.env.LECTORUM_DEVICES = home;
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => deviceFetch(url, init));
});
afterEach(() => {
  vi.unstubAllGlobals();
  rmSync(home, { recursive: true });
});

/** A device with files of others on it, and what our runs left there. */
class Trial {
  private placed: readonly PlacedFile[] = [];
  readonly library = new Map<ItemId, Made>();
  private readonly store: DeviceStore;

  constructor(
    private readonly rulebook: Rulebook,
    device: string,
  ) {
    this.store = new DeviceStore(device);
  }

  /** Runs the plan, and tells how the scan differs from the rehearsal. */
  async run(token: string) {
    const there = await this.store.list();
    const live = new LivePlan(this.rulebook);
    live.change(
      [...this.library.values()].map(({ item }) => planItem(item)),
      [],
    );
    live.see(there, { placed: this.placed, choices: NO_CHOICES, policy: 'leads' });
    const plan = live.whole(token);
    const journal = {
      version: JOURNAL_VERSION,
      id: token,
      startedAt: 0,
      endedAt: null,
      state: 'running' as const,
      reason: null,
      steps: plan.steps,
      outcomes: [],
      placedBefore: this.placed,
    };
    const { state, reason, outcomes } = await applyRun(journal, this.store, effects(this.library));
    const failed = outcomes.flatMap((outcome, index) =>
      outcome.type === 'failed' ? [{ ...outcome, step: plan.steps[index] }] : [],
    );
    this.placed = placedAfter({ ...journal, outcomes, state: 'finished' });
    const scan = await this.store.scan();
    const ours = plan.paths.map(({ path }) => path);
    const { agreed, differences } = prove(plan.showing, scan, ours, (path) => live.keyOf(path));
    return { state, reason, failed, agreed, differences };
  }

  async leaveOthers(random: Random): Promise<void> {
    for (const path of ['Music/letter.txt', 'Sea/Old/01 theirs.mp3', 'Podcasts/x.mp3'])
      if (random() < 0.3) await this.store.write(path, new Blob([SOUND]));
  }
}

describe.each(Object.values(RULEBOOKS))('$name', (rulebook) => {
  test(
    'its own scan shows what was rehearsed, after a first run and after one more with edits',
    async () => {
      let shown = 0;
      for (let seed = 0; seed < LIBRARIES; seed++) {
        const random = seeded(seed + 1);
        process.env.LECTORUM_DEVICES = join(home, String(seed));
        const trial = new Trial(rulebook, rulebook.id);
        await trial.leaveOthers(random);
        for (let index = 0; index < 10; index++) {
          const made = await makeOne(random, `i${index}`);
          trial.library.set(made.item.id, made);
        }
        const first = await trial.run(`a${seed}`);
        expect(first, `seed ${seed}, first run`).toMatchObject({
          state: 'finished',
          failed: [],
          differences: [],
        });
        for (const [id, { item, bytes }] of trial.library)
          if (random() < 0.2) trial.library.delete(id);
          else if (random() < 0.4) trial.library.set(id, { item: editItem(item, fieldsBy(random)), bytes });
        const second = await trial.run(`b${seed}`);
        expect(second, `seed ${seed}, second run`).toMatchObject({
          state: 'finished',
          failed: [],
          differences: [],
        });
        shown += first.agreed + second.agreed;
        rmSync(join(home, String(seed)), { recursive: true, force: true });
      }
      expect(shown).toBeGreaterThan(LIBRARIES * 4);
      tell(`scans of ${rulebook.name}`, { libraries: LIBRARIES, shown, failures: 0 });
    },
    TRIAL_TIME,
  );
});
