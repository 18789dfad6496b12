import { parseBuffer, type IAudioMetadata } from 'music-metadata';
import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, memorySource, u16, u32, u32le } from '../../src/lib/core/bytes';
import { WRITABLE } from '../../src/lib/formats';
import { readMedia, readPicture, type MediaRead } from '../../src/lib/formats/reading';
import { demoPaths, demoMemory } from '../helpers/demo';
import { makePng } from '../helpers/picture-bytes';

/** What our own readers tell beside the parsing package, as a reader that is not ours. */
function told({ facts, file: { fields, pictures } }: MediaRead) {
  const [stream] = facts.streams;
  return {
    codec: stream?.codec,
    channels: stream?.channels,
    sampleRate: stream?.sampleRate,
    pictures: pictures.map(({ mime, bytes }) => [mime, bytes]),
    title: fields.title,
    artist: fields.artist,
    album: fields.album,
    albumArtist: fields.albumArtist,
    genre: fields.genre,
    track: [fields.track, fields.tracks],
    composer: fields.composer,
  };
}

function toldByPackage({ format, common }: IAudioMetadata, isMp4: boolean): ReturnType<typeof told> {
  return {
    codec: format.codec,
    channels: format.numberOfChannels,
    sampleRate: format.sampleRate,
    pictures: (common.picture ?? []).map(({ format: mime, data }) => [mime, data.length]),
    title: common.title ?? null,
    artist: common.artists ?? null,
    album: common.album ?? null,
    albumArtist: common.albumartist ?? null,
    genre: common.genre ?? null,
    track: [common.track.no || null, common.track.of || null],
    composer: common.composer ?? null,
    // It names the codec of MP4 in words of its own.
    ...(isMp4 && { codec: undefined, channels: undefined, sampleRate: undefined }),
  };
}

const MIMES = {
  mp3: 'audio/mpeg',
  flac: 'audio/flac',
  mp4: 'audio/mp4',
  wav: 'audio/wav',
  aiff: 'audio/aiff',
} as const;

async function compare(bytes: Uint8Array, path: string) {
  const read = await readMedia(memorySource(bytes), path);
  const mime = MIMES[read.format as keyof typeof MIMES];
  const other = await parseBuffer(bytes, { mimeType: mime }, { duration: false });
  const isMp4 = read.format === 'mp4';
  const own = {
    ...told(read),
    ...(isMp4 && { codec: undefined, channels: undefined, sampleRate: undefined }),
  };
  expect({ path, ...own }).toEqual({ path, ...toldByPackage(other, isMp4) });
  const { durationSeconds } = read.facts;
  if (other.format.duration !== undefined)
    expect(Math.abs((durationSeconds ?? 0) - other.format.duration)).toBeLessThan(0.1);
  return read;
}

const ofOurs = (await demoPaths()).filter(
  (path) => /\.(mp3|flac|m4a|m4b|mp4|wav|aiff)$/.test(path) && !/(Discs|Drop|The Unlit)\b/i.test(path),
);

describe('our own readers tell what the parsing package tells', () => {
  test.each(ofOurs)('%s', async (path) => {
    const source = await demoMemory(path);
    await compare(await source.read(0, source.size), path);
  });

  test.each([
    'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3',
    'Music/The Tidewrack Choir/Fathom Songs/4 - Drowned Bell.mp3',
    'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac',
    'Music/Orla Venn/Nine Lamps Burning/01 Who Goes There_.m4a',
  ])('%s, written with several values and another picture', async (path) => {
    const source = await demoMemory(path);
    const { format } = await readMedia(source, path);
    const { rewrite } = (await WRITABLE.get(format)?.load()) ?? {};
    const picture = { mime: 'image/png', width: 70, height: 60, bytes: makePng(70, 60) };
    const written = await rewrite?.(source, {
      fields: { title: 'Øyets lys', genre: ['sea choir'], composer: ['Ines Marrable'], track: 3, tracks: 11 },
      pictures: new Map([
        ['front', picture],
        ...(format === 'mp4' ? [] : ([['back', { ...picture, bytes: makePng(50, 60) }]] as const)),
      ]),
    });
    const bytes = await joinSpans(source, written?.spans ?? []);
    const { file } = await compare(bytes, path);
    for (const [index, { bytes: length, mime }] of file.pictures.entries()) {
      const found = await readPicture(memorySource(bytes), index);
      expect([found?.mime, found?.bytes.length]).toEqual([mime, length]);
    }
    expect(await readPicture(memorySource(bytes), file.pictures.length)).toBeNull();
  });
});

/** MPEG sound of some frames by its header's bytes. */
function sound(header: readonly number[], frameBytes: number, count: number): Uint8Array {
  const frame = new Uint8Array(frameBytes);
  frame.set(header);
  return concat(Array.from({ length: count }, () => frame));
}

const textFrame = (id: string, text: string) =>
  concat([ascii(id), u32(text.length + 1), u16(0), Uint8Array.of(0), ascii(text)]);
const tagged = (...frames: Uint8Array[]) => {
  const body = concat(frames);
  return concat([ascii('ID3'), Uint8Array.of(3, 0, 0, 0, 0, body.length >> 7, body.length & 0x7f), body]);
};

describe('the sound of MPEG is told from its first frame', () => {
  test.each([
    ['MPEG-1 layer III', [0xff, 0xfb, 0x90, 0xc4], 417],
    ['MPEG-1 layer III, two channels', [0xff, 0xfb, 0x90, 0x04], 417],
    ['MPEG-2 layer III', [0xff, 0xf3, 0x80, 0xc4], 208],
    ['MPEG-2.5 layer III', [0xff, 0xe3, 0x80, 0xc4], 417],
    ['MPEG-1 layer II', [0xff, 0xfd, 0x80, 0xc4], 522],
  ] as const)('%s', async (_, header, length) => {
    const bytes = concat([tagged(textFrame('TIT2', 'Ebb')), sound(header, length, 40)]);
    const read = await compare(bytes, 'a/ebb.mp3');
    expect(read.facts.durationSeconds).toBeGreaterThan(0.4);
  });

  test('the count of frames says the length, where it stands', async () => {
    const bytes = sound([0xff, 0xfb, 0x90, 0x04], 417, 40);
    bytes.set(concat([ascii('Xing'), u32(1), u32(4000)]), 36);
    const { facts } = await readMedia(
      memorySource(concat([tagged(textFrame('TIT2', 'Ebb')), bytes])),
      'a.mp3',
    );
    expect(facts.durationSeconds).toBeCloseTo((4000 * 1152) / 44_100, 6);
  });
});

test.each([
  ['(17)', ['Rock']],
  ['17', ['Rock']],
  ['(17)Rock', ['Rock']],
  ['(17)Sea rock', ['Rock', 'Sea rock']],
  ['(0)(17)', ['Blues', 'Rock']],
  ['(RX)', ['Remix']],
  ['((sic) folk', ['(sic) folk']],
  ['(in brackets) folk', ['(in brackets) folk']],
  ['(255)', null],
  ['folk', ['folk']],
])('a genre %s is %j', async (text, genre) => {
  const bytes = concat([tagged(textFrame('TCON', text)), sound([0xff, 0xfb, 0x90, 0xc4], 417, 10)]);
  expect((await readMedia(memorySource(bytes), 'a.mp3')).file.fields.genre).toEqual(genre);
});

describe('a WAV file that is cut', () => {
  const picture = makePng(40, 30);
  /** Its tag before the sound, as some programs lay it, then what is left of the sound. */
  async function cutFile(): Promise<{ whole: Uint8Array; tagEnd: number }> {
    const path = 'Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav';
    const original = await demoMemory(path);
    const { rewrite } = await (WRITABLE.get('wav') ?? expect.fail()).load();
    const front = { mime: 'image/png', width: 40, height: 30, bytes: picture };
    const changes = { fields: { album: 'Quiet Engines' }, pictures: new Map([['front', front]] as const) };
    const bytes = await joinSpans(original, (await rewrite(original, changes)).spans);
    const at = Buffer.from(bytes).lastIndexOf('id3 ');
    const tag = bytes.slice(at);
    const sound = bytes.slice(36, at);
    return { whole: concat([bytes.slice(0, 36), tag, sound]), tagEnd: 36 + tag.length };
  }

  test('gives its pictures by its own tag', async () => {
    const { whole, tagEnd } = await cutFile();
    const source = memorySource(whole.slice(0, tagEnd + 400));
    const { file } = await readMedia(source, 'a.wav', true);
    expect(file.fields.album).toBe('Quiet Engines');
    expect(file.pictures).toMatchObject([{ role: 'front', width: 40, bytes: picture.length }]);
    expect((await readPicture(source, 0))?.bytes).toEqual(picture);
  });

  test('says what is there of a tag that is cut itself', async () => {
    const { whole, tagEnd } = await cutFile();
    const { file } = await readMedia(memorySource(whole.slice(0, tagEnd - 700)), 'a.wav', true);
    expect(file.fields.album).toBe('Quiet Engines');
  });
});

describe('tags that are older or of another sort', () => {
  const mpeg = sound([0xff, 0xfb, 0x90, 0xc4], 417, 40);
  const short = (track: number, genre: number) => {
    const bytes = new Uint8Array(128);
    const put = (at: number, text: string) => bytes.set(ascii(text), at);
    put(0, 'TAG');
    put(3, 'Sk\u00e6r');
    put(33, 'Orla Venn');
    put(63, 'Tides');
    put(93, '1999');
    put(97, track > 0 ? 'low' : 'a comment of all thirty letters'.slice(0, 30));
    if (track > 0) bytes.set([0, track], 125);
    bytes[127] = genre;
    return bytes;
  };
  const chunk = (id: string, text: string) => {
    const bytes = new TextEncoder().encode(`${text}\0`);
    return concat([ascii(id), u32le(bytes.length), bytes, new Uint8Array(bytes.length % 2)]);
  };
  const item = (name: string, value: Uint8Array, flags = 0) =>
    concat([u32le(value.length), u32le(flags), ascii(`${name}\0`), value]);
  const apeTag = (...items: Uint8Array[]) => {
    const body = concat(items);
    const foot = [u32le(2000), u32le(body.length + 32), u32le(items.length), u32le(0), new Uint8Array(8)];
    return concat([body, ascii('APETAGEX'), ...foot]);
  };
  const text = (value: string) => new TextEncoder().encode(value);

  test.each([
    ['a short tag with a track', short(7, 17)],
    ['a short tag without one', short(0, 255)],
    [
      'a tag of APE’s sort',
      apeTag(
        item('Title', text('Skær')),
        item('Artist', text('Orla Venn\0Dag Holme')),
        item('Album Artist', text('Orla Venn')),
        item('Track', text('3/11')),
        item('Genre', text('folk')),
      ),
    ],
    ['both', concat([apeTag(item('Title', text('Whole'))), short(7, 17)])],
  ])('%s', async (_what, tail) => {
    const { file, facts } = await compare(concat([mpeg, tail]), 'a/old.mp3');
    expect(file.fields.title).toMatch(/Sk\u00e6r|Whole/);
    expect(facts.tagFormats.every((sort) => /^(APEv2|ID3v1)$/.test(sort))).toBe(true);
  });

  test('a picture in a tag of APE’s sort is found, and its bytes', async () => {
    const png = makePng(20, 10);
    const tail = apeTag(item('Cover Art (Front)', concat([text('front.png\0'), png]), 0b010));
    const bytes = concat([mpeg, tail]);
    const { file } = await readMedia(memorySource(bytes), 'a.mp3');
    expect(file.pictures).toMatchObject([{ role: 'front', width: 20, height: 10, bytes: png.length }]);
    expect((await readPicture(memorySource(bytes), 0))?.bytes).toEqual(png);
  });

  test('texts of an INFO list, in UTF-8 and in what came before it', async () => {
    const info = concat([
      ascii('INFO'),
      chunk('INAM', 'Sk\u00e6r'),
      chunk('IART', 'Orla Venn'),
      chunk('IPRD', 'Tides'),
      chunk('ICRD', '1999'),
      chunk('IGNR', 'folk'),
      chunk('ITRK', '4'),
    ]);
    const older = concat([ascii('INFO'), ascii('INAM'), u32le(5), ascii('Sk\u00e6r\0'), new Uint8Array(1)]);
    const fmt = concat([
      ascii('fmt '),
      u32le(16),
      Uint8Array.of(1, 0, 1, 0),
      u32le(8000),
      u32le(16_000),
      Uint8Array.of(2, 0, 16, 0),
    ]);
    const wav = (list: Uint8Array) => {
      const data = concat([ascii('data'), u32le(16_000), new Uint8Array(16_000)]);
      const body = concat([ascii('WAVE'), fmt, ascii('LIST'), u32le(list.length), list, data]);
      return concat([ascii('RIFF'), u32le(body.length), body]);
    };
    const { file, facts, native } = await readMedia(memorySource(wav(info)), 'a.wav');
    expect(file.fields).toMatchObject({
      title: 'Sk\u00e6r',
      artist: ['Orla Venn'],
      album: 'Tides',
      date: '1999',
      genre: ['folk'],
      track: 4,
    });
    expect([facts.tagFormats, native[0]]).toEqual([
      ['INFO'],
      { format: 'INFO', id: 'INAM', value: 'Sk\u00e6r' },
    ]);
    expect((await readMedia(memorySource(wav(older)), 'a.wav')).file.fields.title).toBe('Sk\u00e6r');
  });
});

test('tags before the sound of which none says anything leave the file one that can be read', async () => {
  const silent = concat([ascii('ID3'), Uint8Array.of(3, 0, 0, 0, 2, 0, 0), new Uint8Array(32_768)]);
  const bytes = concat([silent, silent, silent, sound([0xff, 0xfb, 0x90, 0xc4], 417, 40)]);
  const { file, facts } = await readMedia(memorySource(bytes), 'a/silent.mp3');
  expect([file.fields.title, facts.tagFormats]).toEqual([null, []]);
  expect(facts.durationSeconds).toBeGreaterThan(0.9);
});
