import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { threeLetters } from '../language';
import { ascii, concat, memorySource, u16, u24, u32 } from '$lib/core/bytes';
import { EMPTY_FIELDS, type Chapter, type Edits, type PictureId } from '$lib/core/items';
import { parseBuffer } from 'music-metadata';
import { makePng } from '../../../../tests/helpers/picture-bytes';
import type { NewPicture } from '../format';
import {
  asId3v23,
  changeId3v1,
  chapterPicture,
  frameText,
  id3Chapters,
  readTag,
  isId3v1,
  readId3,
  writeId3,
  type Id3Tag,
} from './index';
import { chapterFrames, chaptersWithParts } from './chapters';
import { syncSafe, type Id3Frame } from './layout';
import { ratingFrames, ratingText } from './rating';
import { frameBytes } from './text';
import { id3Timed } from './timed';

const text = (value: string) => concat([Uint8Array.of(0), ascii(value)]);
const frame = (id: string, data: Uint8Array, flags = 0, size = u32(data.length)) =>
  concat([ascii(id), size, u16(flags), data]);
const tag = (version: number, flags: number, body: Uint8Array) =>
  concat([ascii('ID3'), Uint8Array.of(version, 0, flags), syncSafe(body.length), body]);
/** One silent frame of MPEG-1 layer III at 128 kbit/s, some times over. */
const sound = new Uint8Array(417 * 8).map((_, index) => [0xff, 0xfb, 0x90, 0xc4][index % 417] ?? 0);
const sourceOf = (...parts: Uint8Array[]) => memorySource(concat([...parts, sound]));
const none = { fields: {} };

async function titleOf(bytes: Uint8Array): Promise<string | null> {
  const read = await readId3(sourceOf(bytes));
  const found = read?.frames.find(({ id }) => id === 'TIT2' || id === 'TT2');
  return read && found ? frameText(found, read.version) : null;
}

test('a file without a tag has none', async () => {
  expect(await readId3(memorySource(sound))).toBeNull();
});

describe('ways in which tags are written', () => {
  test('ID3v2.2 with its short frames stays ID3v2.2', async () => {
    const old = tag(2, 0, concat([ascii('TT2'), u24(5), text('Kelp'), ascii('XYZ'), u24(3), ascii('abc')]));
    const read = await readId3(sourceOf(old));
    const written = writeId3(read, { fields: { artist: ['Orla'] } });
    const again = await readId3(sourceOf(written));
    expect(again?.version).toBe(2);
    expect(again?.frames.map(({ id }) => id)).toEqual(['TT2', 'XYZ', 'TP1']);
    expect(await titleOf(written)).toBe('Kelp');
  });

  test.each([3, 4] as const)(
    'texts of ID3v2.%i are written in Latin-1 for readers of that alone',
    async (version) => {
      const utf16 = concat([Uint8Array.of(1, 0xff, 0xfe), Uint8Array.of(0x4b, 0)]);
      const size = version === 4 ? syncSafe(utf16.length) : u32(utf16.length);
      const old = await readId3(sourceOf(tag(version, 0, concat([frame('TIT2', utf16, 0, size)]))));
      const fields = { title: 'Kèlp', artist: ['Örla'], lyrics: 'Sø', albumArtist: 'A' };
      const written = await readId3(sourceOf(writeId3(old, { fields, encoding: 'latin1' })));
      const encodings = new Map(written?.frames.map(({ id, data }) => [id, data[0]]));
      expect([...encodings.keys()].sort()).toEqual(['TIT2', 'TPE1', 'TPE2', 'USLT']);
      expect(new Set(encodings.values())).toEqual(new Set([0]));
      const { common } = await parseBuffer(concat([writeId3(old, { fields, encoding: 'latin1' }), sound]));
      expect([common.title, common.artist, common.lyrics?.[0]?.text]).toEqual(['Kèlp', 'Örla', 'Sø']);
      expect(written && readTag(written).fields).toMatchObject(fields);
    },
  );

  test('unsynchronisation of a whole ID3v2.3 tag is undone', async () => {
    const plain = concat([Uint8Array.of(1, 0xff, 0xfe), Uint8Array.of(0xff, 0x00)]);
    const unsynced = Uint8Array.of(
      ...frame('TIT2', plain).slice(0, 10),
      1,
      0xff,
      0x00,
      0xfe,
      0xff,
      0x00,
      0x00,
    );
    expect(await titleOf(tag(3, 0x80, unsynced))).toBe('\u00ff');
  });

  test('an unsynchronised ID3v2.4 tag says so for each frame once it is rewritten', async () => {
    const old = tag(
      4,
      0x80,
      frame('TIT2', concat([Uint8Array.of(0), ascii('a\u00ff'), Uint8Array.of(0)]), 0, syncSafe(4)),
    );
    expect(await titleOf(writeId3(await readId3(sourceOf(old)), none))).toBe('a\u00ff');
  });

  test('an extended header is passed over', async () => {
    const extended = concat([u32(6), u16(0), u32(0)]);
    expect(await titleOf(tag(3, 0x40, concat([extended, frame('TIT2', text('Bell'))])))).toBe('Bell');
  });

  test('plain frame sizes in ID3v2.4 are known by how frames line up', async () => {
    const long = text('x'.repeat(200));
    const body = concat([frame('TIT2', long), frame('TPE1', text('Orla')), new Uint8Array(20)]);
    expect(await titleOf(tag(4, 0, body))).toBe('x'.repeat(200));
  });

  test('a frame that passes the end is left out, what came before it stays', async () => {
    const read = await readId3(
      sourceOf(tag(3, 0, concat([frame('TIT2', text('a')), ascii('TALB'), u32(9999), u16(0), ascii('x')]))),
    );
    expect(read?.frames.map(({ id }) => id)).toEqual(['TIT2']);
  });

  test('frames that are not understood are carried byte for byte, in place', async () => {
    const priv = frame('PRIV', Uint8Array.of(1, 2, 0xff, 0xe0, 3));
    const old = tag(3, 0, concat([frame('TIT2', text('a')), priv, frame('TALB', text('b'))]));
    const written = writeId3(await readId3(sourceOf(old)), { fields: { title: 'c' } });
    const again = await readId3(sourceOf(written));
    expect(again?.frames.map(({ id }) => id)).toEqual(['TIT2', 'PRIV', 'TALB']);
    expect(Buffer.from(written).includes(Buffer.from(priv))).toBe(true);
  });
});

test('old room is used, so that a small edit leaves the tag as long as it was', async () => {
  const old = tag(3, 0, concat([frame('TIT2', text('a title of some length')), new Uint8Array(500)]));
  expect(writeId3(await readId3(sourceOf(old)), { fields: { title: 'short' } })).toHaveLength(old.length);
});

test('an older date does not contradict a new year', async () => {
  const old = tag(3, 0, concat([frame('TYER', text('1999')), frame('TDAT', text('2412'))]));
  const again = await readId3(sourceOf(writeId3(await readId3(sourceOf(old)), { fields: { date: '2004' } })));
  expect(again?.frames.map((one) => [one.id, frameText(one, 3)])).toEqual([['TYER', '2004']]);
});

test('what else a chapter holds stays with it, moved or called otherwise, and goes with it', async () => {
  const picture = (no: number) => frame('APIC', concat([text('image/jpeg'), Uint8Array.of(0, 3, 0, no, no)]));
  const chapter = (no: number, start: number, title: string) =>
    frame(
      'CHAP',
      concat([
        ascii(`c${no}\0`),
        ...[start, start + 1000, 0xffffffff, 0xffffffff].map(u32),
        frame('TIT2', text(title)),
        picture(no),
      ]),
    );
  const old = tag(3, 0, concat([chapter(1, 0, 'Ebb'), chapter(2, 5000, 'Slack'), chapter(3, 9000, 'Flood')]));
  const read = await readId3(sourceOf(old));
  const to = async (...said: [number, string][]) => {
    const chapters = said.map(([startSeconds, title]) => ({
      startSeconds,
      title,
      endSeconds: null,
      link: null,
    }));
    const again = await readId3(sourceOf(writeId3(read, { fields: {}, chapters })));
    const parts = again ? chaptersWithParts(again) : [];
    expect(parts.map(({ chapter: { startSeconds, title } }) => [startSeconds, title])).toEqual(said);
    return parts.map(({ parts: own }) => own.map(({ id, data }) => `${id} ${data.at(-1)}`).join());
  };
  // Called otherwise, moved, and both.
  expect(await to([0, 'Low'], [6, 'Slack'], [9.5, 'High'])).toEqual(['APIC 1', 'APIC 2', 'APIC 3']);
  // One less, and one that is new.
  expect(await to([0, 'Ebb'], [9, 'Flood'])).toEqual(['APIC 1', 'APIC 3']);
  expect(await to([0, 'Ebb'], [2, 'New'], [5, 'Slack'], [9, 'Flood'])).toEqual([
    'APIC 1',
    '',
    'APIC 2',
    'APIC 3',
  ]);
});

describe('pictures of chapters', () => {
  const shown = (no: number, width: number) =>
    frame(
      'CHAP',
      concat([
        ascii(`c${no}\0`),
        ...[no * 1000, no * 1000 + 1000, 0xffffffff, 0xffffffff].map(u32),
        frame('TIT2', text(`Title ${no}`)),
        frame('APIC', concat([text('image/png'), Uint8Array.of(0, 0, 0), makePng(width, 20)])),
        frame('XABC', ascii(`other ${no}`)),
      ]),
    );
  const read = () => readId3(sourceOf(tag(3, 0, concat([shown(0, 10), shown(1, 11), shown(2, 12)]))));
  const widths = (chapters: readonly Chapter[]) => chapters.map(({ picture }) => picture?.width ?? null);
  const parts = (of: Id3Tag | null) =>
    chaptersWithParts(of as Id3Tag).map(({ parts: own }) => own.map(({ id }) => id).join());

  test('are told, and given out by their hash', async () => {
    const own = (await read()) as Id3Tag;
    const chapters = id3Chapters(own);
    expect(chapters[1]?.picture).toMatchObject({ mime: 'image/png', width: 11, height: 20 });
    const { hash } = chapters[1]?.picture as { hash: number };
    expect(chapterPicture(own, hash)).toEqual({ code: 0, mime: 'image/png', bytes: makePng(11, 20) });
    expect(chapterPicture(own, hash + 1)).toBeNull();
  });

  test('are set, taken away, given to another chapter, or left as they are', async () => {
    const own = (await read()) as Id3Tag;
    const [first, second, third] = id3Chapters(own) as [Chapter, Chapter, Chapter];
    const id = 'p' as PictureId;
    const chosen = { id, mime: 'image/jpeg', bytes: 9, width: 30, height: 30 };
    const bytes = makePng(30, 20);
    const { picture: _, ...untold } = third;
    const chapters = [
      { ...first, picture: chosen },
      { ...second, picture: null },
      untold,
      { startSeconds: 7, endSeconds: null, title: 'New', link: null, picture: second.picture },
      { startSeconds: 8, endSeconds: null, title: 'Bare', link: null },
    ];
    const chapterPictures = new Map([[id, { mime: 'image/png', width: 30, height: 20, bytes }]]);
    const written = writeId3(own, { fields: {}, chapters, chapterPictures });
    const again = await readId3(sourceOf(written));
    expect(widths(id3Chapters(again as Id3Tag))).toEqual([30, null, 12, 11, null]);
    expect(parts(again)).toEqual(['XABC,APIC', 'XABC', 'APIC,XABC', 'APIC', '']);
  });

  test('go along when a later tag becomes one of ID3v2.3', async () => {
    const own = (await read()) as Id3Tag;
    const later = await readId3(sourceOf(asVersion4(own)));
    const { tag: older, changes } = asId3v23(later as Id3Tag, { fields: { title: 'Fog' } });
    const again = await readId3(sourceOf(writeId3(older, changes)));
    expect(again?.version).toBe(3);
    expect(widths(id3Chapters(again as Id3Tag))).toEqual([10, 11, 12]);
    expect(parts(again)[0]).toBe('XABC,APIC');
  });
});

/** The chapters of a tag in one of ID3v2.4, whose sizes are written otherwise. */
function asVersion4(old: Id3Tag): Uint8Array {
  const pictures = new Map<PictureId, NewPicture>();
  const before = chaptersWithParts(old);
  const frames = chapterFrames(id3Chapters(old), 4, { before, pictures });
  return tag(4, 0, concat(frames.map((one) => frameBytes(one, 4))));
}

describe('ratings', () => {
  const says = (owner: string, rating: number, ...counter: number[]) =>
    frame('POPM', concat([ascii(owner), Uint8Array.of(0, rating, ...counter)]));
  const user = frame('TXXX', concat([Uint8Array.of(0), ascii('RATING'), Uint8Array.of(0), ascii('40')]));
  const of = async (...frames: Uint8Array[]) =>
    (await readId3(sourceOf(tag(3, 0, concat(frames))))) as Id3Tag;
  const rating = (own: Id3Tag) => readTag(own).fields.rating;
  const frames = ({ frames: all }: Id3Tag) =>
    all.map(({ id, data }) => `${id} ${Buffer.from(data).toString('hex')}`);
  const set = async (own: Id3Tag, value: number | null) =>
    (await readId3(sourceOf(writeId3(own, { fields: { rating: value } })))) as Id3Tag;

  test('of the first owner who says something count, else those in a user text', async () => {
    expect(rating(await of(says('a', 0, 7), says('b', 204), user))).toBe(80);
    expect(rating(await of(says('a', 1)))).toBe(1);
    expect(rating(await of(says('a', 0), user))).toBe(40);
    expect(rating(await of(frame('POPM', ascii('broken'))))).toBeNull();
  });

  test('are set for every owner, with the counts of how often it was played', async () => {
    const own = await of(says('a', 0, 0, 0, 0, 7), user, says('b', 204));
    expect(frames(await set(own, 100))).toEqual(['POPM 6100ff00000007', 'POPM 6200ff']);
    // What says nothing goes, and a count stays.
    expect(frames(await set(own, null))).toEqual(['POPM 61000000000007']);
    expect(frames(await set(own, 0))).toEqual(['POPM 61000000000007']);
    const broken = await of(frame('POPM', ascii('broken')), frame('TIT2', text('Fog')));
    expect(frames(await set(broken, 1)).slice(0, 2)).toEqual(['POPM 62726f6b656e', 'POPM 0003']);
    expect(frames(await set(await of(frame('TIT2', text('Fog'))), 50)).at(-1)).toBe('POPM 0080');
  });

  test.each([2, 3, 4] as const)('of 1 to 100 are read back in ID3v2.%d', (version) => {
    for (let value = 1; value <= 100; value++) {
      const [made] = ratingFrames([], String(value), version);
      expect(ratingText(made as Id3Frame, version)).toBe(String(value));
    }
  });
});

test('more chapters than one table of contents counts are listed by several', async () => {
  const chapters = Array.from({ length: 600 }, (_, index) => ({
    startSeconds: index * 2,
    endSeconds: null,
    title: `Psalm ${index + 1}`,
    link: null,
  }));
  const written = await readId3(sourceOf(writeId3(null, { fields: {}, chapters })));
  const tables = (written as Id3Tag).frames.filter(({ id }) => id === 'CTOC');
  const told = tables.map(({ data }) => {
    const at = data.indexOf(0) + 1;
    return [data[at], data[at + 1], new TextDecoder().decode(data.subarray(at + 2)).split('\0').length - 1];
  });
  expect(told).toEqual([
    [3, 3, 3],
    [1, 255, 255],
    [1, 255, 255],
    [1, 90, 90],
  ]);
  expect(id3Chapters(written as Id3Tag).map(({ title }) => title)).toEqual(
    chapters.map(({ title }) => title),
  );
});

test('chapters are read with their titles', async () => {
  const title = frame('TIT2', text('Fog'));
  const chapter = concat([
    ascii('ch1'),
    Uint8Array.of(0),
    u32(61_500),
    u32(90_000),
    u32(0xffffffff),
    u32(0xffffffff),
    title,
  ]);
  const read = await readId3(sourceOf(tag(3, 0, frame('CHAP', chapter))));
  expect(read && id3Chapters(read)).toEqual([
    { startSeconds: 61.5, endSeconds: 90, title: 'Fog', link: null },
  ]);
});

test('ID3v1 follows as far as it can hold the change', () => {
  const old = new Uint8Array(128);
  old.set(ascii('TAG'));
  old.set(ascii('Old'), 3);
  old.set(ascii('Album'), 63);
  const changed = changeId3v1(old, {
    title: 'Øre 海 and a title far longer than thirty letters',
    track: 300,
    date: '2001',
  });
  expect(isId3v1(changed)).toBe(true);
  const latin = (at: number, length: number) =>
    new TextDecoder('latin1').decode(changed.subarray(at, at + length)).replace(/\0+$/, '');
  expect(latin(3, 30)).toBe('Øre ? and a title far longer t');
  expect(latin(63, 30)).toBe('Album');
  expect(latin(93, 4)).toBe('2001');
  expect(changed[126]).toBe(0);
});

test('any text comes back as it was written', async () => {
  const letters = fc
    .string({ unit: 'grapheme', minLength: 1, maxLength: 60 })
    .filter((value) => value.trim() === value && !value.includes('\0'));
  const single = letters.filter((value) => !value.includes(';') && !value.includes('/'));
  const edits = fc.record({
    title: letters,
    album: letters,
    albumArtist: letters,
    artist: fc.uniqueArray(single, { minLength: 1, maxLength: 3 }),
    composer: fc.uniqueArray(single, { minLength: 1, maxLength: 3 }),
  });
  await fc.assert(
    fc.asyncProperty(edits, fc.constantFrom(3, 4), async (fields: Edits, version) => {
      const old = await readId3(sourceOf(tag(version, 0, frame('TXXX', text('kept')))));
      const written = await readId3(memorySource(writeId3(old, { fields })));
      expect(written && readTag(written).fields).toEqual({ ...EMPTY_FIELDS, ...fields });
    }),
    { seed: 31, numRuns: 150 },
  );
});

describe('a tag of ID3v2.4 for readers that know no more than ID3v2.3', () => {
  const utf8 = (value: string) => concat([Uint8Array.of(3), new TextEncoder().encode(value)]);
  const part = (id: string, data: Uint8Array) => frame(id, data, 0, syncSafe(data.length));
  const picture = Uint8Array.of(0xff, 0xd8, 0xff, 1, 0, 2);
  const old = tag(
    4,
    0,
    concat([
      part('TIT2', utf8('Kelp Wräck')),
      part('TPE1', utf8('Orla Venn\0Dag Holme')),
      part('TDRC', utf8('2019-05-04')),
      part('TMOO', utf8('calm')),
      part('TSOP', utf8('Venn, Orla')),
      part('COMM', concat([Uint8Array.of(3), ascii('eng'), new TextEncoder().encode('nö\0te')])),
      part(
        'APIC',
        concat([
          utf8('image/jpeg\0').with(0, 3),
          Uint8Array.of(3),
          utf8('cövér').subarray(1),
          Uint8Array.of(0),
          picture,
        ]),
      ),
      part('PRIV', ascii('someone\0data')),
    ]),
  );

  test('says the same, keeps its pictures and what others put there, and is read by another reader', async () => {
    const read = await readId3(sourceOf(old));
    if (!read) throw new Error('no tag');
    const goal = asId3v23(read, { fields: { album: 'Nine Lamps' } });
    const written = writeId3(goal.tag, goal.changes);
    const again = await readId3(sourceOf(written));
    if (!again) throw new Error('no tag');
    expect(again.version).toBe(3);
    expect(readTag(again).fields).toMatchObject({
      title: 'Kelp Wräck',
      artist: ['Orla Venn', 'Dag Holme'],
      album: 'Nine Lamps',
      date: '2019-05-04',
    });
    const ids = again.frames.map(({ id }) => id);
    expect(ids).toEqual(expect.arrayContaining(['TSOP', 'COMM', 'APIC', 'PRIV', 'TYER']));
    expect(ids).not.toContain('TMOO');
    expect(ids).not.toContain('TDRC');
    const { common, native } = await parseBuffer(concat([written, sound]), 'audio/mpeg');
    expect(Object.keys(native)).toEqual(['ID3v2.3']);
    expect(common).toMatchObject({ title: 'Kelp Wräck', album: 'Nine Lamps', year: 2019 });
    expect(common.comment?.[0]).toMatchObject({ language: 'eng', descriptor: 'nö', text: 'te' });
    expect(common.picture?.[0]).toMatchObject({ format: 'image/jpeg', description: 'cövér' });
    expect([...(common.picture?.[0]?.data ?? [])]).toEqual([...picture]);
  });
});

describe('words with their times', () => {
  const read = (data: readonly number[]) =>
    id3Timed({ version: 3, frames: [{ id: 'SYLT', flags: 0, data: Uint8Array.from(data) }] });
  const latin = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
  const at = (milliseconds: number) => [0, 0, milliseconds >> 8, milliseconds & 0xff];

  test('a piece begins a line where no line feed says so, else the line feeds do', () => {
    const head = [0, ...latin('eng'), 2, 1, ...latin('by hand\0')];
    expect(read([...head, ...latin('Haul \0'), ...at(1000), ...latin('away\0'), ...at(2500)])).toEqual([
      { startSeconds: 1, text: 'Haul' },
      { startSeconds: 2.5, text: 'away' },
    ]);
    expect(
      read([
        ...head,
        ...latin('Haul \0'),
        ...at(1000),
        ...latin('away\0'),
        ...at(1500),
        ...latin('\nHome\0'),
        ...at(9000),
      ]),
    ).toEqual([
      {
        startSeconds: 1,
        text: 'Haul away',
        words: [
          { startSeconds: 1, text: 'Haul ' },
          { startSeconds: 1.5, text: 'away' },
        ],
      },
      { startSeconds: 9, text: 'Home' },
    ]);
  });

  test('what is cut short is read as far as it goes; times in frames and other words are left alone', () => {
    expect(read([0, ...latin('eng'), 2, 1, 0, ...latin('Haul\0'), ...at(1000), ...latin('aw')])).toHaveLength(
      1,
    );
    expect(read([0, ...latin('eng'), 1, 1, 0, ...latin('Haul\0'), ...at(1000)])).toEqual([]);
    expect(read([0, ...latin('eng'), 2, 5, 0, ...latin('C#m\0'), ...at(1000)])).toEqual([]);
  });
});

test.each([
  ['en', 'eng'],
  ['de-AT', 'deu'],
  ['pt-BR', 'por'],
  ['gd', 'gla'],
  ['sco', 'sco'],
  ['x-house', 'x-house'],
])('the language %s has the code %s', (tag, code) => expect(threeLetters(tag)).toBe(code));
