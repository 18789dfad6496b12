import { beforeEach, describe, expect, test, vi } from 'vitest';
import { fieldsOf, type Item, type ItemId } from '../../src/lib/core/items';
import type { PlacedFile, SyncPolicy } from '../../src/lib/core/plan';
import type { Journal } from '../../src/lib/core/run';
import { forgetAll } from '../helpers/fake-forage';
import { newPlace, openFiles, place, sha256 } from './page-place';
import { Page, isDone, originals } from './page-world';
import { bytesOfSong, newSong, readSong } from './sync-world';
import { TRIAL_TIME, seeded, sized, tell } from './size';

vi.mock('localforage', () => import('../helpers/fake-forage'));
vi.mock('../../src/lib/io/stores/store-of', async () => {
  const { atPlace } = await import('./page-place');
  return { storeOf: () => atPlace() };
});

/*
 * Houses in which several browsers run into one place: one whose data was cleared, a second curator's, one that read the
 * library in from its file. Whose a file is, each tells by the place's own records and by the bytes alone.
 */

const POLICIES: readonly SyncPolicy[] = ['leads', 'both', 'ask'];
const SONGS = 8;

/** The songs of the house, whose originals every browser has. @param lineage what their items are called by */
function songs(lineage: string): readonly Item[] {
  return Array.from({ length: SONGS }, (_, index) => {
    const fields = { title: `Song ${index}`, album: index < 5 ? 'Ebb' : 'Flow', track: index + 1 };
    const song = newSong(`s${index}`, fields);
    originals.set(song.path, bytesOfSong({ sound: song.id, fields: song.file.fields }));
    return { ...song, id: `${lineage}${index}` as ItemId };
  });
}

async function openHouse(name: string, lineage: string, policy: SyncPolicy): Promise<Page> {
  const page = await Page.open(name);
  const { library, desk } = page;
  library.put(songs(lineage).map((item) => ({ id: item.id, before: null, after: item })));
  library.setPlayer({ ...desk.player, policy });
  await library.flush();
  await desk.look();
  return page;
}

const retitle = (page: Page, index: number, lineage: string, title: string): void =>
  page.library.edit('Title', page.library.findAll([`${lineage}${index}` as ItemId]), { title });

/** A change that leaves the file's name as it is. */
const recompose = (page: Page, index: number, lineage: string, composer: string): void =>
  page.library.edit('Composer', page.library.findAll([`${lineage}${index}` as ItemId]), {
    composer: [composer],
  });

const titles = ({ library }: Page) => library.items.map((item) => fieldsOf(item).title);

async function findings({ desk }: Page) {
  const lines = await desk.rehearsal.findings(null, 0, 100);
  return lines.map(({ code, severity, words }) => ({ code, severity, byOther: words.by !== undefined }));
}

beforeEach(() => {
  forgetAll();
  originals.clear();
});

describe.each([
  ['with digests', true],
  ['without digests', false],
] as const)('a place %s', (_, digests) => {
  describe.each(POLICIES)('where "%s" is the policy', (policy) => {
    test.each(['cleared', 'another'])(
      'a browser that knows nothing takes what lies there as it would be written for its own (%s)',
      { timeout: TRIAL_TIME },
      async (lineage) => {
        newPlace(digests);
        const first = await openHouse('first', 'a', policy);
        retitle(first, 2, 'a', 'Said of it');
        await first.desk.look();
        await first.runAll();
        const before = openFiles();
        expect(before.size).toBeGreaterThan(SONGS);
        const second = await openHouse('second', lineage, policy);
        retitle(second, 2, lineage, 'Said of it');
        await second.desk.look();
        expect(await findings(second)).toEqual(
          expect.not.arrayContaining([expect.objectContaining({ severity: 'blocks' })]),
        );
        const { plan } = second.desk.rehearsal;
        expect(plan?.comes).toEqual({ edits: 0, files: 0, lists: 0 });
        expect(plan?.stepCount).toBe(plan?.steps.agree);
        await second.runAll();
        expect(isDone(second.desk)).toBe(true);
        expect(openFiles()).toEqual(before);
        expect(titles(second)).toHaveLength(SONGS);
      },
    );

    test(
      'what another library wrote otherwise is told as its own, and waits',
      { timeout: TRIAL_TIME },
      async () => {
        newPlace(digests);
        const first = await openHouse('first', 'a', policy);
        retitle(first, 2, 'a', 'Said by the first');
        first.library.edit('Album', first.library.findAll(['a3' as ItemId]), { album: 'Elsewhere' });
        await first.desk.look();
        await first.runAll();
        const before = openFiles();
        const second = await openHouse('second', 'b', policy);
        await second.runAll();
        const after = openFiles();
        for (const [path, bytes] of before) expect([path, after.get(path)]).toEqual([path, bytes]);
        expect(titles(second)).toHaveLength(SONGS);
        const told = await findings(second);
        expect(told).toEqual(
          expect.arrayContaining([{ code: 'addedThere', severity: 'note', byOther: true }]),
        );
      },
    );
  });

  test(
    'the same library read in elsewhere knows its files, and does not undo what was written since',
    { timeout: TRIAL_TIME },
    async () => {
      newPlace(digests);
      const first = await openHouse('first', 'a', 'leads');
      await first.runAll();
      const second = await openHouse('second', 'a', 'leads');
      expect(second.desk.rehearsal.plan?.stepCount).toBe(second.desk.rehearsal.plan?.steps.agree);
      retitle(first, 1, 'a', 'Written since');
      await first.desk.look();
      await first.runAll();
      await second.desk.look();
      await second.runAll();
      expect([...openFiles().values()].filter((text) => text.includes('Written since'))).toHaveLength(1);
    },
  );

  test(
    'a place that was forgotten and is chosen again is known by its record',
    { timeout: TRIAL_TIME },
    async () => {
      newPlace(digests);
      const page = await openHouse('first', 'a', 'leads');
      await page.runAll();
      const before = openFiles();
      const { library, desk } = page;
      await library.storage.runs.drop(desk.target.id);
      library.setBase(desk.target.id, []);
      retitle(page, 4, 'a', 'Another title');
      await library.flush();
      await desk.open();
      expect(await findings(page)).toEqual(
        expect.not.arrayContaining([expect.objectContaining({ severity: 'blocks' })]),
      );
      await page.runAll();
      expect(isDone(desk)).toBe(true);
      expect(openFiles().size).toBe(before.size);
      expect([...openFiles().values()].filter((text) => text.includes('Another title'))).not.toHaveLength(0);
    },
  );

  test(
    'a record that is damaged, or says what digests do not, changes nothing',
    { timeout: TRIAL_TIME },
    async () => {
      newPlace(digests);
      const page = await openHouse('first', 'a', 'leads');
      await page.runAll();
      const [name, bytes] = [...place().files].find(([path]) => path.includes('libraries')) as [
        string,
        Uint8Array,
      ];
      const { library, desk } = page;
      for (const damage of [bytes.slice(0, -1), bytes.slice(40), new Uint8Array(0)]) {
        place().put(name, damage);
        await library.storage.runs.drop(desk.target.id);
        library.setBase(desk.target.id, []);
        await library.flush();
        await desk.open();
        // Told by their bytes alone.
        expect(desk.rehearsal.plan?.stepCount).toBe(desk.rehearsal.plan?.steps.agree);
      }
    },
  );
});

test(
  'the sheet of a sync is what its run does, with the names that follow from what is taken over',
  { timeout: TRIAL_TIME },
  async () => {
    for (const digests of [true, false]) {
      forgetAll();
      newPlace(digests);
      const page = await openHouse('first', 'a', 'both');
      await page.runAll();
      // Titles are part of names, and three of them are said otherwise there.
      for (const [path, text] of [...openFiles()].slice(0, 3)) {
        const song = readSong(Buffer.from(text));
        if (!song) throw new Error('no song');
        const fields = { ...song.fields, title: `${song.fields.title} as the player says` };
        place().put(path, bytesOfSong({ ...song, fields }));
      }
      retitle(page, 6, 'a', 'Said here');
      await page.library.flush();
      await page.desk.look();
      const { plan } = page.desk.rehearsal;
      expect(plan?.comes).toEqual({ edits: 3, files: 0, lists: 0 });
      expect(plan?.steps.move).toBeGreaterThanOrEqual(3);
      await page.desk.runs.start();
      expect(page.desk.record.journal?.steps).toHaveLength(plan?.stepCount ?? 0);
      expect(isDone(page.desk)).toBe(true);
    }
  },
);

describe.each([
  ['over what is there', false],
  ['in place of what is there', true],
])('an older backup brought back %s', (_, removes) => {
  test.each([true, false])(
    'undoes nothing of the library, and is told (digests: %s)',
    { timeout: TRIAL_TIME },
    async (digests) => {
      newPlace(digests);
      const page = await openHouse('first', 'a', 'both');
      await page.runAll();
      const backup = openFiles();
      for (const index of [0, 1, 2]) recompose(page, index, 'a', `Composer ${'+'.repeat(index)}`);
      for (const index of [3, 4]) retitle(page, index, 'a', `Renamed ${index}`);
      page.library.act('Leave', page.library.findAll(['a7' as ItemId]), () => null);
      await page.library.flush();
      await page.desk.look();
      await page.runAll();
      const before = titles(page);
      const edited = page.library.items.map((item) => item.edits);
      if (removes) for (const path of openFiles().keys()) await place().remove(path);
      for (const [path, text] of backup) place().put(path, Buffer.from(text));
      const there = openFiles();
      await page.desk.look();
      expect(page.desk.rehearsal.plan?.comes).toEqual({ edits: 0, files: 0, lists: 0 });
      const told = await page.desk.rehearsal.findings(null, 0, 100);
      expect(told.filter(({ words }) => words.past !== undefined)).not.toEqual([]);
      await page.runAll();
      expect(titles(page)).toEqual(before);
      expect(page.library.items.map((item) => item.edits)).toEqual(edited);
      expect(openFiles()).toEqual(there);
      // What such a backup took away is not agreed to be gone.
      expect(page.library.baseOf(page.desk.target.id).filter(({ gone }) => gone)).toEqual([]);
    },
  );
});

/** What a run replaces or removes must be what both sides agreed on, or what the run itself took over before. */
function expectSeen(journal: Journal, byOthers: ReadonlyMap<string, string>): void {
  const known = new Set<string>();
  const know = ({ path, digest }: Pick<PlacedFile, 'path' | 'digest'>) => known.add(`${path} ${digest}`);
  journal.placedBefore.forEach(know);
  for (const step of journal.steps) {
    if (step.type === 'agree' && step.record) know(step.record);
    const was = 'replaces' in step ? step.replaces : step.type === 'remove' ? step.was : null;
    const other = byOthers.get(step.path);
    if (was && other !== undefined)
      expect([step.path, known.has(`${step.path} ${other}`)]).toEqual([step.path, true]);
  }
}

/** Digests of files in the open. */
const digestsNow = () =>
  new Map([...openFiles()].map(([path, text]) => [path, sha256(Buffer.from(text))] as const));

test(
  'two curators in turn undo nothing of each other that neither saw',
  { timeout: TRIAL_TIME },
  async () => {
    let turns = 0;
    for (let seed = 0; seed < sized(60, 6); seed++) {
      forgetAll();
      newPlace(seed % 2 === 0);
      const random = seeded(seed);
      const any = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)] as T;
      const same = random() < 0.5;
      const houses = [
        { page: await openHouse('first', 'a', any(POLICIES)), lineage: 'a' },
        { page: await openHouse('second', same ? 'a' : 'b', any(POLICIES)), lineage: same ? 'a' : 'b' },
      ];
      const lastBy = new Map<string, number>();
      let before = digestsNow();
      for (let turn = 0; turn < 8; turn++, turns++) {
        const who = turn % 2;
        const { page, lineage } = houses[who] as (typeof houses)[number];
        const change = random() < 0.3 ? retitle : recompose;
        const edits = Math.floor(random() * 3);
        for (let edit = 0; edit < edits; edit++)
          change(page, Math.floor(random() * SONGS), lineage, `Said ${turn} ${'+'.repeat(turn)}`);
        await page.library.flush();
        await page.desk.look();
        const byOthers = new Map([...before].filter(([path]) => lastBy.get(path) === 1 - who));
        const run = page.desk.record.journal?.id;
        await page.runAll();
        const { journal } = page.desk.record;
        if (journal && journal.id !== run) expectSeen(journal, byOthers);
        const after = digestsNow();
        for (const [path, digest] of after) if (before.get(path) !== digest) lastBy.set(path, who);
        before = after;
        expect(titles(page)).toHaveLength(SONGS);
      }
    }
    tell('houses of two curators', { turns, failures: 0 });
  },
);

test(
  'two curators at once: each gets what its own run wrote, or is told',
  { timeout: TRIAL_TIME },
  async () => {
    for (let seed = 0; seed < sized(20, 3); seed++) {
      forgetAll();
      newPlace(seed % 2 === 0);
      const first = await openHouse('first', 'a', 'both');
      const second = await openHouse('second', 'b', 'both');
      retitle(second, seed % SONGS, 'b', `Theirs ${seed}`);
      await second.library.flush();
      await second.desk.look();
      await Promise.all([first.desk.runs.start(), second.desk.runs.start()]);
      for (const { desk } of [first, second]) await desk.look();
      for (const page of [first, second]) await page.runAll();
      for (const page of [first, second]) await page.desk.look();
      // Whoever came second was not let over the other: both titles stand, and no song twice but where they differ.
      const there = [...openFiles()].flatMap(([path, text]) => {
        const song = readSong(Buffer.from(text));
        return song ? [[path, song.sound] as const] : [];
      });
      expect(new Set(there.map(([, sound]) => sound)).size).toBe(SONGS);
      expect(there.length).toBeLessThanOrEqual(SONGS + 1);
      for (const page of [first, second]) expect(titles(page)).toHaveLength(SONGS);
    }
  },
);
