import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem, planItem } from '../../../../tests/helpers/items';
import { RULEBOOKS } from '$lib/rulebooks';
import { editItem, fieldsOf, type FieldName, type FormatId, type Item, type SourceId } from '../items';
import type { Kind } from '../kinds';
import type { Rulebook } from '../rulebooks';
import type { Plan } from './plan';
import { planRun } from './plan-run';
import type { ShownNode } from './shown/showing';
import { NO_CHOICES } from './choices';
import type { Finding, Remedy } from './findings/finding';

/*
 * A law of remedies: pressing the button of a finding mends just that, writes nothing that its evidence does not say, and
 * makes no other finding worse.
 */

const FORMATS: Readonly<Partial<Record<Kind, FormatId>>> = { musicVideo: 'mp4', episode: 'mp4' };
const ENDINGS: Readonly<Record<string, string>> = { mp3: 'mp3', mp4: 'mp4' };

const name = fc.constantFrom('Orla Venn', 'Orla  Venn', 'orla venn', 'Tidewrack', 'Marra Quill');
const said = fc.record({
  title: fc.option(fc.constantFrom('Ebb', 'Flood', 'Slack'), { freq: 8 }),
  artist: fc.option(fc.uniqueArray(name, { minLength: 1, maxLength: 2 }), { freq: 6 }),
  albumArtist: fc.option(name),
  album: fc.option(fc.constantFrom('Salt Ledger', 'Salt  Ledger', 'Low Water'), { freq: 4 }),
  date: fc.option(fc.constantFrom('2019', '2019-05-04', '2001')),
  track: fc.option(fc.nat(9)),
  genre: fc.option(fc.constantFrom(['folk'], ['shanty'])),
  compilation: fc.option(fc.constant(true), { freq: 1 }),
  show: fc.option(fc.constantFrom('The Ferry Inspector', 'ferry inspector', 'Tide Talk')),
});
const kinds = fc.constantFrom<Kind>('song', 'song', 'song', 'audiobook', 'musicVideo', 'episode', 'podcast');

const house = fc
  .array(fc.tuple(kinds, said, fc.nat(2), fc.nat(1), fc.boolean()), { minLength: 1, maxLength: 12 })
  .map((list) =>
    list.map(([kind, fields, folder, root, locked], index): Item => {
      const format = FORMATS[kind] ?? 'mp3';
      // No title is there twice: what is filled in or joined would rightly tell that it is.
      const title = fields.title && `${fields.title} ${index}`;
      const item = makeItem(
        `i${index}`,
        { ...fields, title },
        {
          settled: kind,
          format,
          source: `root ${root}` as SourceId,
          path: `in ${folder}/${index} x.${ENDINGS[format]}`,
          size: 1000 + index,
        },
      );
      const codec = format === 'mp4' ? 'mp4a' : format;
      const streams = item.facts.streams.map((stream) => ({ ...stream, codec }));
      const facts = { ...item.facts, streams, tagFormats: ['ID3v2.4'], durationSeconds: 200 };
      return { ...item, facts: locked && index % 3 === 0 ? { ...facts, locked: 'foreignTags' } : facts };
    }),
  );

const plan = (items: readonly Item[], rulebook: Rulebook): Plan =>
  planRun({
    items: items.map(planItem),
    rulebook,
    there: [],
    placed: [],
    choices: NO_CHOICES,
    policy: 'leads',
    token: 't',
  });

type Edit = Extract<Remedy, { type: 'edit' }>;

const apply = (items: readonly Item[], { changes }: Edit): readonly Item[] =>
  items.map((item) =>
    changes.reduce((own, one) => (one.item === item.id ? editItem(own, one.edits) : own), item),
  );

/** How much is wrong: items that do not go, shelves that are torn, fields that are missing. */
function wrong({ findings, held }: Plan) {
  const of = (code: Finding['code']) => findings.filter((one) => one.code === code);
  return {
    held: held.length,
    torn: of('splitAlbum').reduce((sum, { items }) => sum + items.length, 0),
    missing: new Set([...of('missingField'), ...of('unknownItem')].flatMap(({ items }) => items)).size,
    refused: of('formatRefused').length + of('needsTwin').length,
  };
}

/** The shelf on which the player shows each item: of an episode its show, of all else what holds it. */
function shelves({ showing }: Plan): ReadonlyMap<string, string> {
  const shelf = new Map<string, string>();
  const walk = (nodes: readonly ShownNode[], above: readonly string[]): void => {
    for (const { item, key, kind, nodes: below } of nodes) {
      if (item !== null) shelf.set(item, (kind === 'episode' ? above[0] : above.at(-1)) ?? key);
      walk(below, [...above, key]);
    }
  };
  walk(showing.nodes, []);
  return shelf;
}

/** Fields whose value a remedy may put in the place of another one: those that name what belongs together. */
const NAMES_WHOLES: ReadonlySet<FieldName> = new Set([
  'album',
  'albumArtist',
  'date',
  'genre',
  'show',
  'compilation',
]);

describe.each(Object.values(RULEBOOKS))('remedies for $name', (rulebook) => {
  test('mend what they are offered for, and nothing gets worse', () => {
    fc.assert(
      fc.property(house, (items) => {
        const before = plan(items, rulebook);
        for (const finding of before.findings) {
          const { remedy, code, id } = finding;
          if (remedy?.type !== 'edit') continue;
          const told = `${code} ${id}`;
          const mended = apply(items, remedy);
          const after = plan(mended, rulebook);
          const [was, is] = [wrong(before), wrong(after)];
          expect([told, is.held <= was.held]).toEqual([told, true]);
          expect([told, is.missing <= was.missing]).toEqual([told, true]);
          if (code === 'splitAlbum') expect([told, is.torn < was.torn]).toEqual([told, true]);
          for (const { item, edits } of remedy.changes) {
            const own = items.find((one) => one.id === item) as Item;
            for (const field of Object.keys(edits) as FieldName[])
              if (fieldsOf(own)[field] !== null)
                expect([told, field, NAMES_WHOLES.has(field)]).toEqual([told, field, true]);
          }
          if (code !== 'splitAlbum') continue;
          // What was joined stands on one shelf with somebody else.
          const shelf = shelves(after);
          for (const { item } of remedy.changes) {
            const own = shelf.get(item);
            const beside = [...shelf].filter(([other, key]) => other !== item && key === own);
            expect([told, item, beside.length > 0]).toEqual([told, item, true]);
          }
        }
      }),
      { numRuns: 300 },
    );
  });
});

const song = (id: string, fields: Parameters<typeof makeItem>[1], rest: Partial<Item> = {}) => {
  const item = makeItem(id, fields, { settled: 'song', format: 'mp3', path: `in/${id}.mp3`, ...rest });
  return { ...item, facts: { ...item.facts, tagFormats: ['ID3v2.4'] } };
};
const edits = (items: readonly Item[], player: keyof typeof RULEBOOKS, code: Finding['code']) =>
  plan(items, RULEBOOKS[player]).findings.flatMap((one) =>
    one.code === code && one.remedy?.type === 'edit' ? one.remedy.changes.map((change) => change.edits) : [],
  );

describe('what a remedy may say', () => {
  const full = {
    title: 'Ebb',
    artist: ['Orla Venn'],
    albumArtist: 'Orla Venn',
    album: 'Salt Ledger',
    date: '2019',
    track: 1,
  };

  test('nothing of another root, though its folder is called the same', () => {
    const untagged = song('a', { title: 'Flood' }, { source: 'one' as SourceId });
    const tagged = song('b', full, { source: 'two' as SourceId });
    expect(edits([untagged, tagged], 'attic', 'missingField').flatMap(Object.keys)).not.toContain('album');
  });

  test('nothing of a video by another artist beside it', () => {
    const video = (id: string, fields: Partial<typeof full>) =>
      makeItem(id, fields, { settled: 'musicVideo', format: 'mp4', path: `in/${id}.mp4` });
    const items = [video('a', { title: 'Flood', artist: ['Marra Quill'] }), video('b', full)];
    expect(edits(items, 'attic', 'missingField')).toEqual([]);
  });

  test('nothing that neighbours do not agree on', () => {
    const mixed = [
      song('a', full),
      song('b', { ...full, title: 'Slack', album: 'Low Water' }),
      song('c', { title: 'Flood', artist: ['Orla Venn'] }),
    ];
    expect(edits(mixed, 'attic', 'missingField').flatMap(Object.keys)).not.toContain('album');
  });

  test('never who plays, though the player makes folders of that', () => {
    const book = (id: string, author: string) => ({
      ...song(id, { title: id, artist: [author], album: 'The Salt Road', track: 1 }),
      settled: 'audiobook' as const,
    });
    const items = [book('a', 'Orla Venn'), book('b', 'Orla Venn'), book('c', 'Marra Quill')];
    expect(edits(items, 'galley', 'splitAlbum')).toEqual([]);
  });

  test('the field that parts them, and no other', () => {
    const own = { ...full, albumArtist: null, genre: ['folk'] };
    const items = [
      song('a', own),
      song('b', { ...own, title: 'Slack', track: 2 }),
      song('c', { ...own, title: 'Flood', track: 3, genre: ['shanty'] }),
    ];
    expect(edits(items, 'galley', 'splitAlbum')).toEqual([{ genre: ['folk'] }]);
  });

  test('of as many, the spelling without a blank too many', () => {
    const items = [
      song('a', { ...full, albumArtist: 'Orla  Venn' }),
      song('b', { ...full, title: 'Slack', track: 2 }),
    ];
    expect(edits(items, 'attic', 'splitAlbum')).toEqual([{ albumArtist: 'Orla Venn' }]);
  });

  test('nothing that gives two of them one name', () => {
    const items = [
      song('a', full),
      song('b', { ...full, title: 'Slack', track: 2 }),
      song('c', { ...full, albumArtist: 'Orla  Venn' }),
      song('d', { ...full, title: 'Flood', track: 3, albumArtist: 'Orla  Venn' }),
      song('e', { ...full, title: 'Neap', track: 4 }),
    ];
    const found = plan(items, RULEBOOKS.attic).findings.find(({ code }) => code === 'splitAlbum');
    expect(found?.remedy).toMatchObject({ changes: [{ item: 'd' }] });
  });

  test('nothing where as many say one thing as another', () => {
    const items = [song('a', full), song('b', { ...full, title: 'Slack', track: 2, date: '2001' })];
    expect(edits(items, 'attic', 'splitAlbum')).toEqual([]);
    const [split] = plan(items, RULEBOOKS.attic).findings.filter(({ code }) => code === 'splitAlbum');
    expect(split).toMatchObject({ words: { fields: 'date' }, remedy: { type: 'describe' } });
  });
});
