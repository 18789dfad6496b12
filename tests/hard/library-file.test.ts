import { zipSync } from 'fflate';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import { LEVELS, LiveRows, Tally } from '../../src/lib/core/browse';
import {
  EMPTY_PARTS,
  LIBRARY_VERSION,
  readHead,
  readItems,
  type HeadParts,
  newPlayer,
  targetId,
  type PlayerId,
} from '../../src/lib/core/library';
import { gather, toGatherItem } from '../../src/lib/core/identify';
import type { ArrivalId, Item, ItemId, PictureId, SourceId } from '../../src/lib/core/items';
import { NO_CHOICES, planRun } from '../../src/lib/core/plan';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { Library } from '../../src/lib/state/library.svelte';
import { exportLibrary, importLibrary } from '../../src/lib/state/library-file';
import { LibraryFileClient } from '../../src/lib/workers/library-file-client';
import { serveLibraryFiles } from '../../src/lib/workers/library-file-service';
import { channel } from '../helpers/channel';
import { databases, refuseAfter } from '../helpers/fake-forage';
import { makeAlbum, makeItem, planItem } from '../helpers/items';
import { TRIAL_TIME, seeded, sized, tell } from './size';

vi.mock('localforage', () => import('../helpers/fake-forage'));
beforeEach(() => {
  databases.clear();
  refuseAfter(null);
});

const JPEG = Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 1, 2, 3, 4);
const picture = { id: 'p1' as PictureId, mime: 'image/jpeg', bytes: 8, width: 9, height: 9 };

/** One of every record that a library keeps. */
const HEAD = {
  ...EMPTY_PARTS,
  version: LIBRARY_VERSION,
  chunks: 1,
  sources: [{ id: 's', type: 'folder', label: 'Music' }],
  arrivals: [
    {
      id: 'a',
      source: 's',
      origin: 'folder',
      label: 'Music',
      at: 1,
      unread: [{ path: 'x.mp3', code: 'empty', detail: '' }],
      setAside: 2,
    },
  ],
  players: [
    {
      ...newPlayer('attic' as PlayerId, 'attic'),
      name: 'Loft',
      own: RULEBOOKS.galley,
      selection: { kinds: ['song'], text: 'ebb', with: ['song-1'], order: ['song'] },
      bySelf: true,
      policy: 'both',
      targets: [
        {
          id: 'attic.device',
          type: 'device',
          choices: {
            ...NO_CHOICES,
            replace: [{ path: 'Music/c.mp3', was: { size: 4, digest: 'e' } }],
            leftOut: ['song-2'],
            renames: [{ path: 'a', was: { size: 5, digest: 'f' }, to: 'b' }],
            removes: [{ path: 'c', was: { size: 5, digest: 'f' } }],
            sides: [{ path: 'Music/a/b.mp3', was: { size: 3, digest: 'd' }, side: 'there' }],
          },
        },
      ],
    },
  ],
  bases: [
    {
      target: 'attic.device',
      placed: [
        {
          path: 'Music/a/b.mp3',
          owner: { type: 'item', item: 'song-1' },
          signature: 'x',
          size: 3,
          digest: 'd',
          kept: true,
        },
        {
          path: 'Music/a/c.mp3',
          owner: { type: 'item', item: 'song-2' },
          signature: 'y',
          size: 4,
          digest: 'e',
          gone: true,
        },
        {
          path: 'Music/a/sleeve.jpg',
          owner: { type: 'shelf', folder: 'Music/a' },
          signature: 'z',
          size: 5,
          digest: 'f',
          theirs: true,
        },
      ],
    },
  ],
  folderKinds: [{ source: 's', folder: 'a', kind: 'song', by: 'rule' }],
  feeds: [
    {
      id: 'f',
      address: null,
      title: 'Slack Water',
      maker: null,
      description: 'd',
      pictureUrl: null,
      checkedAt: 1,
      episodes: [
        {
          guid: 'g',
          title: 't',
          season: 1,
          number: 2,
          date: '2020-01-01',
          description: null,
          people: ['x'],
          url: 'u',
          bytes: 3,
          extension: 'mp3',
          chaptersUrl: null,
          transcriptUrl: null,
          pictureUrl: null,
        },
      ],
      warnings: [{ code: 'cutOff', count: 1 }],
      fetched: ['g'],
      passed: [],
    },
  ],
  watched: [
    {
      source: 's',
      label: 'w',
      since: 1,
      choice: { kind: null, genreFromFolder: true },
      rules: [{ folder: '', kind: 'song', defaults: { genre: ['x'] } }],
    },
  ],
  lists: [
    { id: 'l', type: 'mirror', name: 'n', note: '', group: 'W', source: 's', folder: '', isDeep: true },
    {
      ...{ id: 'h', type: 'hand', name: 'n', note: 'calm', group: null, allowsDoubles: false },
      suites: [
        { name: 'On deck', entries: [{ item: 'a1' }, { item: 'gone' }] },
        { name: null, entries: [{ open: { path: '../x.mp3', title: null, artist: 'A', seconds: 9.5 } }] },
      ],
    },
    {
      ...{ id: 'r', type: 'rule', name: 'n', note: '', group: null, query: 'genre is folk' },
      order: { type: 'terms', terms: [{ by: 'added', down: true }] },
      limit: { by: 'seconds', most: 7200 },
      dropped: ['a2'],
    },
    {
      ...{ id: 'q', type: 'rule', name: 'n', note: '', group: null, query: '', limit: null, dropped: [] },
      order: { type: 'shuffled', seed: 7 },
    },
  ],
  views: [{ id: 'v', name: 'n', scope: { kind: 'song', text: 'no genre' }, levels: ['genre', 'decade'] }],
} as unknown as HeadParts & { version: number; chunks: number };

const ITEMS: readonly Item[] = [
  ...makeAlbum(3),
  makeItem(
    'full',
    { title: 'T', artist: ['A'], album: 'B', track: 1, date: '1999', compilation: true },
    {
      edits: {
        fields: { title: 'U', compilation: null, date: '2020-05', genre: ['a', 'b'] },
        pictures: { front: picture },
        chapters: [{ startSeconds: 1, endSeconds: 2, title: 'c', link: 'https://x.example/' }],
        timed: [{ startSeconds: 1, text: 'a b', words: [{ startSeconds: 1.5, text: 'a b' }] }],
      },
      identity: { type: 'matched', release: 'r', entry: 'e', source: 'x', title: 't', at: 1 },
      gathering: 'g',
      gone: 5,
      beside: ['a/b.slip'],
      native: [{ format: 'ID3v2.3', id: 'TIT2', value: 'T' }],
      guess: {
        kind: 'song',
        certainty: 'likely',
        points: 5,
        next: null,
        nextPoints: 0,
        evidence: [{ code: 'chapters', detail: '3', points: 3 }],
      },
    },
  ),
];

const WRONG: readonly unknown[] = [
  null,
  5,
  -1,
  Infinity,
  'nonsense',
  '',
  '../x',
  true,
  [],
  {},
  [null],
  { a: 1 },
  '\ud800',
  1.5,
  ['x'],
  { type: 'x' },
];

/** Every place in some JSON, as keys from the outside in. */
function placesIn(
  value: unknown,
  at: readonly (string | number)[] = [],
): readonly (readonly (string | number)[])[] {
  if (typeof value !== 'object' || value === null) return [at];
  return [at, ...Object.entries(value).flatMap(([key, inner]) => placesIn(inner, [...at, key]))];
}

function withValue(value: unknown, [key, ...rest]: readonly (string | number)[], wrong: unknown): unknown {
  if (key === undefined) return wrong;
  const copy = Array.isArray(value) ? [...value] : { ...(value as object) };
  (copy as Record<string | number, unknown>)[key] = withValue(
    (value as Record<string | number, unknown>)[key],
    rest,
    wrong,
  );
  return copy;
}

/** What the application does with a library at once, whatever is in it. */
function live(parts: HeadParts, items: readonly Item[]): void {
  for (const { target, policy } of parts.players.flatMap((one) =>
    one.targets.map((target) => ({ target, policy: one.policy })),
  )) {
    const { id, choices } = target;
    const placed = parts.bases.find((base) => base.target === id)?.placed ?? [];
    const there = placed.map(({ path, size, digest }) => ({ path, size, digest }));
    planRun({
      items: items.map(planItem),
      rulebook: RULEBOOKS.attic,
      there,
      placed,
      choices,
      policy,
      token: 't',
    });
  }
  planRun({
    items: items.map(planItem),
    rulebook: RULEBOOKS.attic,
    there: [],
    placed: [],
    choices: NO_CHOICES,
    policy: 'leads',
    token: 't',
  });
  gather(items.map(toGatherItem));
  new Tally(() => 0).change(items.map((after) => ({ before: null, after })));
  for (const text of ['x', '']) {
    const rows = new LiveRows();
    const query = { scope: { kind: null, text }, levels: LEVELS, arrivals: parts.arrivals };
    for (const _ of rows.build(items, query)) void _;
    rows.rows(new Set());
  }
}

test('the library file that trials begin with is one that opens', () => {
  expect(readHead(JSON.stringify(HEAD))).toEqual(HEAD);
  expect(readItems(JSON.stringify(ITEMS))).toEqual(ITEMS);
});

test(
  'a wrong value anywhere in a library file is refused by name, or does no harm',
  { timeout: TRIAL_TIME },
  () => {
    const random = seeded(37);
    const count = sized(2500, 600);
    let refused = 0;
    for (let index = 0; index < count; index++) {
      const isHead = random() < 0.5;
      const whole: unknown = isHead ? HEAD : ITEMS;
      const places = placesIn(whole);
      const place = places[Math.floor(random() * places.length)] as (string | number)[];
      const wrong = WRONG[Math.floor(random() * WRONG.length)];
      // JSON has no word for what is beyond its numbers, but reads one as such.
      const text = JSON.stringify(withValue(whole, place, wrong === Infinity ? '@' : wrong)).replace(
        '"@"',
        '1e400',
      );
      try {
        let head: HeadParts = HEAD;
        let items = ITEMS;
        try {
          if (isHead) head = readHead(text);
          else items = readItems(text);
        } catch (error) {
          if (!['LibraryFileError', 'RangeError'].includes((error as Error).name)) throw error;
          refused++;
          continue;
        }
        live(head, items);
      } catch (error) {
        if (error instanceof Error)
          error.message = `${place.join('.')} = ${JSON.stringify(wrong)}: ${error.message}`;
        throw error;
      }
    }
    expect(refused).toBeGreaterThan(count / 2);
    tell('wrong values in library files', { values: count, refused, failures: 0 });
  },
);

async function madeLibrary(): Promise<Library> {
  const library = new Library('made');
  await library.merge('x', HEAD, ITEMS);
  await library.storage.pictures.keep(picture.id, new Blob([JPEG]));
  await library.flush();
  return library;
}
const readIn = (library: Library, file: Blob) =>
  importLibrary(
    library,
    new File([file], 'x.zip'),
    undefined,
    new LibraryFileClient(() => channel(serveLibraryFiles)),
  );
const contentOf = (library: Library) => JSON.stringify([library.headParts(), library.items]);

test('a file with a bit turned never comes in wrong', { timeout: TRIAL_TIME }, async () => {
  const made = await madeLibrary();
  const bytes = new Uint8Array(await (await exportLibrary(made)).arrayBuffer());
  const whole = new Library('whole');
  await readIn(whole, new Blob([bytes]));
  const wanted = contentOf(whole);
  const random = seeded(41);
  const count = sized(2000, 120);
  let same = 0;
  for (let index = 0; index < count; index++) {
    const turned = bytes.slice();
    const at = Math.floor(random() * turned.length);
    turned[at] = (turned[at] as number) ^ (1 << Math.floor(random() * 8));
    const library = new Library(`turned-${index}`);
    const outcome = await readIn(library, new Blob([turned])).then(
      () => 'read',
      () => 'refused',
    );
    const kept = await (await library.storage.pictures.find(picture.id))?.arrayBuffer();
    if (outcome === 'read') {
      same++;
      // A bit of a date or a name that nothing reads may turn unseen.
      expect(contentOf(library)).toBe(wanted);
      if (kept) expect(new Uint8Array(kept)).toEqual(JPEG);
    } else {
      expect(library.items).toEqual([]);
      expect(kept).toBeUndefined();
    }
  }
  tell('library files with a bit turned', { files: count, 'same all the same': same, failures: 0 });
});

describe('files that would fill the memory', () => {
  const head = (chunks: number) => new TextEncoder().encode(JSON.stringify({ ...HEAD, chunks }));
  test.each([
    [
      'items of 80 MB',
      () => zipSync({ 'library.json': head(1), 'items/0000.json': new Uint8Array(80e6).fill(0x20) }),
    ],
    ['a head of 80 MB', () => zipSync({ 'library.json': new Uint8Array(80e6).fill(0x20) })],
    [
      'items that unfold a thousand times',
      () => zipSync({ 'library.json': head(1), 'items/0000.json': new Uint8Array(40e6).fill(0x20) }),
    ],
    ['a picture of 40 MB', () => zipSync({ 'library.json': head(0), 'pictures/x': new Uint8Array(40e6) })],
  ])('%s are refused before they are unfolded', { timeout: TRIAL_TIME }, async (_what, make) => {
    const file = new Blob([make()]);
    const before = process.resourceUsage().maxRSS;
    await expect(readIn(new Library('bomb'), file)).rejects.toThrow(/more than a part may|times its size/);
    expect((process.resourceUsage().maxRSS - before) * 1024).toBeLessThan(100e6);
  });
});

test('a browser that runs full in the middle keeps nothing of it', { timeout: TRIAL_TIME }, async () => {
  const bytes = await exportLibrary(await madeLibrary());
  for (let writes = 0; writes < 6; writes++) {
    databases.clear();
    const library = new Library('full');
    library.put(
      makeAlbum(1).map((item) => ({
        id: 'own' as ItemId,
        before: null,
        after: { ...item, id: 'own' as ItemId },
      })),
    );
    library.addSource({ id: 'own' as SourceId, type: 'kept', label: 'own' });
    await library.flush();
    const before = contentOf(library);
    const { history } = library;
    refuseAfter(writes);
    const outcome = await readIn(library, bytes).then(
      () => 'read',
      () => 'refused',
    );
    refuseAfter(null);
    await library.flush();
    if (outcome === 'read') continue;
    expect(contentOf(library)).toBe(before);
    expect(library.history).toBe(history);
    expect(await library.storage.pictures.find(picture.id)).toBeNull();
    const again = new Library('full');
    await again.load();
    // What is said of an item is kept apart from it: the order of its parts says nothing.
    expect(JSON.parse(contentOf(again))).toEqual(JSON.parse(before));
  }
});

test('undoing a reading-in gives back all that it changed, and keeps what came since', async () => {
  const bytes = await exportLibrary(await madeLibrary());
  const library = new Library('mine');
  const own = { id: 's' as SourceId, type: 'kept' as const, label: 'mine, before' };
  library.addSource(own);
  await library.flush();
  await readIn(library, bytes);
  expect(library.sources).toEqual([HEAD.sources[0]]);
  const attic = 'attic' as PlayerId;
  const { targets } = library.playerOf(attic, 'attic');
  expect(targets.map(({ choices }) => choices)).toEqual([
    { ...NO_CHOICES, leftOut: ['song-2'] },
    NO_CHOICES,
    NO_CHOICES,
  ]);
  // What a file says of a player is a claim: nothing is done by itself for it.
  expect(library.playerOf(attic, 'attic')).toMatchObject({
    policy: 'ask',
    bySelf: false,
    name: 'Loft',
    own: RULEBOOKS.galley,
    selection: { text: 'ebb' },
  });
  expect(library.baseOf(targetId(attic, 'device'))).toHaveLength(HEAD.bases[0]?.placed.length ?? 0);
  const later = { ...HEAD.arrivals[0], id: 'later' as ArrivalId } as HeadParts['arrivals'][number];
  library.addArrival(later);
  expect(library.undo()?.label).toBe('Read in x.zip');
  expect(library.items).toEqual([]);
  expect(library.headParts()).toEqual({ ...EMPTY_PARTS, sources: [own], arrivals: [later] });
  library.redo();
  expect(library.items).toHaveLength(ITEMS.length);
  expect(library.feeds).toEqual(HEAD.feeds);
});
