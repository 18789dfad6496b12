import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem, planItem } from '../../../../../tests/helpers/items';
import { NARROW } from '../../../../../tests/helpers/narrow-rulebook';
import { editContent, type Fields, type FormatId, type Item, type PictureId } from '../../items';
import { isOf } from '../../naming';
import { NO_CHOICES } from '../choices';
import { LivePlan } from '../live-plan';
import { ItemPlan } from '../outgoing/item-plan';
import { planRun } from '../plan-run';

const song = (id: string, fields: Partial<Fields> = {}, rest: Partial<Item> = {}): Item =>
  makeItem(
    id,
    { title: id, album: 'Ebb', artist: ['Orla Venn'], genre: ['folk'], ...fields },
    { format: 'mp3', path: `in/${id}.mp3`, ...rest },
  );

function plan(items: readonly Item[]) {
  const input = { items: items.map(planItem), rulebook: NARROW, there: [], placed: [] };
  return planRun({ ...input, choices: NO_CHOICES, policy: 'leads', token: 't' });
}
const codes = (items: readonly Item[]) => plan(items).findings.map(({ code }) => code);
const pictureOf = ({ file }: Item) => file.pictures[0]!;
const said = (item: Item) => new ItemPlan(planItem(item), NARROW);

describe('a player that takes few letters', () => {
  test.each([
    ['Straße', 'Strasse'],
    ['Łódź', 'Lodz'],
    ['Свет', 'Svet'],
    ['½ left', '1-2 left'],
    ['潮', '_'],
    ['Rain & Salt!', 'Rain & Salt_'],
  ])('%s goes out as %s', (title, name) => {
    expect(plan([song('x', { title })]).paths[0]?.path).toBe(`folk/Orla Venn - Ebb/${name}.mp3`);
  });

  test('no name ever has another letter, nor is longer than it takes', () => {
    const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 });
    fc.assert(
      fc.property(text, text, text, (title, album, artist) => {
        const { steps, findings } = plan([song('x', { title, album, artist: [artist] })]);
        const isShort = findings.every(({ code }) => code !== 'nameTooLong');
        for (const { path } of steps) {
          const parts = path.split('/');
          expect(isOf(path, 'ascii')).toBe(true);
          for (const letter of parts.join('')) expect(NARROW.disk.allowed).toContain(letter);
          const stems = [...parts.slice(0, -1), parts.at(-1)?.replace(/\.[^.]*$/, '') ?? ''];
          if (isShort) for (const stem of stems) expect(stem.length).toBeLessThanOrEqual(40);
        }
      }),
      { seed: 26, numRuns: 300 },
    );
  });

  test('a name that is too long is shortened on demand, and keeps what tells it from another', () => {
    const long = 'Nine lamps along the harbour wall before the tide';
    const items = [song('a', { title: long, track: 1 }), song('b', { title: long, track: 1 })];
    const choices = {
      ...NO_CHOICES,
      shorten: items.map(({ id }) => id),
      suffixes: items.slice(1).map(({ id }) => ({ item: id, text: ' (2)' })),
    };
    const live = new LivePlan(NARROW);
    live.see([], { placed: [], choices, policy: 'leads' });
    live.change(items.map(planItem), []);
    expect(live.paths().map(({ path }) => path.split('/').at(-1))).toEqual([
      '01 Nine lamps along the harbour wall bef.mp3',
      '01 Nine lamps along the harbour wall (2).mp3',
    ]);
  });

  test('of several names that are too long, the longest and its limit are told, in whatever order they came', () => {
    const items = [song('a', { title: 'x'.repeat(60) }), song('b', { title: 'y'.repeat(300) })].map(planItem);
    const told = (first: number) => {
      const live = new LivePlan(NARROW);
      live.see([], { placed: [], choices: NO_CHOICES, policy: 'leads' });
      live.change(items, []);
      live.digest();
      live.change([], [items[first]!.id]);
      live.digest();
      live.change([items[first]!], []);
      return live.findings(null, 0, 9).find(({ code }) => code === 'nameTooLong')?.words;
    };
    expect(told(0)).toMatchObject({ length: '304', limit: '255' });
    expect(told(1)).toEqual(told(0));
  });

  test('an ending that is too long becomes a shorter one of its format, where there is one', () => {
    expect(said(song('x', {}, { format: 'aiff', path: 'in/x.aiff' })).extension).toBe('aif');
    expect(said(song('x', {}, { format: 'opus', path: 'in/x.opus' })).extension).toBe('ogg');
    expect(said(song('x', {}, { format: 'flac', path: 'in/x.flac' })).extension).toBe('flac');
  });
});

describe('a player that takes few files', () => {
  test('what comes first into a folder stays, and the others are held back by name', () => {
    // Four files, one of them the picture of the folder.
    const items = ['a', 'b', 'c', 'd', 'e'].map((id, at) => song(id, { track: at + 1 }));
    const made = plan(items);
    expect(made.paths.map(({ item }) => item)).toEqual(['a', 'b', 'c']);
    expect(made.findings.find(({ code }) => code === 'folderFull')?.items).toEqual(['d', 'e']);
    // One that leaves makes room for the next.
    expect(plan(items.slice(1)).paths.map(({ item }) => item)).toEqual(['b', 'c', 'd']);
  });

  test('of all files no more come than it takes', () => {
    const items = Array.from({ length: 9 }, (_, at) => song(`s${at}`, { album: `Album ${at}` }));
    const made = plan(items);
    const files = made.steps.filter(({ type }) => type !== 'makeFolder');
    expect(files.length).toBeLessThanOrEqual(14);
    expect(made.findings.some(({ code }) => code === 'noRoom')).toBe(true);
  });
});

describe('a player that plays files as they are written', () => {
  test('they are written in the order of their names, numbers by their value', () => {
    const items = [11, 2, 1].map((track) => song(`t${track}`, { track }));
    const copies = plan(items).steps.flatMap(({ type, path }) => (type === 'copy' ? [path] : []));
    expect(copies.map((path) => path.split('/').at(-1))).toEqual(['01 t1.mp3', '02 t2.mp3', '11 t11.mp3']);
  });

  test('what comes later than what should follow it is told', () => {
    const items = [song('b', { track: 2 }), song('a', { track: 1 }), song('c', { track: 3 })];
    const [last] = items as [Item];
    const path = 'folk/Orla Venn - Ebb/02 b.mp3';
    const placed = [
      {
        path,
        size: 5,
        digest: null,
        owner: { type: 'item' as const, item: last.id },
        signature: said(last).signature,
      },
    ];
    const live = new LivePlan(NARROW);
    live.see([{ path, size: 5, digest: null }], { placed, choices: NO_CHOICES, policy: 'leads' });
    live.change(items.map(planItem), []);
    const late = live.whole('t').findings.find(({ code }) => code === 'writtenLate');
    expect(late?.items).toEqual(['a']);
  });
});

test('names that a player shows alike are told', () => {
  const items = [song('a', { title: 'Nine Lamps' }), song('b', { title: 'Nine Lamentations' })];
  expect(codes(items)).toContain('shownAlike');
  expect(codes([song('a', { title: 'Nine' }), song('b', { title: 'Ten' })])).not.toContain('shownAlike');
});

describe('tags that a player reads', () => {
  test('texts are written in its letters, and that is what it shows', () => {
    const { recipe, copyFields, signature } = said(song('x', { title: 'Łódź', comment: 'so–so', track: 3 }));
    expect(copyFields).toMatchObject({ title: 'Lódz', comment: 'so-so', track: 3 });
    expect(recipe).toMatchObject({
      type: 'retag',
      encoding: 'latin1',
      changes: { fields: { title: 'Lódz', album: 'Ebb', track: 3 } },
      expect: { title: 'Lódz' },
    });
    expect(signature).toContain('latin1');
    // What Latin-1 has stays as it is.
    expect(said(song('x', { title: 'Straße' })).copyFields.title).toBe('Straße');
  });

  const smaller = (item: Item) => {
    const { recipe } = said(item);
    return recipe.type === 'retag' ? (recipe.smaller ?? null) : null;
  };

  test('pictures that its format does not write are no work', () => {
    const pictures = (['back', 'front'] as const).map((role) => ({ ...pictureOf(song('x')), role }));
    const own = (format: FormatId, tags: string) => {
      const { file, facts } = song('x');
      const item = { format, file: { ...file, pictures }, facts: { ...facts, tagFormats: [tags] } };
      return smaller(song('x', {}, item))?.own.map(({ role }) => role);
    };
    expect(own('mp3', 'ID3v2.3')).toEqual(['back', 'front']);
    expect(own('matroska', 'Matroska')).toEqual(['front']);
    expect(own('matroska', 'WebM')).toBeUndefined();
  });

  test('pictures that pass its limits are named, those of its own and chosen ones', () => {
    const plain = song('x');
    const limits = { pixels: 400, bytes: 8000 };
    expect(smaller(plain)).toEqual({ limits, own: [{ index: 0, role: 'front' }], chosen: [] });
    const picture = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 7000, width: 300, height: 300 };
    expect(smaller(editContent(plain, { pictures: { front: picture } }))).toBeNull();
    const large = { ...picture, width: 401 };
    expect(smaller(editContent(plain, { pictures: { front: large } }))).toEqual({
      limits,
      own: [],
      chosen: ['front'],
    });
  });
});
