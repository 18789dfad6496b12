import { describe, expect, test } from 'vitest';
import {
  ascii,
  concat,
  joinSpans,
  keepsRange,
  memorySource,
  readU32,
  readU32le,
  u32,
  u32le,
} from '$lib/core/bytes';
import type { Edits } from '$lib/core/items';
import { readChunks } from './chunks';
import { chunkBytes } from './layout';
import { readNative } from './reader';
import { rewrite } from './writer';

const SOUND = ascii('samples of sound!');
const FORMAT = chunkBytes('fmt ', new Uint8Array(16), 'riff');
const data = (bytes = SOUND) => chunkBytes('data', bytes, 'riff');
const text = (id: string, value: string) => chunkBytes(id, ascii(`${value}\0`), 'riff');
const info = (...texts: Uint8Array[]) => chunkBytes('LIST', concat([ascii('INFO'), ...texts]), 'riff');

function wav(...chunks: Uint8Array[]): Uint8Array {
  const body = concat([ascii('WAVE'), FORMAT, ...chunks]);
  return concat([ascii('RIFF'), u32le(body.length), body]);
}

async function write(file: Uint8Array, fields: Edits) {
  const source = memorySource(file);
  const { spans, payload } = await rewrite(source, { fields });
  expect(payload).toHaveLength(1);
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(source, spans);
}

async function chunksOf(file: Uint8Array, order: 'riff' | 'iff' = 'riff') {
  const out: [string, Uint8Array][] = [];
  for await (const { id, start, end } of readChunks(memorySource(file), order))
    out.push([id, file.slice(start, end)]);
  return out;
}
const idsOf = async (file: Uint8Array, order: 'riff' | 'iff' = 'riff') =>
  (await chunksOf(file, order)).map(([id]) => id);

describe('WAV', () => {
  test('a new tag goes behind the sound, and the size counts it', async () => {
    const written = await write(wav(data(), chunkBytes('bext', new Uint8Array(7), 'riff')), { title: 'x' });
    expect(await idsOf(written)).toEqual(['fmt ', 'data', 'bext', 'id3 ']);
    expect(readU32le(written, 4)).toBe(written.length - 8);
    expect((await readNative(memorySource(written)))?.fields.title).toBe('x');
  });

  test('a tag stays where it is, and takes its own room', async () => {
    const once = await write(wav(chunkBytes('ID3 ', new Uint8Array(0), 'riff'), data()), { title: 'first' });
    expect(await idsOf(once)).toEqual(['fmt ', 'ID3 ', 'data']);
    const twice = await write(once, { title: 'a title that is longer' });
    expect(twice).toHaveLength(once.length);
  });

  test('a tag that is cut short gives way to one with what was there of it', async () => {
    const whole = await write(wav(data()), { title: 'Cold Iron', album: 'Quiet Engines' });
    const written = await write(whole.slice(0, -1000), { artist: ['Halyard'] });
    expect(await idsOf(written)).toEqual(['fmt ', 'data', 'id3 ']);
    const read = (await readNative(memorySource(written)))?.fields;
    expect(read).toMatchObject({ title: 'Cold Iron', album: 'Quiet Engines', artist: ['Halyard'] });
  });

  test('an INFO list says all of what the tag says that it can say', async () => {
    const file = wav(info(text('INAM', 'old'), text('ISFT', 'some program'), text('ICMT', 'gone')), data());
    const written = await write(file, {
      title: 'new one',
      artist: ['somebody'],
      comment: null,
      albumArtist: 'x',
    });
    const list = new Map(await chunksOf(written)).get('LIST') as Uint8Array;
    expect(list).toEqual(
      concat([
        ascii('INFO'),
        text('INAM', 'new one'),
        text('ISFT', 'some program'),
        text('IART', 'somebody'),
      ]),
    );
  });

  test('a list that is not touched stays byte for byte, odd lengths and all', async () => {
    const list = info(text('ISFT', 'some program'));
    const written = await write(wav(list, data()), { albumArtist: 'x' });
    expect(Buffer.from(written).includes(Buffer.from(list))).toBe(true);
  });

  test('a last chunk without its closing byte gets it before something follows', async () => {
    const whole = wav(data(ascii('odd')));
    const written = await write(whole.slice(0, -1), { title: 'x' });
    expect(await idsOf(written)).toEqual(['fmt ', 'data', 'id3 ']);
  });

  test('before sound that does not say where it ends the tag comes first, and the size stays open', async () => {
    const open = concat([
      ascii('RIFF'),
      u32le(0xffffffff),
      ascii('WAVE'),
      FORMAT,
      ascii('data'),
      u32le(0xffffffff),
      SOUND,
    ]);
    const written = await write(open, { title: 'x' });
    expect(await idsOf(written)).toEqual(['fmt ', 'id3 ', 'data']);
    expect(readU32le(written, 4)).toBe(0xffffffff);
    expect((await chunksOf(written)).at(-1)?.[1]).toEqual(SOUND);
  });

  test('RF64 says its size in a chunk of its own, and where its sound ends', async () => {
    const sizes = chunkBytes(
      'ds64',
      concat([u32le(0), u32le(0), u32le(SOUND.length), u32le(0), new Uint8Array(12)]),
      'riff',
    );
    const behind = chunkBytes('bext', ascii('kept'), 'riff');
    const file = concat([
      ascii('RF64'),
      u32le(0xffffffff),
      ascii('WAVE'),
      sizes,
      FORMAT,
      ascii('data'),
      u32le(0xffffffff),
      SOUND,
      new Uint8Array(1),
      behind,
    ]);
    const written = await write(file, { title: 'x' });
    expect(await idsOf(written)).toEqual(['ds64', 'fmt ', 'data', 'bext', 'id3 ']);
    expect(readU32le(written, 4)).toBe(0xffffffff);
    expect(readU32le(written, 20)).toBe(written.length - 8);
  });
});

describe('AIFF', () => {
  const aiff = (...chunks: Uint8Array[]) => {
    const body = concat([ascii('AIFF'), ...chunks]);
    return concat([ascii('FORM'), u32(body.length), body]);
  };
  const samples = chunkBytes('SSND', SOUND, 'iff');

  test('its own texts are kept in step, and emptied ones go', async () => {
    const file = aiff(
      chunkBytes('NAME', ascii('old'), 'iff'),
      chunkBytes('AUTH', ascii('gone'), 'iff'),
      samples,
    );
    const written = await write(file, { title: 'Cold Iron', artist: null });
    expect(await idsOf(written, 'iff')).toEqual(['NAME', 'SSND', 'ID3 ']);
    expect((await chunksOf(written, 'iff'))[0]?.[1]).toEqual(ascii('Cold Iron'));
    expect(readU32(written, 4)).toBe(written.length - 8);
  });

  test('what was said in several chunks is said in one', async () => {
    const note = (text: string) => chunkBytes('ANNO', ascii(text), 'iff');
    const written = await write(aiff(note('one'), samples, note('two')), { description: 'new' });
    expect(await idsOf(written, 'iff')).toEqual(['ANNO', 'SSND', 'ID3 ']);
    expect((await chunksOf(written, 'iff'))[0]?.[1]).toEqual(ascii('new'));
  });
});
