import { describe, expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import { editItem, type Fields, type Item } from '../../items';
import type { Kind } from '../../kinds';
import { makeAlbum, makeItem } from '../../../../../tests/helpers/items';
import { shelvedKinds } from '../shown/binding';
import { planFor, type PlayerName } from '../../../../../tests/helpers/plans';

const splits = (player: PlayerName, items: readonly Item[]) =>
  planFor(player, items).findings.filter(({ code }) => code === 'splitAlbum');

const part = (kind: Kind, id: string, fields: Partial<Fields>, rest: Partial<Item> = {}): Item =>
  makeItem(id, fields, {
    settled: kind,
    format: 'mp4',
    facts: { durationSeconds: 200, streams: [], tagFormats: [] },
    path: `in/${id}.mp4`,
    ...rest,
  });
const episode = (number: number, show: string, season = 1) =>
  part('episode', `e${season}${number}`, { title: `Part ${number}`, show, season, episode: number });
const cast = (number: number, show: string) =>
  part('podcast', `p${number}`, { title: `Part ${number}`, show, episode: number });

test('kinds that come in parts are shelved where the player groups by what names the whole', () => {
  expect([...shelvedKinds(RULEBOOKS.attic)]).toEqual(['song', 'episode', 'audiobook', 'podcast']);
  expect([...shelvedKinds(RULEBOOKS.galley)]).toEqual(['song', 'audiobook']);
});

describe('shows', () => {
  test.each([
    ['episodes', (no: number, show: string) => episode(no, show), 'attic' as const],
    ['podcasts', cast, 'attic' as const],
    ['podcasts on a phone', cast, 'pocket' as const],
  ])('of %s stand on one shelf however their name is spelled, once that is mended', (_, make, player) => {
    const items = [
      make(1, 'The Ferry Inspector'),
      make(2, 'The Ferry Inspector'),
      make(3, 'ferry inspector'),
      make(4, 'Another Show'),
    ];
    const [split, ...others] = splits(player, items);
    expect(others).toEqual([]);
    expect(split).toMatchObject({
      severity: 'splits',
      words: { album: 'The Ferry Inspector', groups: '2', fields: 'show', found: 'ferry inspector' },
    });
    const odd = items[2] as Item;
    expect(split?.remedy).toEqual({
      type: 'edit',
      changes: [{ item: odd.id, edits: { show: 'The Ferry Inspector' } }],
    });
    const mended = items.map((item) =>
      item === odd ? editItem(item, { show: 'The Ferry Inspector' }) : item,
    );
    expect(splits(player, mended)).toEqual([]);
  });

  test('have several seasons, which are no split', () => {
    expect(
      splits('attic', [episode(1, 'The Ferry Inspector'), episode(1, 'The Ferry Inspector', 2)]),
    ).toEqual([]);
  });
});

describe('players that go by folders', () => {
  const album = () =>
    makeAlbum(4, { genre: ['folk'] }).map((item) => ({
      ...item,
      format: 'mp3' as const,
      path: item.path.replace('.flac', '.mp3'),
      facts: { ...item.facts, tagFormats: ['ID3v2.3'] },
    }));

  test('tear an album apart whose songs are of another genre, and one edit joins it', () => {
    const [odd, ...rest] = album() as readonly Item[] as [Item, ...Item[]];
    const items = [editItem(odd, { genre: ['shanty'] }), ...rest];
    expect(splits('galley', items)).toMatchObject([
      {
        words: { groups: '2', rest: '3', fields: 'genre', found: 'shanty' },
        remedy: { type: 'edit', changes: [{ item: odd.id, edits: { genre: ['folk'] } }] },
      },
    ]);
    expect(splits('galley', [odd, ...rest])).toEqual([]);
    // Attic does not mind.
    expect(splits('attic', items)).toEqual([]);
  });
});

test.each(['galley', 'attic', 'pocket'] as const)(
  'a compilation that %s would tear apart is told, and one edit joins it',
  (player) => {
    const items = ['Orla Venn', 'Dag Holme', 'Marra Quill'].map((artist, index) => ({
      ...makeItem(
        `c${index}`,
        { title: `Song ${index}`, album: 'Harbour Songs', artist: [artist], genre: ['folk'], date: '2020' },
        { settled: 'song' as const, format: 'mp3' as const, path: `in/${index}.mp3` },
      ),
    }));
    const [split, ...others] = splits(player, items);
    expect(others).toEqual([]);
    expect(split).toMatchObject({ severity: 'splits', words: { groups: '3' }, remedy: { type: 'edit' } });
    const { changes = [] } = split?.remedy?.type === 'edit' ? split.remedy : {};
    const mended = items.map((item) => {
      const own = changes.find((change) => change.item === item.id);
      return own ? editItem(item, own.edits) : item;
    });
    expect(splits(player, mended)).toEqual([]);
  },
);

test('what stands for itself is never torn apart: films and videos of one maker', () => {
  const film = (id: string) => part('film', id, { title: id, date: '2020', artist: ['Orla Venn'] });
  expect(splits('attic', [film('Ebb'), film('Flood')])).toEqual([]);
});
