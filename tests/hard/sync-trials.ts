import { itemOf } from '../../src/lib/core/plan';
import { describe, expect, test } from 'vitest';
import type { Fields, ItemId } from '../../src/lib/core/items';
import { applyRun, takeBack, type Journal } from '../../src/lib/core/run';
import type { Rulebook } from '../../src/lib/core/rulebooks';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { WAYS, cutting, untilCut } from './cuts';
import { cloneStore, makeStore, plainEffects, snapshot, type StoreKind } from './run-world';
import { TRIAL_TIME, seeded, sized, tell } from './size';
import { House, bytesOfSong, newSong } from './sync-world';

type Act = 'none' | 'edit' | 'leave';
type Hand = 'none' | 'remove' | 'retag' | 'move';

/** What both sides did with one song since they agreed. */
interface Did {
  readonly id: ItemId;
  readonly sound: string;
  readonly here: Act;
  readonly there: Hand;
  /** What the library and the player say of it since. */
  readonly saysHere: Fields;
  readonly saysThere: Fields;
  /** Where the player has it. */
  readonly path: string;
  /** Another hand put it there, and it was never written anew. */
  readonly taken: boolean;
}

const ALBUMS = ['Salt Ledger', 'Kelp Road', 'Low Water'];

/** A house whose sides agree. */
async function agreed(kind: StoreKind, rulebook: Rulebook): Promise<House> {
  const house = new House(makeStore(kind, rulebook.id), rulebook);
  for (let index = 0; index < 12; index++) {
    const album = ALBUMS[index % ALBUMS.length] as string;
    const track = 1 + Math.floor(index / ALBUMS.length);
    house.add(newSong(`s${index}`, { title: `Song ${index}`, album, track }));
  }
  await house.takeAsGood(await house.run());
  return house;
}

class Hands {
  private count = 0;
  private readonly removed = new Map<ItemId, { readonly path: string; readonly bytes: Uint8Array }>();

  constructor(
    private readonly random: () => number,
    private readonly house: House,
  ) {}

  private any<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)] as T;
  }

  /** Both sides do something with some songs; on the player, two may trade their names. */
  both(): readonly Did[] {
    const { house } = this;
    const paths = new Map([...house.songs()].map(([path, { sound }]) => [sound, path]));
    const did = [...house.sounds].flatMap(([id, sound]): Did[] => {
      const path = paths.get(sound);
      if (!house.items.has(id) || path === undefined) return [];
      const here = this.any<Act>(['none', 'none', 'edit', 'leave']);
      const there = this.any<Hand>(['none', 'none', 'remove', 'retag', 'move']);
      return [this.one(id, sound, here, there, path)];
    });
    const [one, other] = did.filter(({ here, there }) => there === 'none' && here !== 'leave');
    return one && other && this.random() < 0.5 ? this.trade(did, one, other) : did;
  }

  private trade(did: readonly Did[], one: Did, other: Did): readonly Did[] {
    const { files } = this.house.store;
    const [first, second] = [files.get(one.path) as Uint8Array, files.get(other.path) as Uint8Array];
    // A place without digests or dates cannot tell a trade of equal sizes.
    if (first.length === second.length) return did;
    this.house.store.put(one.path, second);
    this.house.store.put(other.path, first);
    return did.map((own): Did => {
      if (own === one) return { ...own, there: 'move', path: other.path };
      return own === other ? { ...own, there: 'move', path: one.path } : own;
    });
  }

  one(id: ItemId, sound: string, here: Act, there: Hand, path: string): Did {
    const { house } = this;
    // A place without digests tells a change by its size alone: what is written is longer every time.
    const word = '+'.repeat(++this.count);
    const says = house.saying(id) as Fields;
    if (here === 'edit') house.edit(id, { title: `Here ${word}` });
    if (here === 'leave') house.items.delete(id);
    const saysHere = house.saying(id) ?? says;
    const saysThere = there === 'retag' ? { ...says, title: `There ${word}`, composer: ['Somebody'] } : says;
    const bytes = house.store.files.get(path) as Uint8Array;
    let at = path;
    if (there === 'remove') this.removed.set(id, { path, bytes });
    if (there !== 'none' && there !== 'retag') house.store.take(path);
    if (there === 'retag') house.store.put(path, bytesOfSong({ sound, fields: saysThere }));
    if (there === 'move') house.store.put((at = path.replace(/[^/]*$/, `moved ${word}.mp3`)), bytes);
    const taken = house.placed.some((file) => itemOf(file.owner) === id && file.taken === true);
    return { id, sound, here, there, saysHere, saysThere, path: at, taken };
  }

  /** Songs that both sides agreed to be gone, and that another hand puts there again. */
  putBack(): readonly ItemId[] {
    const { items, placed, store, sounds } = this.house;
    const there = new Set([...this.house.songs().values()].map(({ sound }) => sound));
    return [...this.removed].flatMap(([id, { path, bytes }]) => {
      const isAway = placed.some((file) => itemOf(file.owner) === id && file.path === path && file.gone);
      const isThere = there.has(sounds.get(id) ?? '') || store.files.has(path);
      if (!isAway || isThere || !items.has(id) || this.random() < 0.5) return [];
      store.put(path, bytes);
      return [id];
    });
  }

  /** Songs that others put on the player, and those that are new here. */
  add(): { readonly there: readonly string[]; readonly here: readonly ItemId[] } {
    const { house } = this;
    const [folder = ''] = [...house.songs().keys()].map((path) => path.replace(/[^/]*$/, ''));
    const there = Array.from({ length: 1 + Math.floor(this.random() * 2) }, () => {
      const sound = `own ${'+'.repeat(++this.count)}`;
      const { fields } = newSong('x', { title: sound, album: 'Own', track: 9 }).file;
      house.store.put(`${folder}${sound}.mp3`, bytesOfSong({ sound, fields }));
      return sound;
    });
    const song = newSong(`n${this.count}`, { title: `New ${this.count}`, album: 'New Album', track: 1 });
    house.add(song);
    return { there, here: [song.id] };
  }
}

const plain = (fields: Fields | undefined | null) =>
  fields && Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== null));

/** What must be true of a song once a sync by "both count" went through. */
function expectMerged(house: House, did: Did): void {
  const { id, sound, here, there, saysHere, saysThere, path, taken } = did;
  const songs = [...house.songs()].filter(([, song]) => song.sound === sound);
  const [[at, song] = []] = songs;
  const item = house.items.get(id);
  expect(songs.length).toBeLessThanOrEqual(1);
  expect(item === undefined).toBe(here === 'leave');
  switch (`${here} ${there}`) {
    case 'none none':
    case 'edit none':
      expect(plain(song?.fields)).toEqual(plain(saysHere));
      break;
    case 'none retag':
      expect(plain(house.saying(id))).toEqual(plain(saysThere));
      expect(plain(song?.fields)).toEqual(plain(saysThere));
      break;
    case 'none move':
    case 'edit move':
      expect(at).toBe(path);
      expect(plain(song?.fields)).toEqual(plain(saysHere));
      break;
    case 'leave none':
      expect(songs.map(([own]) => own)).toEqual(taken ? [path] : []);
      break;
    case 'none remove':
    case 'edit remove':
    case 'leave remove':
      expect(songs).toEqual([]);
      if (item) expect(plain(house.saying(id))).toEqual(plain(saysHere));
      break;
    // Both changed it, or the library wants it no more: both sides stand as they are.
    case 'edit retag':
    case 'leave retag':
    case 'leave move':
      expect([at, plain(song?.fields)]).toEqual([path, plain(saysThere)]);
      if (item) expect(plain(house.saying(id))).toEqual(plain(saysHere));
  }
}

/** Cut anywhere and resumed, a sync ends as an uncut one; cut and taken back, the player is as it was. */
export async function expectCuts(
  house: House,
  kind: StoreKind,
  journal: Journal,
  random: () => number,
): Promise<void> {
  const start = snapshot(house.store);
  const uncut = await cloneStore(house.store, kind, house.rulebook.id);
  const counting = cutting(uncut, null, [], house.effects());
  const { outcomes } = await applyRun(journal, counting.store, counting.effects);
  expect(outcomes.filter(({ type }) => type !== 'done')).toEqual([]);
  const cut = {
    call: Math.floor(random() * counting.calls()),
    way: WAYS[Math.floor(random() * 6)] ?? 'goneAfter',
  };
  const broken = await cloneStore(house.store, kind, house.rulebook.id);
  const kit = cutting(broken, cut, [], house.effects());
  await untilCut(() => applyRun(journal, kit.store, kit.effects));
  const back = await cloneStore(broken, kind, house.rulebook.id);
  const { left } = await takeBack({ ...journal, outcomes: kit.outcomes() }, back, plainEffects());
  expect(left).toEqual([]);
  expect(snapshot(back)).toEqual(start);
  const { state } = await applyRun({ ...journal, outcomes: kit.outcomes() }, broken, house.effects());
  expect(state).toBe('finished');
  expect(snapshot(broken)).toEqual(snapshot(uncut));
}

export async function expectNothingLeft(house: House): Promise<void> {
  const { plan, comes } = await house.plan();
  expect(plan.steps).toEqual([]);
  expect(comes).toEqual({ edits: [], files: [], lists: [] });
}

async function round(house: House, kind: StoreKind, hands: Hands, random: () => number): Promise<void> {
  const did = hands.both();
  const added = hands.add();
  const returned = hands.putBack();
  const start = snapshot(house.store);
  const before = { placed: house.placed, items: new Map(house.items) };
  const journal = await house.begin();
  await expectCuts(house, kind, journal, random);
  const { outcomes } = await applyRun(journal, house.store, house.effects());
  house.end(journal, outcomes);
  for (const one of did)
    try {
      expectMerged(house, one);
    } catch (error) {
      if (error instanceof Error) error.message = `${JSON.stringify(one)}: ${error.message}`;
      throw error;
    }
  const sounds = new Set([...house.songs().values()].map(({ sound }) => sound));
  for (const id of added.here) expect(sounds).toContain(house.sounds.get(id));
  for (const sound of added.there) {
    expect(sounds).toContain(sound);
    expect([...house.sounds.values()]).toContain(sound);
  }
  for (const id of returned) {
    const sound = house.sounds.get(id);
    expect([...house.songs().values()].filter((song) => song.sound === sound)).toHaveLength(1);
    expect([...house.sounds.values()].filter((own) => own === sound)).toHaveLength(1);
  }
  await expectNothingLeft(house);
  const whole = { ...journal, outcomes };
  const back = house.copy(await cloneStore(house.store, kind, house.rulebook.id));
  await back.takeBack(whole);
  expect(snapshot(back.store)).toEqual(start);
  expect(before.placed.every((file) => back.placed.includes(file))).toBe(true);
  await house.takeAsGood(whole);
  await decideAll(house, did, random);
}

/** What was left open is decided, and then nothing is open any more. */
async function decideAll(house: House, did: readonly Did[], random: () => number): Promise<void> {
  const { plan } = await house.plan();
  const sides = new Map<string, 'here' | 'there'>();
  house.decide(
    plan.findings.map(({ remedy }) => remedy),
    () => (random() < 0.5 ? 'here' : 'there'),
  );
  for (const { path, side } of house.choices.sides) sides.set(path, side);
  await house.takeAsGood(await house.run());
  await expectNothingLeft(house);
  const after = await house.plan();
  const open = after.plan.findings.filter(
    ({ remedy, severity }) => remedy?.type === 'decide' && severity !== 'note',
  );
  expect(open).toEqual([]);
  for (const { id, sound, here, there, saysHere, saysThere } of did) {
    const songs = [...house.songs().values()].filter((song) => song.sound === sound);
    if (here === 'edit' && there === 'retag') {
      const says = plain(songs[0]?.fields);
      expect(says).toEqual(plain(house.saying(id)));
      expect([plain(saysHere), plain(saysThere)]).toContainEqual(says);
    }
    if (here === 'edit' && there === 'remove') expect(songs.length).toBeLessThanOrEqual(1);
  }
}

/** Where the library leads, all that we put there is as it is here, and what others put there stays. */
async function leadingRound(house: House, hands: Hands): Promise<void> {
  house.policy = 'leads';
  const did = hands.both();
  const { there } = hands.add();
  const before = house.items.size;
  await house.takeAsGood(await house.run());
  expect(house.items.size).toBe(before);
  for (const { id, sound, here } of did) {
    const songs = [...house.songs().values()].filter((song) => song.sound === sound);
    expect(songs.map(({ fields }) => plain(fields))).toEqual(
      here === 'leave' ? [] : [plain(house.saying(id))],
    );
  }
  const sounds = [...house.songs().values()].map(({ sound }) => sound);
  for (const sound of there) expect(sounds).toContain(sound);
  await expectNothingLeft(house);
}

/** Where the curator is asked, what another hand touched is left as it is on both sides. */
async function askingRound(house: House, hands: Hands): Promise<void> {
  house.policy = 'ask';
  const did = hands.both();
  const { there } = hands.add();
  await house.takeAsGood(await house.run());
  const songs = [...house.songs()];
  for (const { id, sound, here, there: hand, saysHere, saysThere, path } of did) {
    if (hand === 'none') continue;
    expect(plain(house.saying(id))).toEqual(here === 'leave' ? null : plain(saysHere));
    const own = songs.filter(([, song]) => song.sound === sound);
    expect(own.map(([at, { fields }]) => [at, plain(fields)])).toEqual(
      hand === 'remove' ? [] : [[path, plain(saysThere)]],
    );
  }
  for (const sound of there) expect(songs.map(([, song]) => song.sound)).toContain(sound);
}

/**
 * @param rulebooks of the players that have such a place
 * @param houses how many are tried with both sides counting, and how many with each of the other policies
 */
export function trySync(
  kind: StoreKind,
  rulebooks: readonly Rulebook[] = Object.values(RULEBOOKS),
  [merging, others]: readonly [number, number] = [sized(400, 12), sized(100, 6)],
): void {
  describe(`a sync with a place ${kind.name}`, () => {
    test.each(rulebooks)(
      '$name: what both sides did arrives, and nothing is lost',
      { timeout: TRIAL_TIME },
      async (rulebook) => {
        for (let seed = 0; seed < merging; seed++) {
          const random = seeded(seed + 1);
          const house = await agreed(kind, rulebook);
          const hands = new Hands(random, house);
          try {
            for (let index = 0; index < 2; index++) await round(house, kind, hands, random);
          } catch (error) {
            if (error instanceof Error) error.message = `seed ${seed}: ${error.message}`;
            throw error;
          }
        }
        for (let seed = 0; seed < others; seed++) {
          const leading = await agreed(kind, rulebook);
          const hands = new Hands(seeded(seed), leading);
          for (let index = 0; index < 2; index++) await leadingRound(leading, hands);
          const asking = await agreed(kind, rulebook);
          await askingRound(asking, new Hands(seeded(seed), asking));
        }
        tell(`syncs ${kind.name}, ${rulebook.name}`, { houses: merging, rounds: 2 * merging, failures: 0 });
      },
    );
  });
}
