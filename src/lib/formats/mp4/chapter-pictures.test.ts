import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, keepsRange, memorySource, u32 } from '$lib/core/bytes';
import type { Chapter, PictureId } from '$lib/core/items';
import { makePng } from '../../../../tests/helpers/picture-bytes';
import type { NewPicture, TagChanges } from '../format';
import { readPictureSize } from '../picture-size';
import { findBox, findPath, makeBox, parseBoxes } from './boxes';
import { chapterTrackIds, referredTracks } from './chapters';
import { stillsIn } from './chapter-pictures';
import { placeSamples, withChapterTracks } from './chapter-track';
import { mediaRanges } from './media-ranges';
import { readMp4 } from './reader';
import { readMp4Facts } from './facts';
import { readChapterPicture, readNative, rewrite } from './writer';

const FTYP = makeBox('ftyp', ascii('M4A '), u32(0), ascii('M4A mp42'));
const SAMPLES = ascii('these are the samples of the book');

/** A file of one sound track of nine seconds, `moov` first or last. */
function book(isFirst: boolean): Uint8Array {
  const movie = (offset: number) => {
    const stbl = makeBox(
      'stbl',
      makeBox('stsd', u32(0), u32(1), makeBox('mp4a', new Uint8Array(28))),
      makeBox('stsz', u32(0), u32(0), u32(1), u32(SAMPLES.length)),
      makeBox('stsc', u32(0), u32(1), u32(1), u32(1), u32(1)),
      makeBox('stco', u32(0), u32(1), u32(offset)),
    );
    const hdlr = makeBox('hdlr', new Uint8Array(8), ascii('soun'), new Uint8Array(13));
    const tkhd = makeBox('tkhd', new Uint8Array(12), u32(1), new Uint8Array(68));
    const mdhd = makeBox('mdhd', new Uint8Array(12), u32(1000), u32(9000), u32(0));
    const mvhd = makeBox('mvhd', new Uint8Array(12), u32(1000), u32(9000), new Uint8Array(80));
    const mdia = makeBox('mdia', mdhd, hdlr, makeBox('minf', stbl));
    return makeBox('moov', mvhd, makeBox('trak', tkhd, mdia));
  };
  const media = makeBox('mdat', SAMPLES);
  return isFirst
    ? concat([FTYP, movie(FTYP.length + movie(0).length + 8), media])
    : concat([FTYP, media, movie(FTYP.length + 8)]);
}

/** A PNG of so many pixels, with this many bytes behind it. */
const png = (width: number, more = 0): NewPicture => ({
  mime: 'image/png',
  width,
  height: 20,
  bytes: concat([makePng(width, 20), new Uint8Array(more).fill(width)]),
});
const JPEG: NewPicture = {
  mime: 'image/jpeg',
  width: 7,
  height: 5,
  // Start of image, a frame of 7 by 5 pixels, end of image (ISO/IEC 10918-1, section B.2).
  bytes: Uint8Array.of(0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 5, 0, 7, 1, 1, 0x11, 0, 0xff, 0xd9),
};
const STORED = new Map([1, 2, 3].map((no) => [`p${no}` as PictureId, png(no * 10, no * 100)]));
STORED.set('jpeg' as PictureId, JPEG);

/** Chapters a second apart, each with one of these pictures, with none, or with what it has. */
const chaptersOf = (...ids: readonly (string | null | undefined)[]): readonly Chapter[] =>
  ids.map((id, index) => ({
    startSeconds: index,
    endSeconds: null,
    title: `Part ${index}`,
    link: null,
    ...(id !== undefined && {
      picture:
        id === null ? null : { id: id as PictureId, mime: 'image/jpeg', bytes: 1, width: 1, height: 1 },
    }),
  }));

async function change(file: Uint8Array, changes: Partial<TagChanges>): Promise<Uint8Array> {
  const source = memorySource(file);
  const { spans, payload } = await rewrite(source, { fields: {}, chapterPictures: STORED, ...changes });
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  const written = await joinSpans(source, spans);
  expect(soundOf(written)).toBe('these are the samples of the book');
  return written;
}

/** The samples to which the table of the first track leads. */
function soundOf(file: Uint8Array): string {
  const moov = findBox(parseBoxes(file), 'moov');
  const stco = moov && findPath(file, moov, 'trak', 'mdia', 'minf', 'stbl', 'stco');
  const offset = new DataView(file.buffer, file.byteOffset).getUint32((stco?.content ?? 0) + 8);
  return new TextDecoder().decode(file.subarray(offset, offset + SAMPLES.length));
}

const read = async (file: Uint8Array) => readMp4Facts(memorySource(file), await readMp4(memorySource(file)));
const widths = async (file: Uint8Array) =>
  (await read(file)).chapters.map(({ picture }) => picture?.width ?? null);
/** What a reader shows that knows no stand-ins: the width of every sample. */
async function shown(file: Uint8Array) {
  const unmarked = file.slice();
  const at = Buffer.from(file).indexOf('uuid');
  if (at >= 0) unmarked.set(ascii('free'), at);
  return widths(unmarked);
}
const front = (picture: NewPicture) => ({ pictures: new Map([['front' as const, picture]]) });

describe.each([
  ['moov first', book(true)],
  ['moov last', book(false)],
])('%s', (_, file) => {
  test('pictures of chapters are told, and given out by their hash', async () => {
    const written = await change(file, { chapters: chaptersOf('p1', 'jpeg', 'p3') });
    const { chapters, streams, tracks } = await read(written);
    expect(chapters.map(({ title }) => title)).toEqual(['Part 0', 'Part 1', 'Part 2']);
    expect(chapters[1]?.picture).toMatchObject({ mime: 'image/jpeg', width: 7, height: 5, bytes: 17 });
    expect(await widths(written)).toEqual([10, 7, 30]);
    expect((await readNative(memorySource(written)))?.chapters).toEqual(chapters);
    const { hash } = chapters[2]?.picture as { hash: number };
    expect(await readChapterPicture(memorySource(written), hash)).toEqual({
      mime: 'image/png',
      bytes: png(30, 300).bytes,
    });
    expect(await readChapterPicture(memorySource(written), hash + 1)).toBeNull();
    // It is no film, and what goes with chapters is no sound.
    expect([streams.length, tracks.length]).toEqual([1, 1]);
    expect(mediaRanges(await readMp4(memorySource(written)))).toHaveLength(1);
  });

  test('they are set, taken away, given to another chapter, or left as they are', async () => {
    const first = await change(file, { chapters: chaptersOf('p1', 'p2', 'p3', null) });
    const own = (await read(first)).chapters[1]?.picture;
    const chapters = chaptersOf('jpeg', null, undefined, undefined).map((chapter, index) =>
      index === 3 ? { ...chapter, picture: own } : chapter,
    );
    const second = await change(first, { chapters });
    expect(await widths(second)).toEqual([7, null, 30, 20]);
    const moved = chaptersOf(undefined, undefined, undefined, undefined).map((chapter) => ({
      ...chapter,
      startSeconds: chapter.startSeconds + 0.5,
    }));
    expect(await widths(await change(second, { chapters: moved }))).toEqual([7, null, 30, 20]);
  });

  test('what has other tags, or its chapters anew, keeps them and does not grow', async () => {
    const first = await change(file, { chapters: chaptersOf('p1', null, 'p1', 'p2') });
    // Each picture is there once.
    expect(Buffer.from(first).toString('latin1').split('IHDR')).toHaveLength(3);
    const tagged = await change(first, { fields: { title: 'a longer title than there was before' } });
    expect(await widths(tagged)).toEqual([10, null, 10, 20]);
    let again = first;
    for (let turn = 0; turn < 3; turn++)
      again = await change(again, { chapters: chaptersOf(undefined, undefined, undefined, undefined) });
    expect(await widths(again)).toEqual([10, null, 10, 20]);
    expect(again.length).toBeLessThanOrEqual(first.length + 8);
    const bare = await change(again, { chapters: chaptersOf(null, null) });
    expect(await widths(bare)).toEqual([null, null]);
    expect(Buffer.from(bare).includes('IHDR')).toBe(false);
    const movie = findBox(parseBoxes(bare), 'moov');
    expect(movie && referredTracks(bare, movie)).toHaveLength(1);
  });

  test("the file's picture stands in for those that are not there, and a new one after it", async () => {
    const covered = await change(file, front(png(50)));
    const written = await change(covered, { chapters: chaptersOf(null, 'p1', null) });
    expect(await widths(written)).toEqual([null, 10, null]);
    expect(await shown(written)).toEqual([50, 10, 50]);
    const other = await change(written, front(png(60)));
    expect(await widths(other)).toEqual([null, 10, null]);
    expect(await shown(other)).toEqual([60, 10, 60]);
    // One that is its own stays so, though it is the file's picture as well.
    const same = await change(covered, {
      chapters: chaptersOf('p1', 'p2'),
      chapterPictures: new Map([
        ['p1' as PictureId, png(50)],
        ['p2' as PictureId, png(20)],
      ]),
    });
    expect(await widths(same)).toEqual([50, 20]);
  });

  test('one of another sort than theirs does not', async () => {
    const covered = await change(file, front(png(50)));
    const written = await change(covered, { chapters: chaptersOf('jpeg', null) });
    expect(await shown(written)).toEqual([7, 7]);
    expect(await widths(written)).toEqual([7, null]);
  });

  test('without one, the picture before stands in, and the first for those before it', async () => {
    const written = await change(file, { chapters: chaptersOf(null, 'p1', null, 'p2', null) });
    expect(await shown(written)).toEqual([10, 10, 10, 20, 20]);
    expect(await widths(written)).toEqual([null, 10, null, 20, null]);
  });
});

test('sound refers to titles first, then to pictures', async () => {
  const written = await change(book(false), { chapters: chaptersOf('p1') });
  const moov = findBox(parseBoxes(written), 'moov');
  const [sound] = moov
    ? parseBoxes(written, moov.content, moov.end).filter(({ type }) => type === 'trak')
    : [];
  expect(sound && chapterTrackIds(written, sound)).toEqual([2, 3]);
});

/** A file with one chapter, in which a picture follows another every second. */
function slides(...pictures: readonly NewPicture[]): Uint8Array {
  const file = book(false);
  const movie = findBox(parseBoxes(file), 'moov');
  if (!movie) throw new Error('a file without moov');
  const stills = pictures.map((picture, startSeconds) => ({ startSeconds, picture }));
  const laid = withChapterTracks(file.slice(movie.start), chaptersOf(undefined), stills, null, file.length);
  if (!laid) throw new Error('no tracks');
  placeSamples(laid.moov, laid, movie.start + laid.moov.length + 8, file.length);
  return concat([file.subarray(0, movie.start), laid.moov, makeBox('mdat', laid.samples)]);
}

test('pictures that are shown within a chapter stay at their times', async () => {
  const file = slides(png(10), png(20), png(30));
  expect(await widths(file)).toEqual([10]);
  /** What is shown at the beginning of each second. */
  const shownIn = async (of: Uint8Array) => {
    const stills = stillsIn(memorySource(of), await readMp4(memorySource(of)));
    const at = [0, 1, 2, 3].map((second) => stills?.at(stills.indexAt(second)));
    return (await Promise.all(at)).map((picture) => picture && readPictureSize(picture.bytes)?.width);
  };
  const [chapter] = chaptersOf(undefined) as [Chapter];
  const named = await change(file, { chapters: [{ ...chapter, title: 'A longer title' }] });
  expect(await shownIn(named)).toEqual([10, 20, 30, 30]);
  const parted = await change(file, { chapters: [chapter, { ...chapter, startSeconds: 2.5 }] });
  expect(await shownIn(parted)).toEqual([10, 20, 30, null]);
  const other = await change(file, { chapters: chaptersOf('jpeg', 'jpeg') });
  expect(await shownIn(other)).toEqual([7, 7, 30, 30]);
});

test('pictures that would follow the end are left out, and leave no empty track', async () => {
  const movie = book(false).slice(findBox(parseBoxes(book(false)), 'moov')?.start);
  const late = { startSeconds: 20, picture: png(10) };
  const bare = { startSeconds: 0, picture: null };
  const laid = withChapterTracks(movie, chaptersOf(undefined), [bare, late], null, 1000);
  expect(laid && Buffer.from(laid.moov).includes('vmhd')).toBe(false);
});

test('what a file claims to be pictures is not read over and over', async () => {
  const most = 12 * 1024 * 1024;
  const file = slides(png(10, most), png(20, most), png(30, most));
  // None of them is one any more.
  for (let at = 0; (at = Buffer.from(file).indexOf('PNG', at)) >= 0;) file[at] = 0;
  let bytes = 0;
  const inner = memorySource(file);
  const source = {
    size: inner.size,
    read: (start: number, end: number) => {
      bytes += end - start;
      return inner.read(start, end);
    },
  };
  const stills = stillsIn(source, await readMp4(source));
  bytes = 0;
  for (const index of [0, 1, 2]) expect(await stills?.at(index)).toBeNull();
  expect(bytes).toBeGreaterThan(most);
  expect(bytes).toBeLessThan(3 * most);
  expect(stills?.isFull).toBe(true);
});

test('pictures of another program that are too large to be read are not lost either', async () => {
  const most = 20 * 1024 * 1024;
  const file = slides(png(10, most), png(20, most));
  expect(await widths(file)).toEqual([10]);
  await expect(change(file, { chapters: chaptersOf(undefined) })).rejects.toThrow(/over 24 MiB/);
});

test('pictures that have no place are refused, not lost', async () => {
  const backwards = [...chaptersOf('p1', 'p2')].reverse();
  await expect(change(book(false), { chapters: backwards })).rejects.toThrow(/pictures of them/);
  const huge = new Map([['p1' as PictureId, png(10, 25 * 1024 * 1024)]]);
  await expect(change(book(false), { chapters: chaptersOf('p1'), chapterPictures: huge })).rejects.toThrow(
    /over 24 MiB/,
  );
});

test('samples that are no picture, or pass the end, are none', async () => {
  const written = await change(book(false), { chapters: chaptersOf('p1', 'p2', 'p3') });
  const broken = written.slice();
  broken[Buffer.from(broken).indexOf('PNG')] = 0;
  expect(await widths(broken)).toEqual([null, 20, 30]);
  // The second of the sizes, behind version, common size and count.
  const sizes = Buffer.from(written).lastIndexOf('stsz') + 'stsz'.length + 12;
  new DataView(broken.buffer).setUint32(sizes + 4, 0x7fffffff);
  expect(await widths(broken)).toEqual([null, null, 30]);
});
