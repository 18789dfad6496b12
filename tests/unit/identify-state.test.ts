import { beforeEach, describe, expect, test, vi } from 'vitest';
import { gather, toGatherItem, type ReferenceRelease } from '../../src/lib/core/identify';
import type { Item, ItemId } from '../../src/lib/core/items';
import type { LookUpAnswer, ReferenceClient } from '../../src/lib/io/reference-client';
import { ServiceError } from '../../src/lib/io/bounded-fetch';
import { HOUSEHOLD } from '../../src/lib/server/reference/household';
import { IdentifyDesk } from '../../src/lib/state/identify/identify-desk';
import { Library } from '../../src/lib/state/library.svelte';
import type { Listening } from '../../src/lib/state/listening.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { LibraryMirror } from '../../src/lib/state/library-mirror';
import { IdentifyClient } from '../../src/lib/workers/identify-client';
import { serveIdentifying } from '../../src/lib/workers/identify-service';
import { eventually } from '../helpers/eventually';
import { channel } from '../helpers/channel';
import { libraryClient } from '../helpers/library-worker';
import { databases } from '../helpers/fake-forage';
import { makeAlbum, makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));

const release = (id: string) => HOUSEHOLD.find((one) => one.id === id) as ReferenceRelease;
const EBB = release('ebb-tables');

/** Songs of a release in another order, saying nothing of themselves. */
function thrown(of: ReferenceRelease, order: readonly number[], folder = 'from the old laptop'): Item[] {
  return order.map((place, index) => {
    const item = makeItem(`${folder}-${index}`, {}, { path: `Drop/${folder}/audio_${index + 1}.mp3` });
    return { ...item, facts: { ...item.facts, durationSeconds: of.entries[place]?.lengthSeconds ?? null } };
  });
}

class Desk {
  readonly library = new Library('home');
  readonly work = new Work();
  readonly asked: unknown[] = [];
  answer: () => Promise<LookUpAnswer>;
  readonly desk: IdentifyDesk;

  constructor(items: readonly Item[], releases: readonly ReferenceRelease[]) {
    this.library.put(items.map((item) => ({ id: item.id, before: null, after: item })));
    this.answer = async () => ({ releases, heard: [], dropped: 0 });
    const reference = {
      lookUp: async (query: unknown) => {
        this.asked.push(query);
        return this.answer();
      },
      lyrics: async (entry: string) => `words of ${entry}`,
    } as unknown as ReferenceClient;
    const listening = {
      fingerprints: async (list: readonly Item[]) => list.map(({ id }) => `print of ${id}`),
    } as unknown as Listening;
    const client = new IdentifyClient(() => channel(serveIdentifying));
    const mirror = new LibraryMirror(this.library, libraryClient());
    this.desk = new IdentifyDesk(this.library, this.work, listening, mirror, reference, client);
  }

  /** Gathers, opens the set of this label, and waits for its look-up. */
  async open(label: string): Promise<this> {
    await this.desk.sets.gatherNow();
    const set = this.desk.sets.gatherings.find((one) => one.label === label);
    this.desk.sets.open(set?.key ?? null);
    await this.settled();
    return this;
  }

  settled = () =>
    eventually(() => {
      if (
        this.desk.lookUps.lookUp?.phase === 'asking' ||
        (this.desk.pairing.chosen.length > 0 && !this.desk.pairing.offer)
      )
        throw new Error('not yet');
    });

  pairs = () =>
    Object.fromEntries((this.desk.pairing.lineUp?.pairs ?? []).map((pair) => [pair.file, pair.entry]));
}

const ORDER = [3, 0, 5, 1, 4, 2];
let made: Desk;
beforeEach(async () => {
  databases.clear();
  made = await new Desk(thrown(EBB, ORDER), [EBB, release('salt-ledger')]).open('from the old laptop');
});

test('a set that waits is looked up when it is opened, by words and lengths, and matched to the best', () => {
  expect(made.asked).toMatchObject([
    { type: 'album', words: 'from the old laptop', lengths: [67, 74, 70, 61, 79, 88] },
  ]);
  expect(made.desk.pairing.chosen[0]?.release.id).toBe('ebb-tables');
  expect(Object.values(made.pairs())).toEqual(ORDER.map((place) => `ebb-tables-${place + 1}`));
  expect(made.desk.sets.unmatched).toBe(6);
});

describe('what the curator decides', () => {
  test('a hold takes the entry from whoever had it; letting go gives it back', async () => {
    const before = made.pairs();
    made.desk.pairing.lock('from the old laptop-0', 'ebb-tables-1');
    made.desk.pairing.lock('from the old laptop-1', 'ebb-tables-1');
    await eventually(() => expect(made.pairs()['from the old laptop-1']).toBe('ebb-tables-1'));
    expect(made.desk.pairing.choice.decisions.locked).toEqual({ 'from the old laptop-1': 'ebb-tables-1' });
    made.desk.pairing.free('from the old laptop-1');
    await eventually(() => expect(made.pairs()).toEqual(before));
  });

  test('a file is left open or out, and comes back', async () => {
    made.desk.pairing.lock('from the old laptop-0', null);
    await eventually(() => expect(made.desk.pairing.lineUp?.openFiles).toEqual(['from the old laptop-0']));
    made.desk.pairing.leaveOut('from the old laptop-0');
    await eventually(() => expect(made.desk.pairing.lineUp?.openFiles).toEqual([]));
    made.desk.pairing.free('from the old laptop-0');
    await eventually(() => expect(made.pairs()['from the old laptop-0']).toBe('ebb-tables-4'));
  });

  test('the straight way keeps the files’ order', async () => {
    made.desk.pairing.setStraight(true);
    await eventually(() =>
      expect(made.desk.pairing.lineUp?.pairs.some(({ crosses }) => crosses)).toBe(false),
    );
  });

  test('some files are paired to a second release, others to the first', async () => {
    const both = [
      ...thrown(EBB, [0, 1, 2]),
      ...thrown(release('nine-knots'), [0, 2], 'from the old laptop '),
    ].map((item, index) => ({ ...item, path: `Drop/one/audio_${index + 1}.mp3` }));
    const two = await new Desk(both, [EBB, release('nine-knots')]).open('one');
    const second = two.desk.lookUps.lookUp?.candidates.find(({ release: one }) => one.id === 'nine-knots');
    two.desk.pairing.toggleSecond(second?.key ?? '');
    await eventually(() => expect(two.desk.pairing.lineUp?.pairs).toHaveLength(5));
    await two.desk.pairing.take();
    expect(two.library.items.map(({ edits }) => edits.fields?.album)).toEqual([
      'Ebb Tables',
      'Ebb Tables',
      'Ebb Tables',
      'Nine Knots',
      'Nine Knots',
    ]);
    // The set is the album now, and what was known of it is known still.
    expect(two.desk.sets.gathering?.state).toBe('matched');
    two.desk.pairing.toggleSecond(second?.key ?? '');
    expect(two.desk.pairing.chosen.map(({ release: one }) => one.id)).toEqual(['ebb-tables']);
  });
});

describe('taking a line-up', () => {
  test('is one act: fields, match and lyrics, undone by name', async () => {
    made.desk.pairing.choose(
      made.desk.lookUps.lookUp?.candidates.find(({ release: one }) => one.id === 'ebb-tables')?.key ?? '',
    );
    await made.settled();
    made.desk.pairing.fields = new Set(['title', 'album', 'track']);
    await made.desk.pairing.take();
    const [first] = made.library.items;
    expect(first?.edits).toEqual({ fields: { title: 'Springs', album: 'Ebb Tables', track: 4 } });
    expect(first?.identity).toMatchObject({
      type: 'matched',
      release: 'ebb-tables',
      entry: 'ebb-tables-4',
      source: 'Harbour Index',
    });
    expect(made.desk.sets.gatherings.map(({ state }) => state)).toEqual(['matched']);
    expect(made.library.undo()?.label).toBe('Line-up of Ebb Tables');
    expect(
      made.library.items.every(({ edits, identity }) => identity === null && Object.keys(edits).length === 0),
    ).toBe(true);
  });

  test('leaves open files exactly as they are', async () => {
    const before = made.library.items[0];
    made.desk.pairing.lock('from the old laptop-0', null);
    await eventually(() => expect(made.desk.pairing.lineUp?.openFiles).toHaveLength(1));
    await made.desk.pairing.take();
    expect(made.library.items[0]).toBe(before);
    expect(made.desk.sets.gatherings[0]).toMatchObject({ state: 'waits', waiting: 1 });
  });

  test('takes lyrics only where they are wanted and there', async () => {
    const salt = await new Desk(thrown(release('salt-ledger'), [0, 1]), [release('salt-ledger')]).open(
      'from the old laptop',
    );
    salt.desk.pairing.withLyrics = true;
    await salt.desk.pairing.take();
    expect(salt.library.items[0]?.edits.fields?.lyrics).toBe('words of salt-ledger-1');
  });
});

describe('a look-up', () => {
  test.each([
    ['words', 'ebb', { type: 'album', words: 'ebb' }],
    ['number', ' ebb-tables ', { type: 'album', number: 'ebb-tables' }],
    ['lengths', '', { type: 'album', lengths: [67, 74, 70, 61, 79, 88] }],
    [
      'sound',
      '',
      { type: 'album', fingerprints: ORDER.map((_, index) => `print of from the old laptop-${index}`) },
    ],
  ] as const)('by %s asks for just that', async (way, text, query) => {
    await made.desk.lookUps.ask(way, text);
    expect(made.asked.at(-1)).toEqual(query);
  });

  test('what was heard speaks for its pair', async () => {
    const hears = () =>
      made.desk.pairing.lineUp?.pairs.filter(({ evidence }) => evidence.some(({ code }) => code === 'sound'))
        .length;
    expect(hears()).toBe(0);
    made.answer = async () => ({
      releases: [EBB],
      heard: ORDER.map((place) => ({ [`ebb-tables-${place + 1}`]: 0.02 })),
      dropped: 0,
    });
    await made.desk.lookUps.ask('sound');
    await eventually(() => expect(hears()).toBe(6));
  });

  test('that fails says why, and keeps what was known', async () => {
    made.answer = async () => {
      throw new ServiceError('tooSlow', 'no whole answer');
    };
    await made.desk.lookUps.ask('words', 'x');
    expect(made.desk.lookUps.lookUp).toMatchObject({ phase: 'failed', trouble: { code: 'tooSlow' } });
    expect(made.desk.lookUps.lookUp?.candidates.length).toBeGreaterThan(0);
  });

  test('that finds nothing says so', async () => {
    made.answer = async () => ({ releases: [], heard: [], dropped: 3 });
    await made.desk.lookUps.ask('words', 'x');
    expect(made.desk.lookUps.lookUp).toMatchObject({ phase: 'nobody', dropped: 3 });
    expect(made.desk.pairing.lineUp).toBeNull();
  });

  test('that comes late gives way to a later one', async () => {
    let late: (answer: LookUpAnswer) => void = () => undefined;
    made.answer = () => new Promise((resolve) => (late = resolve));
    const first = made.desk.lookUps.ask('words', 'first');
    await eventually(() => expect(made.asked).toHaveLength(2));
    made.answer = async () => ({ releases: [release('salt-ledger')], heard: [], dropped: 0 });
    await made.desk.lookUps.ask('number', 'salt-ledger');
    late({ releases: [EBB], heard: [], dropped: 0 });
    await first;
    expect(made.desk.lookUps.lookUp?.candidates.every(({ release: one }) => one.id === 'salt-ledger')).toBe(
      true,
    );
  });
});

describe('sets by hand', () => {
  test('a file is split off and pulled back; the open set stays open under its new key', async () => {
    const [first, second] = made.library.items as [Item, Item];
    made.desk.sets.split([second.id]);
    await made.desk.sets.gatherNow();
    expect(made.desk.sets.gathering?.items).toHaveLength(5);
    expect(made.desk.sets.gatherings).toHaveLength(2);
    made.desk.sets.join([second.id]);
    await made.desk.sets.gatherNow();
    expect(made.desk.sets.gatherings).toHaveLength(1);
    expect(made.desk.sets.gathering?.items).toContain(first.id);
  });

  test('one left as it is waits no longer, and can wait again', async () => {
    const set = made.desk.sets.gathering;
    if (!set) throw new Error('none is open');
    made.desk.sets.leaveAsTheyAre(set);
    await made.desk.sets.gatherNow();
    expect([made.desk.sets.gatherings[0]?.state, made.desk.sets.unmatched]).toEqual(['left', 0]);
    made.desk.sets.reopen(set);
    await made.desk.sets.gatherNow();
    expect(made.desk.sets.gatherings[0]?.state).toBe('waits');
  });

  test('stepping goes round those that wait', async () => {
    const two = new Desk([...thrown(EBB, [0, 1], 'one'), ...thrown(EBB, [2, 3], 'two')], [EBB]);
    await two.desk.sets.gatherNow();
    const labels = [1, 1, 1, -1].map((by) => {
      two.desk.sets.step(by as 1 | -1);
      return two.desk.sets.gathering?.label;
    });
    expect(labels).toEqual(['one', 'two', 'one', 'two']);
  });
});

test('of gatherings that are already in the library only those that changed are sent again', async () => {
  const sent: unknown[] = [];
  const client = libraryClient({}, (port) => {
    const post = port.postMessage;
    port.postMessage = (message) => {
      sent.push(message);
      post(message);
    };
  });
  const album = (name: string) =>
    makeAlbum(2, { album: name }).map((item) => ({
      ...item,
      id: `${name} ${item.id}` as ItemId,
      path: `in/${name}/${item.id}.mp3`,
    }));
  const { generation } = client;
  const items = ['Ebb', 'Tides', 'Wick'].flatMap(album);
  await client.update(items, [], generation);
  const first = await client.gather(generation);
  expect(first).toEqual(gather(items.map(toGatherItem)));
  expect(first).toHaveLength(3);

  const edited = { ...(items[2] as Item), identity: { type: 'left', at: 5 } as const };
  const later = items.map((item) => (item.id === edited.id ? edited : item));
  await client.update([edited], [], generation);
  sent.length = 0;
  const [one, two] = await Promise.all([client.gather(generation), client.gather(generation)]);
  expect(one).toEqual(gather(later.map(toGatherItem)));
  expect(two).toEqual(one);
  expect(one.filter((gathering) => first.includes(gathering))).toHaveLength(2);
  expect(JSON.stringify(sent)).not.toContain('Wick');

  const left = later.filter(({ path }) => !path.includes('Ebb'));
  await client.update(
    [],
    later.filter((item) => !left.includes(item)).map(({ id }) => id),
    generation,
  );
  expect(await client.gather(generation)).toEqual(gather(left.map(toGatherItem)));
});
