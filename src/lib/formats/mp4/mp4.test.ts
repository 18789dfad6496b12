import { describe, expect, test } from 'vitest';
import {
  ascii,
  concat,
  joinSpans,
  keepsRange,
  memorySource,
  type ByteSource,
  readU32,
  u32,
} from '$lib/core/bytes';
import type { TrackEdit } from '$lib/core/items';
import { makePng } from '../../../../tests/helpers/picture-bytes';
import type { FormatError } from '../format';
import { findBox, findPath, makeBox, parseBoxes, readTopBoxes, type Box } from './boxes';
import { chapterTrackIds, trackId, withoutChapterTracks } from './chapters';
import { readNative, rewrite } from './writer';
import { readMp4Facts, sampleEnd } from './facts';
import { mediaRanges } from './media-ranges';
import { readMp4 } from './reader';

const factsOf = async (source: ByteSource) => readMp4Facts(source, await readMp4(source));

const FTYP = makeBox('ftyp', ascii('M4A '), u32(0), ascii('M4A mp42'));
const SAMPLES = ascii('these are the samples of the song');

/** `moov` of one sound track whose single chunk lies at `offset`. */
function moov(offset: number, ...more: Uint8Array[]): Uint8Array {
  const stco = makeBox('stco', u32(0), u32(1), u32(offset));
  const entry = makeBox('mp4a', new Uint8Array(28));
  const stsd = makeBox('stsd', u32(0), u32(1), entry);
  const sizes = makeBox('stsz', u32(0), u32(0), u32(1), u32(SAMPLES.length));
  const runs = makeBox('stsc', u32(0), u32(1), u32(1), u32(1), u32(1));
  const stbl = makeBox('stbl', stsd, sizes, runs, stco);
  const hdlr = makeBox('hdlr', new Uint8Array(8), ascii('soun'), new Uint8Array(13));
  const tkhd = makeBox('tkhd', new Uint8Array(12), u32(1), new Uint8Array(68));
  const mdhd = makeBox('mdhd', new Uint8Array(12), u32(1000), u32(9000), u32(0));
  const mvhd = makeBox('mvhd', new Uint8Array(12), u32(1000), u32(9000), new Uint8Array(80));
  return makeBox(
    'moov',
    mvhd,
    makeBox('trak', tkhd, makeBox('mdia', mdhd, hdlr, makeBox('minf', stbl))),
    ...more,
  );
}

/** A file with `moov` first, and this many bytes of free room behind it. */
function movieFirst(free: number): Uint8Array {
  const room = free > 0 ? makeBox('free', new Uint8Array(free - 8)) : new Uint8Array(0);
  const offset = FTYP.length + moov(0).length + room.length + 8;
  return concat([FTYP, moov(offset), room, makeBox('mdat', SAMPLES)]);
}

const write = async (file: Uint8Array, title: string) => {
  const source = memorySource(file);
  const { spans, payload } = await rewrite(source, { fields: { title } });
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(source, spans);
};

/** The samples that a file's own table points to. */
function pointedSamples(file: Uint8Array): string {
  const box = findBox(parseBoxes(file), 'moov');
  const stco = box && findPath(file, box, 'trak', 'mdia', 'minf', 'stbl', 'stco');
  const offset = readU32(file, (stco?.content ?? 0) + 8);
  return new TextDecoder().decode(file.subarray(offset, offset + SAMPLES.length));
}

describe('where moov stands before the samples', () => {
  test.each([0, 8, 9, 400, 4000])(
    '%d bytes of free room: the table points to the samples afterwards',
    async (free) => {
      const written = await write(movieFirst(free), 'Kelp Road');
      expect(pointedSamples(written)).toBe('these are the samples of the song');
      expect(Buffer.from(written).includes('Kelp Road')).toBe(true);
    },
  );

  test('free room that suffices leaves every offset as it was', async () => {
    const file = movieFirst(4000);
    expect(await write(file, 'x')).toHaveLength(file.length);
  });

  test('a longer title after a shorter one, over and over', async () => {
    let file = movieFirst(60);
    for (const length of [1, 300, 2, 40, 0, 500]) {
      file = await write(file, 'x'.repeat(length + 1));
      expect(pointedSamples(file)).toBe('these are the samples of the song');
    }
  });
});

test('items that are not understood stay, byte for byte and in place', async () => {
  const odd = makeBox(
    '----',
    makeBox('mean', u32(0), ascii('org.example')),
    makeBox('data', u32(1), u32(0), ascii('odd')),
  );
  const name = makeBox('\u00a9nam', makeBox('data', u32(1), u32(0), ascii('Old')));
  const handler = makeBox('hdlr', new Uint8Array(8), ascii('mdirappl'), new Uint8Array(9));
  const udta = makeBox(
    'udta',
    makeBox('Xtra', ascii('kept')),
    makeBox('meta', u32(0), handler, makeBox('ilst', odd, name)),
  );
  const file = concat([FTYP, makeBox('mdat', SAMPLES), moov(FTYP.length + 8, udta)]);
  const written = Buffer.from(await write(file, 'New'));
  expect(written.includes(Buffer.from(odd))).toBe(true);
  expect(written.includes(Buffer.from(makeBox('Xtra', ascii('kept'))))).toBe(true);
  expect(written.indexOf('odd')).toBeLessThan(written.indexOf('New'));
  expect(pointedSamples(written)).toBe('these are the samples of the song');
});

test('of two descriptions the short one is read, and a new one takes the place of both', async () => {
  const item = (name: string, text: string) => makeBox(name, makeBox('data', u32(1), u32(0), ascii(text)));
  const handler = makeBox('hdlr', new Uint8Array(8), ascii('mdirappl'), new Uint8Array(9));
  const ilst = makeBox('ilst', item('ldes', 'long'), item('desc', 'short'), item('\u00a9nrt', 'Ines'));
  const file = concat([
    FTYP,
    makeBox('mdat', SAMPLES),
    moov(FTYP.length + 8, makeBox('udta', makeBox('meta', u32(0), handler, ilst))),
  ]);
  const source = memorySource(file);
  expect((await readNative(source))?.fields).toMatchObject({ description: 'short', narrator: ['Ines'] });
  const { spans } = await rewrite(source, { fields: { description: 'new' } });
  const written = await joinSpans(source, spans);
  expect((await readNative(memorySource(written)))?.fields).toMatchObject({
    description: 'new',
    narrator: ['Ines'],
  });
  expect(Buffer.from(written).includes('ldes')).toBe(false);
});

test('a second cover stays behind the new front', async () => {
  const data = (text: string) => makeBox('data', u32(13), u32(0), ascii(text));
  const handler = makeBox('hdlr', new Uint8Array(8), ascii('mdirappl'), new Uint8Array(9));
  const ilst = makeBox('ilst', makeBox('covr', data('front'), data('back')));
  const file = concat([
    FTYP,
    makeBox('mdat', SAMPLES),
    moov(FTYP.length + 8, makeBox('udta', makeBox('meta', u32(0), handler, ilst))),
  ]);
  const picture = { mime: 'image/png', width: 9, height: 9, bytes: makePng(9, 9) };
  const source = memorySource(file);
  const { spans } = await rewrite(source, { fields: {}, pictures: new Map([['front', picture]]) });
  const written = Buffer.from(await joinSpans(source, spans));
  expect(written.includes(Buffer.from(picture.bytes))).toBe(true);
  expect(written.includes('front')).toBe(false);
  expect(written.includes('back')).toBe(true);
});

test('titles of chapters give way to new ones, pictures that go with chapters stay', async () => {
  const track = (id: number, type: string, ...more: Uint8Array[]) =>
    makeBox(
      'trak',
      makeBox('tkhd', new Uint8Array(12), u32(id), new Uint8Array(68)),
      ...more,
      makeBox('mdia', makeBox('hdlr', new Uint8Array(8), ascii(type), new Uint8Array(13))),
    );
  const refers = makeBox('tref', makeBox('chap', u32(8), u32(9)), makeBox('sync', u32(1)));
  const bytes = makeBox('moov', track(1, 'soun', refers), track(8, 'text'), track(9, 'vide'));
  const left = withoutChapterTracks(bytes);
  const tracks = parseBoxes(left, 8);
  expect(tracks.map((box) => trackId(left, box))).toEqual([1, 9]);
  expect(chapterTrackIds(left, tracks[0] as Box)).toEqual([9]);
  expect(Buffer.from(left).includes('sync')).toBe(true);
  // With titles alone, nothing refers to chapters any more.
  const plain = makeBox('moov', track(1, 'soun', makeBox('tref', makeBox('chap', u32(8)))), track(8, 'text'));
  expect(Buffer.from(withoutChapterTracks(plain)).includes('tref')).toBe(false);
});

describe('titles of chapters go out as a track, too', () => {
  const chaptersOf = (...starts: number[]) =>
    starts.map((startSeconds, index) => ({
      startSeconds,
      endSeconds: null,
      title: `Part ${index} «${'x'.repeat(index % 20)}»`,
      link: null,
    }));
  const mark = async (file: Uint8Array, starts: readonly number[], title = 'x') => {
    const source = memorySource(file);
    const { spans, payload } = await rewrite(source, { fields: { title }, chapters: chaptersOf(...starts) });
    for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
    return joinSpans(source, spans);
  };
  /** What a player reads that knows the track alone: starts in seconds and titles. */
  async function titlesIn(file: Uint8Array) {
    const list = file.indexOf('c'.charCodeAt(0), Buffer.from(file).indexOf('chpl'));
    const without = file.slice();
    if (list >= 0) without.set(ascii('free'), list);
    return (await factsOf(memorySource(without))).chapters.map(({ startSeconds, title }) => [
      startSeconds,
      title,
    ]);
  }
  const last = concat([FTYP, makeBox('mdat', SAMPLES), moov(FTYP.length + 8)]);
  const MADE: readonly (readonly [string, Uint8Array])[] = [
    ['moov first, without room', movieFirst(0)],
    ['moov first, with room', movieFirst(4000)],
    ['moov last', last],
  ];

  test.each(MADE)(
    '%s: they are read by the track alone, and with their finer starts by both',
    async (_, file) => {
      const marked = await mark(file, [0.25, 1.0004, 7.5]);
      expect(pointedSamples(marked)).toBe('these are the samples of the song');
      const { chapters, streams } = await factsOf(memorySource(marked));
      expect(chapters).toEqual(chaptersOf(0.25, 1.0004, 7.5));
      expect(streams).toHaveLength(1);
      // Nothing may be missing at the beginning of a track.
      const told = chaptersOf(0, 1, 7.5).map(({ startSeconds, title }) => [startSeconds, title]);
      expect(await titlesIn(marked)).toEqual(told);
    },
  );

  test.each(MADE)(
    '%s: what has its titles anew, or other tags, does not grow by the old ones',
    async (_, file) => {
      let marked = await mark(file, [0, 3]);
      const [length] = [marked.length];
      for (const starts of [[0, 1, 2, 3, 4], [2], [0, 3]]) {
        marked = await mark(marked, starts);
        expect(pointedSamples(marked)).toBe('these are the samples of the song');
        expect((await titlesIn(marked)).map(([, title]) => title)).toEqual(
          chaptersOf(...starts).map(({ title }) => title),
        );
      }
      expect(marked.length).toBeLessThanOrEqual(length + 200);
      const tagged = await write(marked, 'a longer title than the one before it');
      expect((await titlesIn(tagged)).map(([start]) => start)).toEqual([0, 3]);
      expect(pointedSamples(tagged)).toBe('these are the samples of the song');
      const bare = await mark(tagged, []);
      expect(await titlesIn(bare)).toEqual([]);
      expect(Buffer.from(bare).includes('Part 1')).toBe(false);
    },
  );

  test('titles that another program put between the samples go, and what lies behind them moves', async () => {
    const marked = await mark(last, [0, 3]);
    const boxes = parseBoxes(marked);
    const raw = ({ start, end }: Box) => marked.subarray(start, end);
    const [ftyp, samples, movie, titles] = boxes.map(raw) as [Uint8Array, Uint8Array, Uint8Array, Uint8Array];
    const offsets = Buffer.from(movie.slice());
    // Titles first, then the samples: each table is told its new place.
    const places = [...offsets.toString('latin1').matchAll(/stco/g)].map(({ index }) => index + 12);
    offsets.writeUInt32BE(ftyp.length + titles.length + 8, places[0]);
    offsets.writeUInt32BE(ftyp.length + 8, places[1]);
    const odd = concat([ftyp, titles, samples, new Uint8Array(offsets)]);
    expect((await titlesIn(odd)).map(([start]) => start)).toEqual([0, 3]);
    const mended = await mark(odd, [1, 2]);
    expect(pointedSamples(mended)).toBe('these are the samples of the song');
    expect(mended).toHaveLength(marked.length);
    expect((await titlesIn(mended)).map(([start]) => start)).toEqual([0, 2]);
  });

  test('more of them than a list counts are all in the track', async () => {
    const starts = Array.from({ length: 300 }, (_, index) => 0.1 + index * 0.0256);
    const marked = await mark(last, starts);
    const { chapters } = await factsOf(memorySource(marked));
    expect(chapters).toHaveLength(300);
    for (const [index, { startSeconds }] of chapters.entries())
      expect(startSeconds).toBeCloseTo(starts[index] ?? 0, index < 255 ? 6 : 2);
    expect((await titlesIn(marked)).at(-1)?.[1]).toBe(chaptersOf(...starts).at(-1)?.title);
    await expect(mark(last, [9, ...starts])).rejects.toThrow(/more than 255 chapters/);
  });

  test('a title that is too long is cut between two letters', async () => {
    const source = memorySource(last);
    const chapter = { startSeconds: 0, endSeconds: null, title: '海'.repeat(100), link: null };
    const { spans } = await rewrite(source, { fields: {}, chapters: [chapter] });
    const { chapters } = await factsOf(memorySource(await joinSpans(source, spans)));
    expect(chapters.map(({ title }) => title)).toEqual(['海'.repeat(85)]);
    chapter.title = `x${chapter.title}`;
    const other = await joinSpans(source, (await rewrite(source, { fields: {}, chapters: [chapter] })).spans);
    expect((await factsOf(memorySource(other))).chapters[0]?.title).toBe(`x${'海'.repeat(84)}`);
  });

  test('starts that do not go on are told by the list alone', async () => {
    const marked = await mark(last, [3, 1]);
    expect(Buffer.from(marked).includes('tref')).toBe(false);
    expect((await factsOf(memorySource(marked))).chapters).toEqual(chaptersOf(3, 1));
  });

  test('titles have a box to themselves, which is no sound', async () => {
    const structure = await readMp4(memorySource(await mark(last, [0, 3])));
    expect(mediaRanges(structure)).toEqual([
      { start: FTYP.length + 8, end: FTYP.length + 8 + SAMPLES.length },
    ]);
  });
});

describe('names and languages of tracks', () => {
  const kept = makeBox('hint', ascii('kept'));
  const track = (id: number, ...more: Uint8Array[]) =>
    makeBox(
      'trak',
      makeBox('tkhd', new Uint8Array(12), u32(id), new Uint8Array(68)),
      makeBox(
        'mdia',
        makeBox('mdhd', new Uint8Array(12), u32(1000), u32(9000), u32(0x55c4_0000)),
        makeBox('hdlr', new Uint8Array(8), ascii('soun'), new Uint8Array(13)),
        makeBox(
          'minf',
          makeBox('stbl', makeBox('stsd', u32(0), u32(1), makeBox('mp4a', new Uint8Array(28)))),
        ),
      ),
      ...more,
    );
  const file = concat([
    FTYP,
    makeBox('moov', track(1), track(2, makeBox('udta', kept, makeBox('name', ascii('Old')))), track(3)),
    makeBox('mdat', SAMPLES),
  ]);
  const say = async (bytes: Uint8Array, tracks: readonly TrackEdit[]) => {
    const source = memorySource(bytes);
    const { spans, payload } = await rewrite(source, { fields: {}, tracks });
    for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
    const written = await joinSpans(source, spans);
    const { tracks: own } = await factsOf(memorySource(written));
    return { written, own: own.map(({ id, name, language }) => [id, name, language]) };
  };

  test('are read back, and go again; what else a track says stays', async () => {
    const named = await say(file, [
      { id: 1, name: 'As it was', language: 'nob' },
      { id: 2, name: 'Øyets lys' },
      { id: 3, language: 'pt-BR' },
    ]);
    expect(named.own).toEqual([
      [1, 'As it was', 'nob'],
      [2, 'Øyets lys', null],
      [3, '', 'pt-BR'],
    ]);
    expect(Buffer.from(named.written).includes(Buffer.from(kept))).toBe(true);
    // Norwegian has a code of three letters; a region has none, and stands in a box of its own.
    expect(Buffer.from(named.written).toString('latin1').match(/elng/g)).toHaveLength(1);
    const bare = await say(named.written, [
      { id: 1, name: '', language: null },
      { id: 2, name: '' },
      { id: 3, language: null },
    ]);
    expect(bare.own).toEqual([
      [1, '', null],
      [2, '', null],
      [3, '', null],
    ]);
    expect(Buffer.from(bare.written).includes('elng')).toBe(false);
    expect(Buffer.from(bare.written).includes(Buffer.from(kept))).toBe(true);
  });
});

describe('what cannot be rewritten safely is refused', () => {
  const codeOf = (file: Uint8Array) =>
    rewrite(memorySource(file), { fields: { title: 'x'.repeat(99) } }).then(
      () => 'written',
      (error: unknown) => (error as FormatError).code,
    );

  test('fragments behind moov without room', async () => {
    expect(await codeOf(concat([FTYP, moov(0), makeBox('moof', u32(0)), makeBox('mdat', SAMPLES)]))).toBe(
      'fragmented',
    );
  });
  test('metadata of another handler', async () => {
    const handler = makeBox('hdlr', new Uint8Array(8), ascii('mdta'), new Uint8Array(13));
    expect(await codeOf(concat([FTYP, moov(0, makeBox('udta', makeBox('meta', u32(0), handler)))]))).toBe(
      'foreignTags',
    );
  });
  test('a file cut short', async () => expect(await codeOf(movieFirst(0).slice(0, -5))).toBe('cutShort'));
  test('a file without moov', async () => expect(await codeOf(FTYP)).toBe('damaged'));
});

test.each([
  [
    'fragments without room before them',
    concat([FTYP, moov(0), makeBox('moof'), makeBox('mdat', SAMPLES)]),
    'fragmented',
  ],
  [
    'fragments with room before them',
    concat([FTYP, moov(0), makeBox('free', new Uint8Array(1000)), makeBox('moof'), makeBox('mdat', SAMPLES)]),
    null,
  ],
  [
    'metadata kept by another handler',
    concat([
      FTYP,
      moov(
        0,
        makeBox(
          'udta',
          makeBox('meta', u32(0), makeBox('hdlr', new Uint8Array(8), ascii('mdta'), new Uint8Array(13))),
        ),
      ),
      makeBox('mdat', SAMPLES),
    ]),
    'foreignTags',
  ],
  ['a plain file', movieFirst(0), null],
])('what bars tags from being written is known beforehand: %s', async (_what, file, locked) => {
  expect((await factsOf(memorySource(file))).locked).toBe(locked);
});

test('a chunk that begins behind the end of the file tells that it is cut', async () => {
  const file = movieFirst(0);
  expect(sampleEnd(await readMp4(memorySource(file)))).toBe(file.length);
  // Without the sizes of samples nothing tells where they end.
  const unsized = file.slice();
  unsized.set(ascii('free'), Buffer.from(file).indexOf('stsz'));
  expect(sampleEnd(await readMp4(memorySource(unsized)))).toBe(0);
  const sized = concat([
    FTYP,
    makeBox(
      'moov',
      makeBox(
        'trak',
        makeBox(
          'mdia',
          makeBox(
            'minf',
            makeBox(
              'stbl',
              makeBox('stsz', u32(0), u32(0), u32(3), u32(5), u32(6), u32(7)),
              makeBox('stsc', u32(0), u32(2), u32(1), u32(1), u32(1), u32(2), u32(2), u32(1)),
              makeBox('stco', u32(0), u32(2), u32(1000), u32(2000)),
            ),
          ),
        ),
      ),
    ),
  ]);
  expect(sampleEnd(await readMp4(memorySource(sized)))).toBe(2013);
});

test('lengths and streams are read from moov', async () => {
  const { durationSeconds, streams } = await factsOf(memorySource(movieFirst(0)));
  expect(durationSeconds).toBe(9);
  expect(streams).toMatchObject([{ type: 'sound', codec: 'mp4a' }]);
});

test('a 64-bit length and one up to the end are understood', async () => {
  const long = concat([u32(1), ascii('free'), u32(0), u32(20), new Uint8Array(4)]);
  const boxes = await readTopBoxes(memorySource(concat([long, u32(0), ascii('mdat'), SAMPLES])));
  expect(boxes.map(({ type, start, end }) => [type, start, end])).toEqual([
    ['free', 0, 20],
    ['mdat', 20, 28 + SAMPLES.length],
  ]);
});
