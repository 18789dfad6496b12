import { describe, expect, test } from 'vitest';
import type { ItemId } from '../../src/lib/core/items';
import {
  entriesOf,
  itemsIn,
  moveTo,
  newHandList,
  putIn,
  takeOut,
  type HandList,
  type ListId,
} from '../../src/lib/core/lists';
import { itemOf } from '../../src/lib/core/plan';
import { applyRun } from '../../src/lib/core/run';
import type { Rulebook } from '../../src/lib/core/rulebooks';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { cloneStore, makeStore, type StoreKind } from './run-world';
import { TRIAL_TIME, seeded, sized, tell } from './size';
import { expectCuts, expectNothingLeft } from './sync-trials';
import { House, newSong } from './sync-world';

/*
 * Houses whose lists go on at both sides: entries are added, taken out and moved here and in the files of the player,
 * syncs are cut anywhere, and what both did to the same waits.
 */

const decoder = new TextDecoder();
const encoder = new TextEncoder();
const LISTS = ['ferry', 'evening'] as const;

class Lists {
  private count = 0;

  constructor(
    readonly house: House,
    private readonly random: () => number,
  ) {}

  private below(most: number): number {
    return Math.floor(this.random() * most);
  }

  list(id: string): HandList {
    return this.house.lists.find((one) => one.id === id) as HandList;
  }

  ids(id: string): readonly string[] {
    return entriesOf(this.list(id)).map((entry) => ('item' in entry ? entry.item : entry.open.path));
  }

  private pathOf(id: string): string {
    const file = this.house.placed.find(({ owner }) => owner?.type === 'list' && owner.list === id);
    return file?.path ?? '';
  }

  /** What the file of a list names, by the items that lie at those paths by our hand. */
  there(id: string): readonly string[] {
    const at = this.pathOf(id);
    const text = decoder.decode(this.house.store.files.get(at));
    const items = new Map(this.house.placed.map(({ path, owner }) => [path, itemOf(owner) ?? '']));
    return linesOf(text).map((line) => items.get(resolved(at, line)) ?? line);
  }

  /** Somebody does something with a list here. */
  here(id: string): void {
    const list = this.list(id);
    const { length } = entriesOf(list);
    const all = [...this.house.items.keys()];
    const next = [
      () => takeOut(list, new Set([this.below(length)])),
      () => moveTo(list, new Set([this.below(length)]), this.below(length + 1)).list,
      () => putIn(list, [all[this.below(all.length)] as ItemId], null).list,
      () => list,
    ][this.below(4)]?.();
    if (next) this.house.lists = this.house.lists.map((one) => (one === list ? next : one));
  }

  /** Another hand does something with its file. */
  elsewhere(id: string): void {
    const path = this.pathOf(id);
    const bytes = this.house.store.files.get(path);
    if (!bytes) return;
    const lines = [...linesOf(decoder.decode(bytes))];
    const songs = [...this.house.songs().keys()];
    const act = this.below(4);
    if (act === 0) lines.splice(this.below(lines.length), 1);
    if (act === 1) lines.splice(this.below(lines.length), 0, ...lines.splice(this.below(lines.length), 1));
    if (act === 2) {
      const song = songs[this.below(songs.length)] ?? '';
      const line = relative(path, song);
      if (!lines.includes(line)) lines.push(line);
    }
    if (act === 3) return;
    // A place without digests tells a change by its size alone: what is written is longer every time.
    const comment = `#${'+'.repeat(++this.count)}${' '.repeat(bytes.length)}`;
    this.house.store.put(path, encoder.encode([comment, ...lines, ''].join('\n')));
  }
}

const linesOf = (text: string): readonly string[] =>
  text.split(/\r?\n/).filter((line) => line.trim() !== '' && !line.startsWith('#'));

const resolved = (list: string, line: string): string =>
  new URL(encodeURI(line), `file:///${encodeURI(list)}`).pathname
    .slice(1)
    .split('/')
    .map(decodeURIComponent)
    .join('/');

/** A path as a list in a folder below the root names it. */
const relative = (list: string, path: string): string => `${'../'.repeat(list.split('/').length - 1)}${path}`;

async function agreed(kind: StoreKind, rulebook: Rulebook): Promise<House> {
  const house = new House(makeStore(kind, rulebook.id), rulebook);
  for (let index = 0; index < 8; index++)
    house.add(newSong(`s${index}`, { title: `Song ${index}`, album: 'Salt Ledger', track: index + 1 }));
  house.lists = LISTS.map((id, index) => {
    const items = [...house.items.keys()].slice(index, index + 5);
    return putIn(newHandList(id as ListId, id), items, index === 0 ? { name: 'Evening' } : null).list;
  });
  await house.takeAsGood(await house.run());
  return house;
}

/** What must be true of a list once a sync by "both count" went through; whether it waits. */
function expectMerged(
  lists: Lists,
  id: string,
  sides: {
    readonly left: readonly string[];
    readonly here: readonly string[];
    readonly there: readonly string[];
  },
  waits: boolean,
): void {
  const now = lists.ids(id);
  if (waits) {
    expect(now).toEqual(sides.here);
    return;
  }
  expect(lists.there(id)).toEqual(now);
  const { left, here, there } = sides;
  const isKept = (one: string) =>
    left.includes(one)
      ? here.includes(one) && there.includes(one)
      : here.includes(one) || there.includes(one);
  expect([...now].sort()).toEqual([...new Set([...left, ...here, ...there])].filter(isKept).sort());
}

async function round(lists: Lists, kind: StoreKind, random: () => number): Promise<number> {
  const { house } = lists;
  const left = new Map(LISTS.map((id) => [id, lists.ids(id)]));
  for (const id of LISTS) {
    lists.here(id);
    lists.elsewhere(id);
  }
  const sides = new Map(
    LISTS.map((id) => [id, { left: left.get(id) ?? [], here: lists.ids(id), there: lists.there(id) }]),
  );
  const journal = await house.begin();
  await expectCuts(house, kind, journal, random);
  const { outcomes } = await applyRun(journal, house.store, house.effects());
  house.end(journal, outcomes);
  const { plan } = await house.plan();
  const waiting = plan.findings.filter(({ code }) => code === 'listChanged');
  for (const id of LISTS) {
    const isOpen = waiting.some(({ words }) => words.list === id);
    expectMerged(lists, id, sides.get(id) as never, isOpen);
  }
  if (waiting.length === 0) await expectNothingLeft(house);
  await house.takeAsGood({ ...journal, outcomes });
  house.decide(
    waiting.map(({ remedy }) => remedy),
    () => (random() < 0.5 ? 'here' : 'there'),
  );
  await house.takeAsGood(await house.run());
  await expectNothingLeft(house);
  for (const id of LISTS) expect(lists.there(id)).toEqual(lists.ids(id));
  for (const list of house.lists) expect(itemsIn(list).size).toBe(entriesOf(list).length);
  return waiting.length;
}

export function tryLists(kind: StoreKind, houses = sized(300, 10)): void {
  describe(`lists on a place ${kind.name}`, () => {
    test.each([RULEBOOKS.attic, RULEBOOKS.pocket])(
      '$name: what both sides did to a list is merged, whatever is cut',
      { timeout: TRIAL_TIME },
      async (rulebook) => {
        let waited = 0;
        for (let seed = 0; seed < houses; seed++) {
          const random = seeded(seed + 1);
          const lists = new Lists(await agreed(kind, rulebook), random);
          try {
            for (let count = 0; count < 4; count++) waited += await round(lists, kind, random);
          } catch (error) {
            if (error instanceof Error) error.message = `house ${seed}: ${error.message}`;
            throw error;
          }
        }
        expect(waited).toBeGreaterThan(0);
        tell(`lists on a place ${kind.name}, ${rulebook.name}`, { houses, waited });
      },
    );

    test('a copy of the player knows its lists again', async () => {
      const house = await agreed(kind, RULEBOOKS.pocket);
      await expectNothingLeft(house.copy(await cloneStore(house.store, kind, house.rulebook.id)));
    });
  });
}
