import { describe, expect, test } from 'vitest';
import { cachedSource, memorySource, type ByteSource } from '../../src/lib/core/bytes';
import { NO_SURROUNDINGS, guessKind } from '../../src/lib/core/guessing';
import type { Kind } from '../../src/lib/core/kinds';
import { UnreadableError, isMediaName, readMedia, readPictureSize } from '../../src/lib/formats/reading';
import { demoMemory, demoPaths, demoSource } from '../helpers/demo';
import { makePng } from '../helpers/picture-bytes';

/** What each file of the demo is, as the household knows it. */
const LABELLED: readonly (readonly [RegExp, Kind])[] = [
  [/^Books\//, 'audiobook'],
  [/^Podcasts\//, 'podcast'],
  [/^Discs\//, 'episode'],
  [/^Camera\//, 'homeVideo'],
  [/^Films\//, 'film'],
  [/clip_004/, 'homeVideo'],
  [/kelp_forest_loop/, 'ambience'],
  [/gulls-twice/, 'ringtone'],
  [/^Music Videos\/|Harbour Bell\.webm/, 'musicVideo'],
  [/^Music\/|take 2|old laptop|track_05/, 'song'],
];
const BROKEN = [
  'Drop/empty.flac',
  'Drop/kelp_road_half.flac',
  'Music/Orla Venn/Nine Lamps Burning/05 The Unlit.mp3',
];

test('every whole file of the demo is read and taken for what it is; broken ones say why', async () => {
  const unread: string[] = [];
  for (const path of (await demoPaths()).filter(isMediaName)) {
    const source = await demoSource(path);
    try {
      const { facts, file, native } = await readMedia(source, path);
      expect(facts.durationSeconds, path).toBeGreaterThan(5);
      const guess = guessKind(
        { path, facts, file, native },
        { ...NO_SURROUNDINGS, knownArtists: new Set(['tidewrack choir', 'orla venn']) },
      );
      expect([path, guess.kind]).toEqual([path, LABELLED.find(([pattern]) => pattern.test(path))?.[1]]);
    } catch (error) {
      if (!(error instanceof UnreadableError)) throw error;
      unread.push(path);
    } finally {
      await source.close();
    }
  }
  expect(unread).toEqual(BROKEN);
});

test('formats, streams, chapters and pictures are what the script made', async () => {
  const read = async (path: string) => readMedia(await demoMemory(path), path);
  expect(await read("Books/The Lamp Keeper's Almanac.m4b")).toMatchObject({
    format: 'mp4',
    file: {
      chapters: [{ startSeconds: 0, title: 'The Lamp Is Lit' }, {}, {}, { title: 'Fog, First Day' }],
      pictures: [{ width: 600, mime: 'image/png' }],
    },
  });
  expect(await read('Drop/Orla Venn - Harbour Bell.webm')).toMatchObject({
    format: 'matroska',
    facts: { streams: [{ type: 'picture', width: 320, height: 180 }, { type: 'sound' }] },
  });
  expect(await read('Music/Skerry House Evenings/01 Dag Holme - Ferry Waltz.mp3')).toMatchObject({
    file: {
      fields: { compilation: true, track: 1, tracks: 4, date: '2023' },
      pictures: [{ role: 'front', width: 640 }],
    },
    facts: { tagFormats: ['ID3v2.4'] },
  });
});

describe('files that are not whole or not what they say', () => {
  const cut = async (path: string, part: number): Promise<ByteSource> => {
    const whole = await demoMemory(path);
    return memorySource(await whole.read(0, Math.floor(whole.size * part)));
  };
  const codeOf = (source: ByteSource, path: string) =>
    readMedia(source, path).then(
      () => 'read',
      (error: unknown) => (error as UnreadableError).code,
    );

  test.each([
    ['Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav'],
    ['Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff'],
    ['Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac'],
    ['Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a'],
    ['Music Videos/Halyard & Daughters - Donkey Engine.mkv'],
    ['Music/The Tidewrack Choir/Fathom Songs/3 - Nine Fathoms.mp3'],
    ['Music/Halyard & Daughters/Quiet Engines/02 Oil and Patience.ogg'],
    ['Music/Halyard & Daughters/Quiet Engines/01 Donkey Engine.opus'],
  ])('%s cut in half says so', async (path) => {
    expect(await codeOf(await cut(path, 0.5), path)).toBe('cutShort');
  });

  test('an empty file', async () =>
    expect(await codeOf(memorySource(new Uint8Array(0)), 'a.mp3')).toBe('empty'));
  test('a text by the name of a song', async () => {
    expect(await codeOf(memorySource(new TextEncoder().encode('a letter, not a song')), 'a.mp3')).toBe(
      'notMedia',
    );
  });
  test('a FLAC file by the name of an MP3', async () => {
    expect(
      await codeOf(
        await demoMemory('Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac'),
        'a.mp3',
      ),
    ).toBe('otherwise');
  });
  test('any prefix of any format ends in an answer, never in a crash', async () => {
    for (const path of (await demoPaths()).filter((name) => isMediaName(name) && !BROKEN.includes(name))) {
      const whole = await demoMemory(path);
      for (const length of [1, 9, 33, 200, 3000]) {
        const code = await codeOf(memorySource(await whole.read(0, length)), path);
        expect(['cutShort', 'notMedia', 'unknownFormat', 'read']).toContain(code);
      }
    }
  }, 60_000);
});

test('pixels are read from the picture itself', () => {
  expect(readPictureSize(makePng(31, 17))).toEqual({ width: 31, height: 17 });
  expect(readPictureSize(new TextEncoder().encode('no picture at all'))).toBeNull();
});

test('the cache answers from its blocks and reads each once', async () => {
  const bytes = new Uint8Array(1000).map((_, index) => index % 251);
  const source = cachedSource(memorySource(bytes), 64, 4);
  expect(await source.read(60, 70)).toEqual(bytes.slice(60, 70));
  expect(await source.read(0, 100)).toEqual(bytes.slice(0, 100));
  expect(source.bytesFetched).toBe(128);
  expect(await source.read(990, 2000)).toEqual(bytes.slice(990));
  expect(await source.read(0, 1000)).toEqual(bytes);
});
