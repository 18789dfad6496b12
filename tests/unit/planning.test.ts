import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { editItem, type Fields, type Item, type ItemId } from '../../src/lib/core/items';
import {
  ofItem,
  LivePlan,
  NO_CHOICES,
  planRun,
  type PlacedFile,
  type PlanDigest,
  type PlayerScan,
  type ThereFile,
} from '../../src/lib/core/plan';
import { targetId, type PlayerId, type TargetId } from '../../src/lib/core/library';
import { JOURNAL_VERSION, type Journal } from '../../src/lib/core/run';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { Library } from '../../src/lib/state/library.svelte';
import { LibraryMirror } from '../../src/lib/state/library-mirror';
import { PlayerDesk } from '../../src/lib/state/player/desk.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { LibraryStorage, type TargetSnapshot } from '../../src/lib/io/storage';
import type { LibraryOutside } from '../../src/lib/workers/library-service';
import { eventually } from '../helpers/eventually';
import { refuseAfter } from '../helpers/fake-forage';
import type { LibraryClient } from '../../src/lib/workers/library-client';
import { makeAlbum, makeItem, planItem } from '../helpers/items';
import { libraryClient } from '../helpers/library-worker';

vi.mock('localforage', () => import('../helpers/fake-forage'));

const rulebook = RULEBOOKS.attic;
const there: ThereFile[] = [{ path: 'Music/letter.txt', size: 7, digest: null }];
const kept: [string, string, Journal][] = [];
let lists: () => Promise<readonly ThereFile[]>;
let shows: PlayerScan;

const planner = (): LibraryClient =>
  libraryClient({
    list: () => lists(),
    scan: () => Promise.resolve(shows),
    keepJournal: (library, target, journal) => Promise.resolve(void kept.push([library, target, journal])),
  });

beforeEach(() => {
  kept.length = 0;
  lists = () => Promise.resolve(there);
  shows = { nodes: [], unplaced: [], lists: [] };
});

const songs = (count: number): Item[] =>
  makeAlbum(count).map((item) => ({ ...item, settled: 'song' as const }));
const anew = (items: readonly Item[], placed: readonly PlacedFile[] = []) =>
  planRun({
    items: items.map(planItem),
    rulebook,
    there,
    placed,
    choices: NO_CHOICES,
    policy: 'leads',
    token: 't',
  });

const ATTIC = rulebook.id as PlayerId;
const noIntake = () => {
  throw new Error('nothing is to be taken in');
};

const LOOK = {
  player: ATTIC,
  target: { type: 'device', device: 'attic' },
  kept: null,
  permissions: [],
} as const;

/** What is told of a plan that is made from nothing. */
function digestAnew(items: readonly Item[]): PlanDigest {
  const live = new LivePlan(rulebook);
  live.see(there, { placed: [], choices: NO_CHOICES, policy: 'leads' });
  live.change(items.map(planItem), []);
  return live.digest();
}

async function planned(client: LibraryClient, items: readonly Item[], removed: readonly ItemId[] = []) {
  const { generation } = client;
  await client.update(items, removed, generation);
  await client.look(LOOK, generation);
  return client.plan(
    ATTIC,
    { rulebook, choices: NO_CHOICES, policy: 'leads', isBrief: false, token: 't' },
    generation,
  );
}

describe('the planner', () => {
  test('tells what a screen shows of a plan, and the rest when it is asked', async () => {
    const client = planner();
    const items = songs(3).map((item, index) => (index === 2 ? editItem(item, { title: null }) : item));
    const plan = anew(items);
    expect(await planned(client, items)).toEqual(digestAnew(items));
    const [shelf] = plan.showing.nodes;
    expect(await client.nodes(ATTIC, shelf?.key ?? '')).toEqual(shelf?.nodes);
    const second = items[1] as Item;
    const about = await client.about(ATTIC, [second.id, 'nobody' as ItemId]);
    const none = { findings: [], unselected: [], leftOut: [] };
    expect(about).toEqual({ goes: 1, path: plan.paths[1]?.path, ...none });
    const [finding] = plan.findings;
    const untitled = items[2] as Item;
    expect(finding).toMatchObject({ code: 'missingField', items: [untitled.id] });
    const { findings } = (await client.about(ATTIC, [untitled.id])) ?? {};
    expect(findings?.map(({ code }) => code)).toEqual(['missingField', 'nameMended']);
    expect(await client.finding(ATTIC, finding?.id ?? '')).toEqual(finding);
    expect(await client.finding(ATTIC, 'no such')).toBeNull();
  });

  test('counts in what it tells of some items these alone, but where it is about a release', async () => {
    const client = planner();
    const items = songs(4).map((item, index) =>
      editItem(item, index < 2 ? { title: null } : { date: index === 2 ? '1999' : '2001' }),
    );
    await planned(client, items);
    const told = async (ids: readonly ItemId[]) =>
      (await client.about(ATTIC, ids))?.findings.map(({ code, words }) => `${code} ${words.count}`);
    const ids = items.map(({ id }) => id);
    expect(await told(ids)).toEqual(expect.arrayContaining(['missingField 2', 'splitAlbum 2']));
    expect(await told(ids.slice(0, 1))).toContain('missingField 1');
    expect(await told(ids.slice(3))).toContain('splitAlbum 2');
  });

  test('a place that does not answer is taken to be as it was left', async () => {
    const client = planner();
    const first = await planned(client, songs(1));
    expect(first.foreign).toBe(1);
    lists = () => Promise.reject(new Error('nobody is there'));
    const look = await client.look(LOOK, client.generation);
    expect(look).toEqual({ type: 'away', why: 'nobody is there', seenAt: null, room: null });
    const second = await client.plan(
      ATTIC,
      { rulebook, choices: NO_CHOICES, policy: 'leads', isBrief: false, token: 'u' },
      client.generation,
    );
    expect(second.foreign).toBe(0);
  });

  test('a file of the same size that is younger than the last run is looked into, and told with both sides', async () => {
    const items = songs(1);
    const step = anew(items).steps.find((one) => one.type === 'copy');
    const at = step?.path ?? '';
    const looks: string[] = [];
    const client = libraryClient({
      list: async () => [{ path: at, size: 9, digest: null, modified: 50 }],
      examine: async (_target, path, what) => {
        looks.push(`${what} ${path}`);
        const fields = items[0]?.file.fields as Fields;
        return what === 'digest' ? { digest: 'other' } : { says: { ...fields, title: 'Theirs' } };
      },
    });
    const { generation } = client;
    await client.update(items, [], generation);
    const left = {
      path: at,
      owner: ofItem(items[0]?.id as ItemId),
      signature: step?.signature ?? '',
      size: 9,
    };
    const plan = async (since: number) => {
      await client.base(ATTIC, [{ ...left, digest: 'ours' }], since, generation);
      await client.look(LOOK, generation);
      return client.plan(
        ATTIC,
        { rulebook, choices: NO_CHOICES, policy: 'ask', isBrief: false, token: 't' },
        generation,
      );
    };
    expect((await plan(60)).findings.first.map(({ code }) => code)).not.toContain('changedThere');
    expect(looks).toEqual([]);
    const digest = await plan(40);
    expect(looks).toEqual([`digest ${at}`, `says ${at}`]);
    const told = digest.findings.first.find(({ code }) => code === 'changedThere');
    expect(await client.sides(ATTIC, told?.id ?? '')).toEqual([
      {
        left: at,
        now: at,
        file: { path: at, was: { size: 9, digest: 'other' } },
        fields: [{ name: 'title', here: 'Song 1', there: 'Theirs' }],
      },
    ]);
    const both = { rulebook, choices: NO_CHOICES, policy: 'both' as const, isBrief: false, token: 'u' };
    expect((await client.plan(ATTIC, both, generation)).comes).toEqual({ edits: 1, files: 0, lists: 0 });
    expect(await client.comes(ATTIC)).toEqual({
      edits: [{ item: items[0]?.id, edits: { title: 'Theirs' } }],
      files: [],
      lists: [],
    });
  });

  test('a run begins with the plan that was seen, or not at all', async () => {
    const client = planner();
    const items = songs(2);
    await planned(client, items);
    const placed = [{ path: 'Music/x.mp3', owner: null, signature: 's', size: 1, digest: null }];
    await client.base(ATTIC, placed, null, client.generation);
    await client.plan(
      ATTIC,
      { rulebook, choices: NO_CHOICES, policy: 'leads', isBrief: false, token: 'seen' },
      client.generation,
    );
    const start = {
      player: ATTIC,
      library: 'home',
      target: 'attic.device' as TargetId,
      journal: { id: 'j', startedAt: 5 },
      isMild: false,
    };
    await expect(client.begin({ ...start, token: 'another' })).rejects.toThrow('made anew');
    expect(kept).toEqual([]);
    expect(await client.begin({ ...start, token: 'seen' })).toBe(anew(items, placed).steps.length);
    expect(kept).toEqual([
      [
        'home',
        'attic.device',
        expect.objectContaining({
          id: 'j',
          startedAt: 5,
          state: 'running',
          outcomes: [],
          placedBefore: placed,
        }),
      ],
    ]);
    expect(kept[0]?.[2].steps).toEqual(anew(items, placed).steps);
  });

  test('a plan that broke off is made anew with the next one', async () => {
    const client = planner();
    const items = songs(2);
    await planned(client, items);
    const breaks = vi.spyOn(LivePlan.prototype, 'digest').mockImplementationOnce(() => {
      throw new Error('out of step');
    });
    const wishes = { rulebook, choices: NO_CHOICES, policy: 'leads' as const, isBrief: false, token: 'u' };
    await expect(client.plan(ATTIC, wishes, client.generation)).rejects.toThrow('out of step');
    breaks.mockRestore();
    expect(await client.nodes(ATTIC, 'any')).toEqual([]);
    expect(await client.plan(ATTIC, wishes, client.generation)).toEqual(digestAnew(items));
  });

  test('its proof is of the plan on show', async () => {
    const client = planner();
    const items = songs(2);
    await planned(client, items);
    shows = { nodes: anew(items).showing.nodes, unplaced: [], lists: [] };
    expect(await client.prove(ATTIC, 'attic')).toMatchObject({ agreed: 2, differences: [] });
    await planned(client, [], [(items[0] as Item).id]);
    expect(await client.prove(ATTIC, 'attic')).toMatchObject({ agreed: 1, foreign: 1 });
  });
});

test('what is told of a plan does not grow with the library', () => {
  const size = (count: number) => {
    const items = Array.from({ length: count }, (_, index) =>
      makeItem(
        `i${index}`,
        { title: `T${index}`, artist: [`A${index % 900}`], album: `B${index}`, track: 1, date: '1999' },
        { settled: 'song', path: `in/${index}.mp3` },
      ),
    );
    return JSON.stringify(digestAnew(items)).length;
  };
  expect(size(4000)).toBeLessThan(size(1000) * 1.1);
  expect(size(4000)).toBeLessThan(100_000);
});

test('planning after changes is planning anew', async () => {
  const title = fc.constantFrom('Ebb', 'Wick', 'ebb', null);
  const change = fc.record({ index: fc.nat(11), title, leaves: fc.boolean() });
  await fc.assert(
    fc.asyncProperty(fc.array(fc.array(change, { maxLength: 5 }), { maxLength: 4 }), async (rounds) => {
      const client = planner();
      const library = new Map(songs(12).map((item) => [item.id, item]));
      await planned(client, [...library.values()]);
      for (const changes of rounds) {
        const changed: Item[] = [];
        const removed: ItemId[] = [];
        for (const { index, title: said, leaves } of changes) {
          const item = [...library.values()][index];
          if (!item || removed.includes(item.id)) continue;
          if (leaves) {
            library.delete(item.id);
            removed.push(item.id);
          } else {
            const next = editItem(item, { title: said });
            library.set(item.id, next);
            changed.push(next);
          }
        }
        const told = changed.filter(({ id }) => !removed.includes(id));
        expect(await planned(client, told, removed)).toEqual(digestAnew([...library.values()]));
      }
    }),
    { seed: 11, numRuns: 500 },
  );
});

test('a plan that is asked for while the player is being listed waits for the list', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  try {
    let answer: ((files: readonly ThereFile[]) => void) | null = null;
    lists = () => new Promise((resolve) => (answer = resolve));
    const library = new Library('home');
    const desk = new PlayerDesk(ATTIC, library, new Work(), new LibraryMirror(library, planner()), noIntake);
    void desk.look();
    await eventually(() => expect(answer).not.toBeNull());
    desk.planSoon();
    await vi.advanceTimersByTimeAsync(1000);
    (answer as unknown as (files: readonly ThereFile[]) => void)(there);
    await eventually(() => expect(desk.rehearsal.isPlanning).toBe(false));
    expect(desk.rehearsal.plan?.foreign).toBe(1);
  } finally {
    vi.useRealTimers();
  }
});

test('files of a base that came after the place was listed are compared with it', async () => {
  const library = new Library('late-base');
  await library.load();
  const [item] = songs(1) as [Item];
  library.put([{ id: item.id, before: null, after: item }]);
  const left = { path: 'Music/Fathom.mp3', owner: ofItem(item.id), signature: 's', size: 9, digest: 'ours' };
  lists = () => Promise.resolve([{ path: left.path, size: 9, digest: 'theirs' }]);
  const examine = vi.fn<LibraryOutside['examine']>(async () => ({}));
  const client = libraryClient({ list: () => lists(), examine });
  const desk = new PlayerDesk(ATTIC, library, new Work(), new LibraryMirror(library, client), noIntake);
  await desk.look();
  expect(examine).not.toHaveBeenCalled();
  library.setBase(desk.target.id, [left]);
  await desk.rehearsal.planNow();
  expect(examine.mock.calls.map(([, path, what]) => [path, what])).toEqual([[left.path, 'says']]);
});

test('a player that returns is noticed whatever looks at it, and an edit of the player alone lists nothing', async () => {
  const library = new Library('returning');
  await library.load();
  const desk = new PlayerDesk(ATTIC, library, new Work(), new LibraryMirror(library, planner()), noIntake);
  await library.storage.runs.start(desk.target.id, {
    version: JOURNAL_VERSION,
    id: 'run',
    startedAt: 1,
    endedAt: 2,
    state: 'finished',
    reason: null,
    steps: [],
    outcomes: [],
    placedBefore: [],
  });
  await desk.open();
  expect(desk.place.hasReturned).toBe(false);
  lists = () => Promise.reject(new Error('it does not answer'));
  await desk.look();
  expect(desk.place.trouble).toContain('does not answer');
  const listing = vi.fn(() => Promise.resolve(there));
  lists = listing;
  desk.decisions.setBySelf(true);
  await desk.rehearsal.planNow();
  expect(listing).not.toHaveBeenCalled();
  await desk.look();
  expect(desk.place.hasReturned).toBe(true);
});

test('of two targets that are chosen in a row, the first says nothing of the second however late it is read', async () => {
  const [device, folder] = [targetId(ATTIC, 'device'), targetId(ATTIC, 'folder')];
  const library = new Library('two-targets');
  const { runs } = library.storage;
  const left = { path: 'Music/old.mp3', owner: null, signature: 's', size: 4, digest: 'd' };
  const steps = { steps: [], outcomes: [], placedBefore: [left] };
  const ended = { startedAt: 1, endedAt: 2, state: 'takenBack', reason: null } as const;
  await runs.start(device, { version: JOURNAL_VERSION, id: 'run', ...ended, ...steps });
  let letGo = () => {};
  const late = new Promise<void>((resolve) => (letGo = resolve));
  const read = runs.latest.bind(runs);
  vi.spyOn(runs, 'latest').mockImplementation(async (target) => {
    if (target === device) await late;
    return read(target);
  });
  const desk = new PlayerDesk(ATTIC, library, new Work(), new LibraryMirror(library, planner()), noIntake);
  const first = desk.open(device);
  await desk.open(folder);
  letGo();
  await first;
  expect(desk.target.id).toBe(folder);
  expect(desk.record.journal).toBeNull();
  expect(library.baseOf(folder)).toEqual([]);
});

describe('what was rehearsed before', () => {
  const seen = new Map<string, TargetSnapshot>();
  const outside = (): Partial<LibraryOutside> => ({
    list: () => lists(),
    findSeen: ({ target }) => Promise.resolve(seen.get(target) ?? null),
    keepSeen: ({ target }, place) => Promise.resolve(void seen.set(target, place)),
  });

  /** Opens the library, and looks at the player; the plan itself waits for the library worker to have its items. */
  async function opened(name: string) {
    const library = new Library(name);
    await library.load();
    let go = () => {};
    const waits = new Promise<void>((resolve) => (go = resolve));
    const readItems = async function* (from: string) {
      await waits;
      yield* new LibraryStorage(from, () => false).readItems();
    };
    const mirror = new LibraryMirror(library, libraryClient({ ...outside(), readItems }));
    const desk = new PlayerDesk(ATTIC, library, new Work(), mirror, noIntake);
    desk.rehearsal.isChosen = true;
    await desk.greet();
    const planned = async () => {
      go();
      await desk.rehearsal.planNow();
    };
    return { library, desk, planned };
  }

  /** A library that was left at rest, some time after its rehearsal. */
  async function left(
    name: string,
    meanwhile = (_library: Library) => {},
    before = (_library: Library) => {},
  ) {
    const { library, desk, planned: made } = await opened(name);
    before(library);
    library.put(songs(3).map((item) => ({ id: item.id, before: null, after: item })));
    await library.flush();
    await made();
    meanwhile(library);
    await vi.advanceTimersByTimeAsync(21_000);
    desk.end();
    return { library, plan: desk.rehearsal.plan };
  }

  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    seen.clear();
  });
  afterEach(() => void vi.useRealTimers());

  test('is on show before it is made anew, and answers once it was', async () => {
    const { plan } = await left('rest-1');
    expect(plan?.steps.copy).toBe(3);
    const { desk, planned: made } = await opened('rest-1');
    expect(desk.rehearsal.plan).toEqual(plan);
    const asked = desk.rehearsal.about(songs(3).map(({ id }) => id));
    const making = made();
    expect(desk.rehearsal.isPlanning).toBe(false);
    await making;
    expect((await asked)?.goes).toBe(3);
    expect(desk.rehearsal.plan).toEqual(plan);
  });

  test('may not be run once something was changed: another one is on its way', async () => {
    await left('rest-6');
    const { library, desk, planned: made } = await opened('rest-6');
    library.edit('Title', library.items.slice(0, 1), { title: 'Other' });
    const making = made();
    expect(desk.rehearsal.isPlanning).toBe(true);
    await making;
    expect(desk.rehearsal.isPlanning).toBe(false);
  });

  test('holds on its day alone, where what the player is to have goes by the day', async () => {
    const lately = (library: Library) => {
      const player = library.playerOf(ATTIC, 'attic');
      library.setPlayer({ ...player, selection: { ...player.selection, text: 'added in the last month' } });
    };
    await left('rest-7', undefined, lately);
    expect((await opened('rest-7')).desk.rehearsal.plan).not.toBeNull();
    const day = vi.spyOn(Date.prototype, 'toDateString').mockReturnValue('another day');
    expect((await opened('rest-7')).desk.rehearsal.plan).toBeNull();
    day.mockRestore();
  });

  test('is not, where anything is another one since', async () => {
    const title = (library: Library) => library.edit('Title', library.items.slice(0, 1), { title: 'Other' });
    await left('rest-2', title);
    expect((await opened('rest-2')).desk.rehearsal.plan).toBeNull();

    const { library } = await left('rest-3');
    title(library);
    await library.flush();
    expect((await opened('rest-3')).desk.rehearsal.plan).toBeNull();

    await left('rest-4');
    lists = () => Promise.resolve([...there, { path: 'Music/more.txt', size: 1, digest: null }]);
    expect((await opened('rest-4')).desk.rehearsal.plan).toBeNull();

    const { library: chosen } = await left('rest-5');
    const player = chosen.playerOf(ATTIC, 'attic');
    chosen.setPlayer({ ...player, selection: { ...player.selection, text: 'nothing of it' } });
    await chosen.flush();
    expect((await opened('rest-5')).desk.rehearsal.plan).toBeNull();
  });

  test('is not, where the browser took only a part of what came after it', async () => {
    for (let most = 0; most < 3; most++) {
      const { library } = await left(`cut-${most}`);
      library.edit('Title', library.items, { title: 'Other' });
      refuseAfter(most);
      await library.flush();
      refuseAfter(null);
      const { desk, planned: made } = await opened(`cut-${most}`);
      const early = desk.rehearsal.plan;
      await made();
      if (early) expect(desk.rehearsal.plan).toEqual(early);
    }
  });
});

test('a rehearsal that broke off is made once more, and then said to have failed', async () => {
  const library = new Library('home');
  const desk = new PlayerDesk(ATTIC, library, new Work(), new LibraryMirror(library, planner()), noIntake);
  const breaks = vi.spyOn(LivePlan.prototype, 'digest');
  const breakOff = () => {
    throw new Error('out of step');
  };
  breaks.mockImplementationOnce(breakOff);
  await desk.look();
  expect(desk.rehearsal.plan?.foreign).toBe(1);
  expect(desk.trouble).toBeNull();
  breaks.mockImplementationOnce(breakOff).mockImplementationOnce(breakOff);
  await desk.look();
  expect(desk.rehearsal.plan).toBeNull();
  expect(desk.trouble).toContain('out of step');
  breaks.mockRestore();
});
