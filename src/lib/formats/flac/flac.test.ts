import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, memorySource, u24 } from '$lib/core/bytes';
import type { Edits } from '$lib/core/items';
import {
  changeVorbisComment,
  parseVorbisComment,
  vorbisCommentBytes,
  type VorbisComment,
} from '../vorbis-comment';
import { BLOCK, LAST_FLAG } from './layout';
import { readFlac } from './reader';
import { rewrite } from './writer';

const text = (entry: string) => new TextEncoder().encode(entry);
const comment = (...entries: string[]): VorbisComment => ({
  vendor: text('somebody'),
  entries: entries.map(text),
});
const entriesOf = ({ entries }: VorbisComment) => entries.map((entry) => new TextDecoder().decode(entry));
const change = (entries: string[], edits: Edits) =>
  entriesOf(changeVorbisComment(comment(...entries), { fields: edits }));

describe('comments', () => {
  test('names are told apart without regard to case, and aliases go with the field', () => {
    expect(change(['album artist=a', 'TITLE=t', 'ALBUMARTIST=b', 'Mood=calm'], { albumArtist: 'c' })).toEqual(
      ['ALBUMARTIST=c', 'TITLE=t', 'Mood=calm'],
    );
  });
  test('several values become several comments', () => {
    expect(change(['GENRE=x'], { genre: ['folk', 'sea choir'] })).toEqual(['GENRE=folk', 'GENRE=sea choir']);
  });
  test('a total inside the number is parted when the number changes', () => {
    expect(change(['TRACKNUMBER=3/12'], { track: 4 })).toEqual(['TRACKNUMBER=4', 'TRACKTOTAL=12']);
    expect(change(['TRACKNUMBER=3', 'TOTALTRACKS=12'], { tracks: 13 })).toEqual([
      'TRACKNUMBER=3',
      'TRACKTOTAL=13',
    ]);
    expect(change(['TRACKNUMBER=3/12'], { track: null, tracks: null })).toEqual([]);
  });
  test('an equals sign inside a value is part of it', () => {
    expect(change(['TITLE=a=b'], { album: 'c=d' })).toEqual(['TITLE=a=b', 'ALBUM=c=d']);
  });
  test('what is written is parsed back, any bytes included', () => {
    fc.assert(
      fc.property(fc.uint8Array(), fc.array(fc.uint8Array({ maxLength: 50 })), (vendor, entries) => {
        expect(parseVorbisComment(vorbisCommentBytes({ vendor, entries }))).toEqual({ vendor, entries });
      }),
      { seed: 51 },
    );
  });
  test('a length that passes the end is damage', () => {
    const whole = vorbisCommentBytes(comment('TITLE=x'));
    expect(() => parseVorbisComment(whole.slice(0, -1))).toThrow('passes the end');
  });
});

const block = (type: number, content: Uint8Array, last = false) =>
  concat([Uint8Array.of(type | (last ? LAST_FLAG : 0)), u24(content.length), content]);
const INFO = block(BLOCK.streamInfo, new Uint8Array(34));
const SOUND = ascii('frames of sound');
const flac = (...blocks: Uint8Array[]) => concat([ascii('fLaC'), INFO, ...blocks, SOUND]);

async function write(file: Uint8Array, edits: Edits) {
  const source = memorySource(file);
  const { spans } = await rewrite(source, { fields: edits });
  return joinSpans(source, spans);
}

describe('blocks', () => {
  test('a file without comments gets them behind STREAMINFO', async () => {
    const written = await write(flac(block(BLOCK.padding, new Uint8Array(9), true)), { title: 'x' });
    const { blocks, audioStart } = await readFlac(memorySource(written));
    expect(blocks.map(({ type }) => type)).toEqual([BLOCK.streamInfo, BLOCK.vorbisComment, BLOCK.padding]);
    expect(new TextDecoder().decode(written.subarray(audioStart))).toBe('frames of sound');
  });
  test('other blocks stay in their order, and padding takes up the difference', async () => {
    const seek = block(3, ascii('seek points'));
    const own = block(2, ascii('own block'));
    const file = flac(
      seek,
      block(BLOCK.vorbisComment, vorbisCommentBytes(comment('TITLE=old'))),
      own,
      block(BLOCK.padding, new Uint8Array(200), true),
    );
    const written = await write(file, { title: 'a longer title' });
    expect(written).toHaveLength(file.length);
    const { blocks } = await readFlac(memorySource(written));
    expect(blocks.map(({ type }) => type)).toEqual([0, 3, 4, 2, 1]);
    expect(Buffer.from(written).includes(Buffer.from(own))).toBe(true);
  });
  test('an ID3 tag in front stays in front', async () => {
    const id3 = concat([ascii('ID3'), Uint8Array.of(4, 0, 0, 0, 0, 0, 5), new Uint8Array(5)]);
    const file = concat([id3, flac(block(BLOCK.padding, new Uint8Array(0), true))]);
    const written = await write(file, { title: 'x' });
    expect(Buffer.from(written.subarray(0, id3.length)).equals(Buffer.from(id3))).toBe(true);
    expect((await readFlac(memorySource(written))).start).toBe(id3.length);
  });
  test('a picture too large for a block is refused', async () => {
    const picture = { mime: 'image/jpeg', width: 1, height: 1, bytes: new Uint8Array(0x1000000) };
    const file = memorySource(flac(block(BLOCK.padding, new Uint8Array(0), true)));
    await expect(
      rewrite(file, { fields: {}, pictures: new Map([['front', picture]]) }),
    ).rejects.toMatchObject({ code: 'tooLarge' });
  });
  test('blocks without an end are cut short', async () => {
    await expect(readFlac(memorySource(concat([ascii('fLaC'), INFO])))).rejects.toMatchObject({
      code: 'cutShort',
    });
  });
});
