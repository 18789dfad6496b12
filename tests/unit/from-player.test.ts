import { beforeEach, describe, expect, test, vi } from 'vitest';
import { memorySource } from '../../src/lib/core/bytes';
import { fieldsOf, type Item, type ItemId, type SourceId } from '../../src/lib/core/items';
import type { PlacedFile, ThereFile } from '../../src/lib/core/plan';
import { StoreError, type Store } from '../../src/lib/core/run';
import { digestOf } from '../../src/lib/io/digest';
import type { Given } from '../../src/lib/io/take-in/walk';
import { FromPlayer } from '../../src/lib/state/player/from-player';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { Library } from '../../src/lib/state/library.svelte';
import { databases } from '../helpers/fake-forage';
import { makeAlbum, makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));

const SOURCE = 'attic' as SourceId;
const GIVER = { name: 'Attic', rulebook: RULEBOOKS.attic };
const OWN = new TextEncoder().encode('a song of its own');
let library: Library;
let arrived: { path: string; bytes: number }[];
let lost: string[];

const store = {
  read: async (path: string) => {
    if (path.includes('away')) throw new StoreError('unreachable', path);
    return memorySource(OWN);
  },
} as Store<Blob>;

/** Takes in what is given under the names that it has. */
async function takeIn([given]: readonly Given[]) {
  for await (const file of given?.files ?? [])
    if ('lost' in file) lost.push(`${file.path} ${file.lost.code}`);
    else {
      arrived.push({ path: file.path, bytes: file.size });
      const id = `taken ${library.items.length}` as ItemId;
      const known = library.items.find((item) => item.source === SOURCE && item.path === file.path);
      const item = makeItem(known?.id ?? id, {}, { source: SOURCE, path: file.path, size: file.size });
      library.put([{ id: item.id, before: known ?? null, after: item }]);
    }
  return null;
}

const there = (path: string, rest: Partial<ThereFile> = {}): ThereFile => ({
  path,
  size: OWN.length,
  digest: null,
  ...rest,
});
const fromPlayer = () => new FromPlayer(library, () => ({ takeIn, sourceOf: async () => SOURCE }));
async function take(files: readonly ThereFile[], known: readonly PlacedFile[] = []) {
  const from = fromPlayer();
  return from.take(GIVER, await from.plan(GIVER, { edits: [], lists: [], files }, known), store);
}

beforeEach(() => {
  databases.clear();
  library = new Library('home');
  [arrived, lost] = [[], []];
});

describe('what comes from a player', () => {
  test('its own files come in whole, and lie where the player has them', async () => {
    const { placed } = await take([there('Music/own.flac')]);
    const [item] = library.items as [Item];
    expect(arrived).toEqual([{ path: 'Music/own.flac', bytes: OWN.length }]);
    expect(placed).toMatchObject([
      {
        path: 'Music/own.flac',
        owner: { type: 'item', item: item.id },
        kept: true,
        taken: true,
        digest: await digestOf(memorySource(OWN)),
      },
    ]);
  });

  test('another file of a name that was taken in before gets a name of its own', async () => {
    const { placed } = await take([there('Music/own.flac')]);
    await take([there('Music/own.flac')], placed);
    expect(library.items.map(({ path }) => path)).toEqual(['Music/own.flac', 'Music/own (2).flac']);
  });

  test('files that were agreed to be the player’s own are in nobody’s way', async () => {
    const theirs = {
      path: 'x.flac',
      owner: null,
      signature: '',
      size: 1,
      digest: null,
      theirs: true,
    } as const;
    await take([there('Music/own.flac')], [theirs]);
    expect(library.items.map(({ path }) => path)).toEqual(['Music/own.flac']);
  });

  test('what was half taken in when the page went away does not come twice', async () => {
    await take([there('Music/own.flac')]);
    await take([there('Music/own.flac')]);
    expect(library.items).toHaveLength(1);
  });

  test('a file that does not come whole is told, and the others come', async () => {
    const { placed } = await take([
      there('away.flac'),
      there('b.flac', { digest: 'other' }),
      there('c.flac'),
    ]);
    expect(lost).toEqual(['away.flac brokenOff', 'b.flac digestDiffers']);
    expect(placed.map(({ path }) => path)).toEqual(['c.flac']);
  });

  test('what files there say becomes edits, and goes again with the run but for what was edited since', async () => {
    library.put(makeAlbum(3).map((item) => ({ id: item.id, before: null, after: item })));
    const [first, second, third] = library.items as [Item, Item, Item];
    const from = fromPlayer();
    const edits = [first, second].map(({ id }) => ({ item: id, edits: { title: 'There' } }));
    const coming = { edits, lists: [], files: [there('own.flac')] };
    const planned = await from.plan(GIVER, coming, []);
    expect(library.items.every(({ edits: own }) => Object.keys(own).length === 0)).toBe(true);
    const took = await from.take(GIVER, planned, store);
    const titles = () => library.items.map((item) => fieldsOf(item).title);
    expect(titles()).toEqual(['There', 'There', third.file.fields.title, null]);
    library.edit('later', library.findAll([second.id]), { album: 'Mine' });
    expect(await from.giveBack('Attic', took)).toBe(1);
    expect(titles()).toEqual([first.file.fields.title, 'There', third.file.fields.title]);
    library.undo();
    expect(library.items).toHaveLength(4);
  });
});
