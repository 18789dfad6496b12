import { ALL_FORMATS, BufferSource, Input } from 'mediabunny';
import { beforeAll, describe, expect, test } from 'vitest';
import { joinSpans, keepsRange, memorySource, type ByteSource } from '../../src/lib/core/bytes';
import { editContent, fieldText, type Edits, type FormatId, type PictureId } from '../../src/lib/core/items';
import { WRITABLE, outgoingOf, type TagChanges } from '../../src/lib/formats';
import { readMedia } from '../../src/lib/formats/reading';
import { demoMemory } from '../helpers/demo';
import {
  decodedDigest,
  ffprobeChapters,
  ffprobeStills,
  ffprobeTags,
  ffprobeTracks,
  hasFfmpeg,
  hasMutagen,
  mutagenTags,
  withFile,
} from '../helpers/foreign-readers';
import { makeItem } from '../helpers/items';
import { makePng } from '../helpers/picture-bytes';

interface Case {
  readonly name: string;
  readonly path: string;
  readonly format: FormatId;
}

const CASES: readonly Case[] = [
  {
    name: 'MP3 with ID3v2.3 and ID3v1',
    path: 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3',
    format: 'mp3',
  },
  {
    name: 'MP3 with ID3v2.4',
    path: 'Music/The Tidewrack Choir/Fathom Songs/4 - Drowned Bell.mp3',
    format: 'mp3',
  },
  { name: 'MP3 without tags', path: 'Drop/07 Slack Before Storm (take 2).mp3', format: 'mp3' },
  { name: 'FLAC', path: 'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac', format: 'flac' },
  {
    name: 'M4A',
    path: 'Music/Orla Venn/Nine Lamps Burning/02 Harbour Bell_ A Watch Song.m4a',
    format: 'mp4',
  },
  { name: 'M4B with chapters', path: "Books/The Lamp Keeper's Almanac.m4b", format: 'mp4' },
  { name: 'MP4 with moov first', path: 'Music Videos/The Tidewrack Choir - Low Water.mp4', format: 'mp4' },
  { name: 'MP4 with moov last', path: 'Music Videos/Kelp Road film/kelp_road_final2.mp4', format: 'mp4' },
  { name: 'MP4 without tags', path: 'Drop/clip_004.mp4', format: 'mp4' },
  { name: 'Opus', path: 'Music/Halyard & Daughters/Quiet Engines/01 Donkey Engine.opus', format: 'opus' },
  {
    name: 'Ogg Vorbis',
    path: 'Music/Halyard & Daughters/Quiet Engines/02 Oil and Patience.ogg',
    format: 'vorbis',
  },
  { name: 'FLAC in Ogg', path: '../tests/fixtures/containers/tone.oga', format: 'oggFlac' },
  { name: 'Matroska', path: 'Music Videos/Halyard & Daughters - Donkey Engine.mkv', format: 'matroska' },
  { name: 'WebM', path: 'Drop/Orla Venn - Harbour Bell.webm', format: 'matroska' },
  { name: 'WAV', path: 'Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav', format: 'wav' },
  { name: 'AIFF', path: 'Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff', format: 'aiff' },
  { name: 'DSF', path: '../tests/fixtures/containers/tone.dsf', format: 'dsf' },
  { name: 'DFF', path: '../tests/fixtures/containers/tone.dff', format: 'dff' },
];

const EVERYTHING: Edits = {
  title: 'Øyets lys – «наутилус» 海',
  artist: ['Ívar Høst'],
  albumArtist: 'The Skerry House Band',
  album: 'Ebb & Flood <live>',
  track: 7,
  tracks: 19,
  disc: 2,
  discs: 3,
  genre: ['sea choir'],
  composer: ['Maren Ødegård'],
  compilation: true,
  show: 'Vér siglum',
  season: 4,
  episode: 12,
  narrator: ['Ines Marrable'],
  date: '2021-05-30',
  description: 'Two lines of it:\nthe second – 海',
  lyrics: 'Haul, haul\n«away» 海',
  series: 'Tales of the Skerry',
  part: 3,
  edition: 'remaster 2021',
  outsideNumber: 'catalogue-1234',
  titleSort: 'Oyets lys',
  artistSort: 'Høst, Ívar',
  albumSort: 'Ebb and Flood',
  albumArtistSort: 'Skerry House Band, The',
  language: 'gd',
  rating: 80,
  trackGain: -7.32,
  albumGain: 0.5,
  comment: 'From the loft.\n海',
  notes: 'ask Maren',
};

/** What an INFO list of WAV has no place for, or the demo's none of: ffprobe reads no tag beside it. */
const BESIDE_INFO = {
  album_artist: EVERYTHING.albumArtist,
  album: EVERYTHING.album,
  genre: EVERYTHING.genre?.[0],
  composer: EVERYTHING.composer?.[0],
};

async function write(source: ByteSource, format: FormatId, changes: TagChanges): Promise<Uint8Array> {
  const writable = WRITABLE.get(format);
  if (!writable) throw new Error(format);
  const { rewrite } = await writable.load();
  const { spans, payload } = await rewrite(source, changes);
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(source, spans);
}

const extension = (path: string) => path.slice(path.lastIndexOf('.') + 1);

describe.each(CASES)('$name', ({ path, format }) => {
  const hasPictures = !path.endsWith('.webm');
  const readsMutagen = hasMutagen && format !== 'matroska';
  // It reads no tags of DFF.
  const readsFfprobe = hasFfmpeg && format !== 'dff';
  let original: ByteSource;
  beforeAll(async () => {
    original = await demoMemory(path);
  });
  let decoded: string | undefined;
  /** What the original decodes to: worked out once, for all that is held against it. */
  const digestBefore = async () =>
    (decoded ??= withFile(await original.read(0, original.size), extension(path), decodedDigest));

  test('every field is written and read back', async () => {
    const bytes = await write(original, format, { fields: EVERYTHING });
    const {
      file: { fields },
    } = await readMedia(memorySource(bytes), path);
    expect(fields).toEqual(EVERYTHING);
  });

  // It knows no tags of FLAC in Ogg, no AIFF and DSD, and of Matroska those of a whole album alone.
  test.runIf(!['oggFlac', 'aiff', 'dsf', 'dff', 'matroska'].includes(format))(
    'another parser of the registry reads the same',
    async () => {
      // Of a WAV file it takes the INFO list for more than its tag, and that for Latin-1.
      const plain: Edits = format === 'wav' ? { title: 'Lamp eye', artist: ['I. Host'] } : {};
      const expected = { ...EVERYTHING, ...plain };
      const bytes = await write(original, format, { fields: expected });
      const input = new Input({ source: new BufferSource(bytes), formats: ALL_FORMATS });
      const tags = await input.getMetadataTags();
      expect(tags).toMatchObject({
        title: expected.title,
        artist: expected.artist?.[0],
        albumArtist: EVERYTHING.albumArtist,
        album: EVERYTHING.album,
        genre: EVERYTHING.genre?.[0],
        trackNumber: 7,
        tracksTotal: 19,
        discNumber: 2,
        discsTotal: 3,
      });
      expect(tags.date?.getUTCFullYear()).toBe(2021);
    },
  );

  test('what is not changed stays as it was, chapters and pictures included', async () => {
    const before = await readMedia(original, path);
    const bytes = await write(original, format, { fields: { title: 'Only this' } });
    const after = await readMedia(memorySource(bytes), path);
    expect(after.file.fields).toEqual({ ...before.file.fields, title: 'Only this' });
    expect(after.file.chapters).toEqual(before.file.chapters);
    expect(after.file.pictures).toEqual(before.file.pictures);
    expect(after.facts.durationSeconds).toBeCloseTo(before.facts.durationSeconds ?? -1, 1);
    const others = (native: typeof after.native) =>
      native.filter(({ id }) => !/TIT2|TITLE|nam$|title|^NAME$/i.test(id));
    expect(others(after.native)).toEqual(others(before.native));
  });

  test('every field can be emptied', async () => {
    const filled = memorySource(await write(original, format, { fields: EVERYTHING }));
    const nothing = Object.fromEntries(Object.keys(EVERYTHING).map((name) => [name, null])) as Edits;
    const {
      file: { fields },
    } = await readMedia(memorySource(await write(filled, format, { fields: nothing })), path);
    expect(Object.values(fields).every((value) => value === null)).toBe(true);
  });

  test.runIf(hasPictures)('a picture takes the place of the old front picture', async () => {
    const bytes = makePng(620, 620);
    const written = await write(original, format, {
      fields: {},
      pictures: new Map([['front', { mime: 'image/png', width: 620, height: 620, bytes }]]),
    });
    const { file } = await readMedia(memorySource(written), path);
    expect(file.pictures).toHaveLength(1);
    expect(file.pictures[0]).toMatchObject({
      width: 620,
      height: 620,
      bytes: bytes.length,
      mime: 'image/png',
    });
  });

  test.runIf(hasPictures)('pictures that are removed are gone, and nothing else is', async () => {
    const bytes = makePng(320, 320);
    const picture = { mime: 'image/png', width: 320, height: 320, bytes };
    const shown = await write(original, format, { fields: {}, pictures: new Map([['front', picture]]) });
    const before = await readMedia(memorySource(shown), path);
    const bare = await write(memorySource(shown), format, {
      fields: {},
      pictures: new Map([['front', null]]),
    });
    const after = await readMedia(memorySource(bare), path);
    expect(after.file).toEqual({ ...before.file, pictures: [] });
    expect(Buffer.from(bare).includes(Buffer.from(bytes))).toBe(false);
    if (hasFfmpeg && readsFfprobe)
      expect(withFile(bare, extension(path), decodedDigest)).toBe(await digestBefore());
  });

  test.runIf(hasFfmpeg && /\.(mkv|webm|mp4)$/.test(path))(
    'other readers find names and languages of tracks, and decode the same',
    async () => {
      const name = 'Øyets lys, as the keeper tells it';
      const chapters = [{ startSeconds: 0, endSeconds: null, title: 'One', link: null }];
      const tracks = [{ id: 2, name, language: 'gd' }];
      const written = await write(original, format, { fields: {}, tracks, chapters });
      const { file } = await readMedia(memorySource(written), path);
      expect(file.tracks?.find(({ id }) => id === 2)).toMatchObject({
        name,
        language: 'gd',
      });
      const digest = await digestBefore();
      withFile(written, extension(path), (one) => {
        expect(decodedDigest(one)).toBe(digest);
        const [title, language] = ffprobeTracks(one)[1] ?? [];
        expect(language).toBe('gla');
        // Of an MP4 it tells no names.
        if (format === 'matroska') expect(title).toBe(name);
      });
      const input = new Input({ source: new BufferSource(written), formats: ALL_FORMATS });
      const [, second] = await input.getTracks();
      expect(await second?.getName()).toBe(name);
    },
  );

  test('a second rewrite of the same changes gives the same bytes', async () => {
    const once = await write(original, format, { fields: EVERYTHING });
    const twice = await write(memorySource(once), format, { fields: EVERYTHING });
    expect(Buffer.from(twice).equals(Buffer.from(once))).toBe(true);
  });

  test.runIf(readsFfprobe)('ffprobe reads the chapters', async () => {
    const starts = [0, 4.5, 11] as const;
    const titles = ['Fog', 'Low «Water» 海', 'Øyets lys'];
    const chapters = titles.map((title, at) => ({
      startSeconds: starts[at] as number,
      endSeconds: starts[at + 1] ?? null,
      title,
      link: null,
    }));
    const read = await readMedia(original, path);
    const item = makeItem('x', {}, { format, path, facts: read.facts, file: read.file });
    const edits = outgoingOf(editContent(item, { chapters }), null)?.edits ?? {};
    const bytes = await write(original, format, { fields: {}, chapters: edits.chapters });
    // Players that know the track of titles alone read them as well: without the list nothing else tells of them.
    const list = Buffer.from(bytes).indexOf('chpl');
    const hidden = Buffer.from(bytes);
    if (format === 'mp4') hidden.write('free', list, 'latin1');
    for (const one of format === 'mp4' ? [bytes, hidden] : [bytes]) {
      const told = withFile(one, extension(path), ffprobeChapters);
      expect(told.map(([, title]) => title)).toEqual(titles);
      for (const [at, [start]] of told.entries()) expect(start).toBeCloseTo(starts[at] as number, 2);
    }
    const digest = await digestBefore();
    expect(withFile(bytes, extension(path), decodedDigest)).toBe(digest);
  });

  test.runIf(readsFfprobe)('ffprobe reads it, and the sound decodes to the same samples', async () => {
    const bytes = await write(original, format, {
      fields: EVERYTHING,
      pictures: hasPictures
        ? new Map([['front', { mime: 'image/png', width: 500, height: 500, bytes: makePng(500, 500) }]])
        : undefined,
    });
    const wanted = await digestBefore();
    withFile(bytes, extension(path), (file) => {
      expect(decodedDigest(file)).toBe(wanted);
      expect(ffprobeTags(file)).toMatchObject({
        title: EVERYTHING.title,
        artist: EVERYTHING.artist?.[0],
        ...(format !== 'wav' && BESIDE_INFO),
      });
    });
  });

  test.runIf(readsMutagen && !/\.(m4a|m4b|mp4)$/.test(path))(
    'mutagen reads lyrics with their times',
    async () => {
      const timed = [
        { startSeconds: 1.25, text: 'Øyets lys' },
        { startSeconds: 4, text: 'Haul away' },
      ];
      const bytes = await write(original, format, { fields: {}, timed });
      const values = Object.values(withFile(bytes, extension(path), mutagenTags)).join('\n');
      expect(values).toMatch(/\[(1250ms|00:01\.250)\]:? ?Øyets lys/);
      expect(values).toMatch(/\[(4000ms|00:04\.000)\]:? ?Haul away/);
    },
  );

  test.runIf(hasMutagen && ['mp3', 'wav', 'aiff', 'dsf', 'dff'].includes(format))(
    'mutagen reads the pictures of chapters',
    async () => {
      const picture = { id: 'p' as PictureId, mime: 'image/png', bytes: 1, width: 40, height: 40 };
      const bytes = makePng(40, 40);
      const chapters = [null, picture].map((own, at) => ({
        startSeconds: at * 3,
        endSeconds: null,
        title: `Part ${at}`,
        link: null,
        picture: own,
      }));
      const chapterPictures = new Map([[picture.id, { ...picture, bytes }]]);
      const written = await write(original, format, { fields: {}, chapters, chapterPictures });
      const told = withFile(written, extension(path), mutagenTags);
      expect(told['CHAP:chp0']).toContain("'TIT2'");
      expect(told['CHAP:chp0']).not.toContain('APIC');
      expect(told['CHAP:chp1']).toMatch(/APIC.*image\/png/);
      const { file } = await readMedia(memorySource(written), path);
      expect(file.chapters.map(({ picture: read }) => read?.bytes)).toEqual([undefined, bytes.length]);
    },
  );

  test.runIf(hasFfmpeg && format === 'mp4')('ffprobe reads the pictures of chapters', async () => {
    const pictures = [10, 0, 12].map((width) => (width === 0 ? null : makePng(width, width)));
    const chapters = pictures.map((own, at) => ({
      startSeconds: at * 0.3,
      endSeconds: null,
      title: `Part ${at}`,
      link: null,
      picture: own && { id: `p${at}` as PictureId, mime: 'image/png', bytes: 1, width: 9, height: 9 },
    }));
    const chapterPictures = new Map(
      pictures.flatMap((own, at) =>
        own ? [[`p${at}` as PictureId, { mime: 'image/png', width: 9, height: 9, bytes: own }] as const] : [],
      ),
    );
    const front = { mime: 'image/png', width: 50, height: 50, bytes: makePng(50, 50) };
    const written = await write(original, format, {
      fields: {},
      chapters,
      chapterPictures,
      pictures: new Map([['front', front]]),
    });
    const lengths = [pictures[0]?.length, front.bytes.length, pictures[2]?.length];
    expect(withFile(written, extension(path), ffprobeStills)).toEqual(
      lengths.map((length, at) => [at * 0.3, length]),
    );
    const digest = await digestBefore();
    expect(withFile(written, extension(path), decodedDigest)).toBe(digest);
  });

  test.runIf(readsMutagen)('mutagen reads fields and picture', async () => {
    const picture = makePng(510, 510);
    const bytes = await write(original, format, {
      fields: EVERYTHING,
      pictures: new Map([['front', { mime: 'image/png', width: 510, height: 510, bytes: picture }]]),
    });
    const tags = withFile(bytes, extension(path), mutagenTags);
    const values = Object.values(tags).join('\n');
    if (['mp3', 'wav', 'aiff', 'dsf', 'dff'].includes(format)) expect(tags['POPM:']).toContain('rating=204');
    for (const field of ['title', 'artist', 'albumArtist', 'album', 'genre', 'composer'] as const)
      expect(values).toContain(fieldText(EVERYTHING[field] ?? null));
    expect(values).toMatch(/7\/19|\(7, 19\)|\n7\n|^7$/m);
    expect(tags.pictures).toBe(String(picture.length));
  });
});
