import { ascii, concat, u16, u24, u32, u32le, type ByteSource } from '../../src/lib/core/bytes';
import { makeBox } from '../../src/lib/formats/mp4';

/* Files that are small or sparse and ask for endless work. Each was seen to cost many seconds or a gigabyte. */

export interface Bomb {
  readonly name: string;
  readonly path: string;
  readonly source: () => ByteSource;
}

const MB = 1_048_576;

/** A head, then one byte over and over, as long as it says; only what is read is ever made. */
function padded(head: Uint8Array, size: number, fill = 0): ByteSource {
  return {
    size,
    read: async (start, end) => {
      const out = new Uint8Array(Math.max(0, Math.min(end, size) - start)).fill(fill);
      if (start < head.length) out.set(head.subarray(start, Math.min(head.length, end)));
      return out;
    },
  };
}

/** The same few bytes over and over behind a head. */
function repeated(head: Uint8Array, unit: Uint8Array, count: number): Uint8Array {
  const out = new Uint8Array(head.length + unit.length * count);
  out.set(head);
  for (let index = 0; index < count; index++) out.set(unit, head.length + index * unit.length);
  return out;
}
const whole = (bytes: Uint8Array): ByteSource => padded(bytes, bytes.length);

const synced = (value: number) =>
  Uint8Array.of((value >>> 21) & 0x7f, (value >>> 14) & 0x7f, (value >>> 7) & 0x7f, value & 0x7f);
const id3 = (size: number, body: Uint8Array = new Uint8Array(0)) =>
  concat([ascii('ID3'), Uint8Array.of(4, 0, 0), synced(size), body]);

const FTYP = makeBox('ftyp', ascii('M4B '), u32(0), ascii('M4B '));
const full = (...content: Uint8Array[]) => [u32(0), ...content];
const handler = (type: string) => makeBox('hdlr', ...full(u32(0), ascii(type), new Uint8Array(13)));

/** A chapter track whose tables count 2³² entries that are not there. */
function chapterCount(): Uint8Array {
  const table = makeBox(
    'stbl',
    makeBox('stsd', ...full(u32(0))),
    makeBox('stts', ...full(u32(1), u32(0xffffffff), u32(1))),
    makeBox('stsz', ...full(u32(0), u32(0xffffffff))),
    makeBox('stsc', ...full(u32(0xffffffff), u32(1), u32(0), u32(1))),
    makeBox('stco', ...full(u32(0xffffffff))),
  );
  const track = (id: number, type: string, ...more: Uint8Array[]) =>
    makeBox(
      'trak',
      makeBox('tkhd', ...full(u32(0), u32(0), u32(id))),
      ...more,
      makeBox(
        'mdia',
        makeBox('mdhd', ...full(u32(0), u32(0), u32(1000), u32(9))),
        handler(type),
        makeBox('minf', table),
      ),
    );
  const moov = makeBox('moov', track(1, 'soun', makeBox('tref', makeBox('chap', u32(2)))), track(2, 'text'));
  return concat([FTYP, moov, makeBox('mdat', new Uint8Array(166_000))]);
}

const manyBoxes = (type: string, count: number) =>
  concat([FTYP, makeBox('moov', repeated(new Uint8Array(0), makeBox(type), count)), makeBox('mdat')]);

function nested(depth: number): Uint8Array {
  let box = makeBox('udta');
  for (let level = 0; level < depth; level++) box = makeBox(level % 2 ? 'udta' : 'trak', box);
  return concat([FTYP, makeBox('moov', box), makeBox('mdat')]);
}

const STREAMINFO = new Uint8Array(34);
const flacBlock = (type: number, content: Uint8Array, last = false) =>
  concat([Uint8Array.of(type | (last ? 0x80 : 0)), u24(content.length), content]);
const comments = (count: number, real = count) => repeated(concat([u32le(0), u32le(count)]), u32le(0), real);

const riff = (chunks: Uint8Array) => concat([ascii('RIFF'), u32le(chunks.length + 4), ascii('WAVE'), chunks]);
const form = (chunks: Uint8Array) => concat([ascii('FORM'), u32(chunks.length + 4), ascii('AIFF'), chunks]);

const EBML = concat([u32(0x1a45dfa3), Uint8Array.of(0x80)]);
const sized = (size: number) => concat([Uint8Array.of(0x01), u24(0), u32(size)]);
const segment = (content: Uint8Array, size = content.length) =>
  concat([EBML, u32(0x18538067), sized(size), content]);
const element = (id: Uint8Array, content: Uint8Array, size = content.length) =>
  concat([id, sized(size), content]);

function oggPages(count: number): Uint8Array {
  const page = (flags: number, body: Uint8Array) =>
    concat([
      ascii('OggS'),
      Uint8Array.of(0, flags),
      new Uint8Array(20),
      Uint8Array.of(1, Math.min(255, body.length)),
      body,
    ]);
  const head = page(2, concat([ascii('OpusHead'), Uint8Array.of(1, 2), u16(0), new Uint8Array(7)]));
  return repeated(head, page(0, new Uint8Array(255)), count);
}

export const BOMBS: readonly Bomb[] = [
  { name: 'M4B whose chapter table counts 2³² chunks', path: 'a.m4b', source: () => whole(chapterCount()) },
  { name: '5 MB moov of empty boxes', path: 'a.m4a', source: () => whole(manyBoxes('free', 655_360)) },
  { name: 'a million empty tracks', path: 'a.mp4', source: () => whole(manyBoxes('trak', 1_000_000)) },
  { name: 'boxes 100,000 deep', path: 'a.mp4', source: () => whole(nested(2000)) },
  {
    name: '64 MB of outermost boxes',
    path: 'a.mp4',
    source: () => whole(repeated(FTYP, makeBox('free'), 8 * MB)),
  },
  {
    name: 'Matroska with a seek head of a gigabyte',
    path: 'a.mkv',
    source: () =>
      padded(concat([EBML, u32(0x18538067), sized(1400 * MB), u32(0x114d9b74), sized(1399 * MB)]), 1500 * MB),
  },
  {
    name: 'Matroska with millions of track entries',
    path: 'a.mkv',
    source: () =>
      whole(
        segment(element(u32(0x1654ae6b), repeated(new Uint8Array(0), Uint8Array.of(0xae, 0x80), 8 * MB))),
      ),
  },
  {
    name: 'Matroska with millions of tags',
    path: 'a.mkv',
    source: () => {
      const simple = Uint8Array.of(0x67, 0xc8, 0x80);
      const tag = element(Uint8Array.of(0x73, 0x73), repeated(new Uint8Array(0), simple, 4000));
      return whole(segment(element(u32(0x1254c367), repeated(new Uint8Array(0), tag, 1200))));
    },
  },
  {
    name: 'Matroska of millions of empty elements',
    path: 'a.mkv',
    source: () => whole(segment(repeated(new Uint8Array(0), Uint8Array.of(0xec, 0x80), 16 * MB))),
  },
  {
    name: 'FLAC metadata, then 64 MB of zeros',
    path: 'a.flac',
    source: () => padded(concat([ascii('fLaC'), flacBlock(0, STREAMINFO)]), 64 * MB),
  },
  {
    name: 'FLAC with metadata whole, then 64 MB of zeros',
    path: 'a.flac',
    source: () => padded(concat([ascii('fLaC'), flacBlock(0, STREAMINFO, true)]), 64 * MB),
  },
  {
    name: 'FLAC with millions of empty comments',
    path: 'a.flac',
    source: () =>
      whole(
        concat([
          ascii('fLaC'),
          flacBlock(0, STREAMINFO),
          flacBlock(4, comments(4_000_000), true),
          new Uint8Array(9),
        ]),
      ),
  },
  {
    name: 'FLAC that counts 2³² comments',
    path: 'a.flac',
    source: () =>
      whole(concat([ascii('fLaC'), flacBlock(0, STREAMINFO), flacBlock(4, comments(0xffffffff, 3), true)])),
  },
  { name: 'a short ID3 tag, then 0xFF', path: 'a.mp3', source: () => padded(id3(0), 8 * MB, 0xff) },
  {
    name: 'no tag, zeros, and a mark now and then',
    path: 'a.mp3',
    source: () => whole(repeated(id3(0), Uint8Array.of(0xff, 0xfb, 0x90, 0, 0, 0, 0), MB)),
  },
  { name: 'an ID3 tag of 256 MB', path: 'a.mp3', source: () => padded(id3(0x0fffffff), 300 * MB) },
  {
    name: 'an ID3 tag of a million empty frames',
    path: 'a.mp3',
    source: () =>
      whole(id3(20 * MB, repeated(new Uint8Array(0), concat([ascii('TXXX'), u32(0), u16(0)]), 2 * MB))),
  },
  {
    name: 'ID3 frames that unfold to gigabytes',
    path: 'a.mp3',
    source: () => {
      const data = concat([synced(0x0fffffff), Uint8Array.of(0x78, 0x9c), new Uint8Array(64)]);
      const frame = concat([ascii('TXXX'), synced(data.length), u16(0x0009), data]);
      return padded(id3(frame.length * 5000, repeated(new Uint8Array(0), frame, 5000)), 2 * MB);
    },
  },
  {
    name: 'WAV of millions of empty chunks',
    path: 'a.wav',
    source: () => whole(riff(repeated(new Uint8Array(0), concat([ascii('abcd'), u32le(0)]), 2 * MB))),
  },
  {
    name: 'WAV with a list of millions of empty texts',
    path: 'a.wav',
    source: () => {
      const info = repeated(ascii('INFO'), concat([ascii('INAM'), u32le(0)]), 2 * MB);
      return whole(riff(concat([ascii('LIST'), u32le(info.length), info])));
    },
  },
  {
    name: 'AIFF of millions of empty chunks',
    path: 'a.aiff',
    source: () => whole(form(repeated(new Uint8Array(0), concat([ascii('ANNO'), u32(0)]), 2 * MB))),
  },
  {
    name: 'AIFF with a text of a gigabyte',
    path: 'a.aiff',
    source: () =>
      padded(
        concat([
          form(new Uint8Array(0)).subarray(0, 4),
          u32(1400 * MB),
          ascii('AIFF'),
          ascii('NAME'),
          u32(1399 * MB),
        ]),
        1500 * MB,
      ),
  },
  { name: 'Opus whose headers never end', path: 'a.opus', source: () => whole(oggPages(100_000)) },
];
