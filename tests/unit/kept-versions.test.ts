import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { FIELD_NAMES, chaptersOf, contentHash, fieldsOf, type ChosenPicture } from '../../src/lib/core/items';
import {
  LIBRARY_VERSION,
  migrateHead,
  migrateItem,
  newPlayer,
  readHead,
  readItems,
  type Player,
} from '../../src/lib/core/library';
import { NO_CHOICES, toPlanItem } from '../../src/lib/core/plan';
import { JOURNAL_VERSION, migrateJournal } from '../../src/lib/core/run';
import { outgoingOf } from '../../src/lib/formats';

/* What earlier versions wrote, kept as they wrote it: it must open as long as there is a Lectorum. */

const kept = (name: string) => readFileSync(join(import.meta.dirname, '../kept', name), 'utf8');

describe('a library file', () => {
  test('of version 1 opens: several values, years and edits are what they were', () => {
    expect(readHead(kept('library-1.json'))).toMatchObject({
      version: LIBRARY_VERSION,
      arrivals: [{ origin: 'folder', setAside: 1 }],
      feeds: [],
    });
    const [item] = readItems(kept('items-1.json'));
    if (!item) throw new Error('no item');
    expect(fieldsOf(item)).toMatchObject({
      title: 'Bell',
      artist: ['Orla Venn', 'Dag Holme'],
      genre: ['folk', 'sea choir'],
      date: '2016',
      lyrics: null,
    });
    expect(item).toMatchObject({
      edits: { fields: { genre: ['folk', 'sea choir'] } },
      identity: null,
      gone: null,
    });
  });

  test('of version 13 opens, with what players are made of films by its name of today', () => {
    const films = { container: 'mp4', codec: 'avc', mostHeight: 720, mostBitrate: null };
    const own = { takes: [], twins: null, filmTwins: films };
    const players = [
      { id: 'a', own, filmRecipe: 'r1', targets: [] },
      { id: 'b', own: null, targets: [] },
    ];
    expect(migrateHead({ version: 13, recipes: [], players }).players).toEqual([
      {
        id: 'a',
        own: { takes: [], twins: null, version: 7, videoTwins: films },
        videoRecipe: 'r1',
        targets: [],
      },
      { id: 'b', own: null, targets: [] },
    ]);
  });

  test('of version 14 opens, with recipes that say what those of today say', () => {
    const sound = { codec: 'mp3', music: 128_000, speech: null, mostRate: null, mono: 'never' };
    const video = { container: 'mp4', codec: 'avc', mostHeight: 720, mostBitrate: null };
    const recipes = [sound, video].map((wishes, index) => ({ id: `r${index}`, name: 'Kitchen', wishes }));
    expect(migrateHead({ version: 14, recipes }).recipes.map(({ wishes }) => wishes)).toEqual([
      { ...sound, mostBits: null, variable: false },
      video,
    ]);
    const own = { name: 'Own', takes: [{ kinds: ['song'], most: { bytes: 5 } }], twins: sound };
    const { players } = migrateHead({
      version: 14,
      players: [
        { id: 'a', own, targets: [] },
        { id: 'b', targets: [] },
      ],
    });
    expect(players).toEqual([
      {
        id: 'a',
        targets: [],
        own: {
          name: 'Own',
          version: 7,
          takes: [{ kinds: ['song'], most: { bits: null, bytes: 5 } }],
          twins: { ...sound, mostBits: null, variable: false },
        },
      },
      { id: 'b', targets: [] },
    ]);
  });

  test('of version 15 opens, with its lists in the group of the tree that they mirror', () => {
    const list = { id: 'l', type: 'mirror', name: 'Choral', source: 'wave', folder: 'Choral' };
    const watched = [{ source: 'wave', label: 'Wave', since: 1, choice: {}, rules: [] }];
    const lists = [list, { ...list, id: 'm', source: 'other' }];
    expect(migrateHead({ version: 15, lists, watched }).lists).toEqual([
      { ...list, note: '', group: 'Wave', isDeep: false },
      { ...list, id: 'm', source: 'other', note: '', group: null, isDeep: false },
    ]);
  });

  test('of version 16 opens, with nothing played, and with rulebooks that say nothing of lists', () => {
    const players = [
      { id: 'a', own: { version: 6, beside: [] }, targets: [] },
      { id: 'b', own: null, targets: [] },
    ];
    expect(migrateHead({ version: 16, players })).toMatchObject({
      plays: [],
      marks: [],
      players: [
        { id: 'a', own: { version: 7, beside: [] } },
        { id: 'b', own: null },
      ],
    });
  });

  test('of version 19 opens, with no file of others to be removed from a player', () => {
    const { removes: _, ...choices } = NO_CHOICES;
    const players = [{ id: 'a', targets: [{ id: 'a.device', type: 'device', choices }] }];
    expect(migrateHead({ version: 19, players }).players[0]?.targets[0]?.choices).toEqual(NO_CHOICES);
  });

  test('of version 2 opens, with pictures and chapters in their places', () => {
    const head = readHead(kept('library-2.json'));
    expect(head.watched[0]?.rules[0]?.defaults).toEqual({ genre: ['Reels', 'dance'], date: '2003' });
    const [item] = readItems(kept('items-2.json'));
    if (!item) throw new Error('no item');
    expect(item.file).toMatchObject({
      fields: { date: '2016-04', artist: ['Orla Venn'] },
      pictures: [{ role: 'front', hash: 7 }],
      chapters: [{ startSeconds: 3, endSeconds: null, title: 'Fog', link: null }],
    });
    expect(item.edits).toMatchObject({
      fields: { album: 'Wick', artist: ['Orla Venn', 'Dag Holme'], date: '2017' },
      pictures: { front: { id: 'p1' } },
    });
    expect(chaptersOf(item)).toEqual([{ startSeconds: 0, endSeconds: null, title: 'One', link: null }]);
    expect(item.facts).not.toHaveProperty('pictures');
  });

  test('of version 3 opens: what was kept of a player goes by targets', () => {
    const head = readHead(kept('library-3.json'));
    expect(head.players).toMatchObject([
      {
        id: 'attic',
        rulebook: 'attic',
        targets: [
          { id: 'attic.device', type: 'device', choices: { leftOut: ['other'] } },
          { id: 'attic.folder', choices: NO_CHOICES },
          { id: 'attic.zip', choices: NO_CHOICES },
        ],
      },
    ]);
    expect(head.bases.map(({ target, placed }) => [target, placed.length])).toEqual([['attic.device', 2]]);
    expect(readItems(kept('items-3.json'))[0]?.edits.fields?.genre).toEqual(['Reels', 'dance']);
  });

  test('of version 8 opens, with fields that there were none of', () => {
    const [item] = readItems(kept('items-8.json'));
    if (!item) throw new Error('no item');
    expect(Object.keys(fieldsOf(item)).sort()).toEqual([...FIELD_NAMES].sort());
    expect(fieldsOf(item)).toMatchObject({ genre: ['Reels', 'dance'], comment: null, language: null });
  });

  test.each([4, 5, 6, 7, 8, 9])(
    'of version %i opens, and asks what is to become of what other hands did',
    (version) => {
      const file = kept(`library-${version}.json`);
      const {
        version: _,
        players,
        ...parts
      } = JSON.parse(file) as {
        readonly version: number;
        readonly players: readonly Player[];
        readonly bases: readonly {
          readonly target: string;
          readonly placed: readonly { item: string | null }[];
        }[];
      };
      const asked = players.map((player) => ({
        ...newPlayer(player.id, player.rulebook),
        ...player,
        policy: 'ask',
        targets: player.targets.map((one) => ({ ...one, choices: { ...NO_CHOICES, ...one.choices } })),
      }));
      expect(readHead(file)).toEqual({
        version: LIBRARY_VERSION,
        players: asked,
        views: [],
        presets: [],
        recipes: [],
        references: [],
        plays: [],
        marks: [],
        ...parts,
        bases: parts.bases.map(({ target, placed }) => ({
          target,
          placed: placed.map(({ item, ...file }) => ({ ...file, owner: item && { type: 'item', item } })),
        })),
      });
    },
  );

  test('of version 10 opens: what was given free by its name alone is asked for again', () => {
    const { choices } = readHead(kept('library-10.json')).players[0]?.targets[0] ?? {};
    expect(choices).toEqual({ ...NO_CHOICES, leftOut: ['other'] });
  });

  test('whose files said a month of 00 opens too', () => {
    const [old] = JSON.parse(kept('items-2.json')) as { fileFields: object }[];
    const odd = { ...old, fileFields: { ...old?.fileFields, date: '2016-00-00' } };
    expect(readItems(JSON.stringify([odd]))[0]?.file.fields.date).toBe('2016');
  });

  test('what was noted of an edited copy is known again, so that it is not copied anew', () => {
    const head = readHead(kept('library-2.json'));
    const [item] = readItems(kept('items-2.json'));
    if (!item) throw new Error('no item');
    // The chapters came with the item and were not written before: they alone make the copy another one.
    const { chapters: _, ...without } = item.edits;
    const { outgoingHash } = toPlanItem({ ...item, edits: without }, outgoingOf);
    const [copy, picture] = head.bases[0]?.placed ?? [];
    expect(copy?.signature).toBe(outgoingHash);
    expect(picture?.signature).toBe('chosen:p1');
  });
});

describe('what the browser kept', () => {
  test.each(['1', '2', '3'])(
    'of version %s is taken over as it is, and a second time changes nothing',
    (version) => {
      const head = migrateHead(JSON.parse(kept(`library-${version}.json`)));
      expect(migrateHead(structuredClone(head))).toEqual(head);
      for (const old of JSON.parse(kept(`items-${version}.json`)) as never[]) {
        const item = migrateItem(old);
        expect(migrateItem(structuredClone(item))).toEqual(item);
      }
    },
  );

  test('a journal of version 2 can be resumed: its copies carry the same changes', () => {
    const picture = {
      id: 'p1',
      mime: 'image/jpeg',
      bytes: 9,
      width: 5,
      height: 5,
    } as unknown as ChosenPicture;
    const journal = migrateJournal({
      version: 2,
      id: 'run',
      startedAt: 1,
      endedAt: null,
      state: 'stopped',
      reason: 'unreachable',
      placedBefore: [],
      outcomes: [],
      steps: [
        { type: 'makeFolder', path: 'Music' },
        {
          type: 'copy',
          path: 'Music/a.mp3',
          item: 'x',
          original: { source: 's', path: 'a.mp3', size: 1 },
          format: 'mp3',
          changes: { edits: { artist: 'A; B', year: 1999 }, picture },
          expect: { title: null, artist: 'A; B', year: 1999 },
          replaces: null,
          signature: `x|1|2|${JSON.stringify({ artist: 'A; B', year: 1999 })}|p1`,
        },
      ],
    });
    const changes = { fields: { artist: ['A', 'B'], date: '1999' }, pictures: { front: picture } };
    expect(journal.version).toBe(JOURNAL_VERSION);
    expect(journal.steps[1]).toMatchObject({
      owner: { type: 'item', item: 'x' },
      recipe: {
        type: 'retag',
        format: 'mp3',
        changes,
        expect: { artist: ['A', 'B'], date: '1999', lyrics: null },
      },
      signature: `x|1|2|${contentHash(changes as never)}`,
    });
  });
});
