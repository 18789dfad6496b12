import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { concat, joinSpans, memorySource } from '../../src/lib/core/bytes';
import { WRITABLE } from '../../src/lib/formats';
import { locate } from '../../src/lib/formats/payload';
import { isMediaName, otherMedia, readMedia } from '../../src/lib/formats/reading';
import { demoMemory } from '../helpers/demo';

/* Containers that are met more rarely, as common programs write them. */

const fixture = (name: string) =>
  memorySource(new Uint8Array(readFileSync(join(import.meta.dirname, '../fixtures/containers', name))));

test('FLAC in Ogg is read as what it is: tags, length, and where its sound lies', async () => {
  const source = fixture('tone.oga');
  const { format, file, facts } = await readMedia(source, 'a/tone.oga');
  expect(format).toBe('oggFlac');
  expect(file.fields).toMatchObject({ title: 'Harbour Bell', artist: ['Orla Venn'] });
  expect(facts.durationSeconds).toBeCloseTo(1, 1);
  expect(facts.streams).toMatchObject([{ type: 'sound', sampleRate: 16_000, channels: 1 }]);
  let bytes = 0;
  for await (const { start, end } of locate(source, format)) bytes += end - start;
  expect(bytes).toBeGreaterThan(source.size / 4);
  expect(bytes).toBeLessThan(source.size);
});

test.each(['tone.mov', 'tone.m4v', 'tone.3gp'])('%s is taken in with its streams', async (name) => {
  const { format, facts } = await readMedia(fixture(name), name);
  expect(format).toBe('mp4');
  expect(facts.streams).toMatchObject([
    { type: 'picture', codec: 'avc1', width: 96, height: 64 },
    { type: 'sound', codec: 'mp4a' },
  ]);
});

test.each([
  ['mono.m4a', 1, 22_050],
  ['mono.mov', 1, 22_050],
  ['surround.m4a', 6, 48_000],
  ['lossless.m4a', 1, 96_000],
  ['opus.mp4', 1, 48_000],
  ['flac.mp4', 1, 96_000],
  ['ac3.mp4', 6, 48_000],
  ['eac3.mp4', 6, 48_000],
])('%s tells its channels and rate as its decoder is told them', async (name, channels, sampleRate) => {
  const { facts } = await readMedia(fixture(name), name);
  expect(facts.streams).toMatchObject([{ type: 'sound', channels, sampleRate }]);
});

describe('an MP3 with remains before its first frame', () => {
  const path = 'Drop/07 Slack Before Storm (take 2).mp3';
  const remains = new TextEncoder().encode(
    '<html>an error page that a server put in front</html>'.repeat(40),
  );
  const dirty = async () => {
    const clean = await demoMemory(path);
    const bytes = await clean.read(0, clean.size);
    return memorySource(concat([remains, bytes]));
  };

  test('is read like the clean one', async () => {
    const [clean, read] = [
      await readMedia(await demoMemory(path), path),
      await readMedia(await dirty(), path),
    ];
    expect(read.file).toEqual(clean.file);
    expect(read.facts.streams).toEqual(clean.facts.streams);
    expect(read.facts.durationSeconds).toBeCloseTo(clean.facts.durationSeconds ?? 0, 0);
  });

  test('keeps them when it is written', async () => {
    const source = await dirty();
    const writer = await WRITABLE.get('mp3')?.load();
    if (!writer) throw new Error('no writer');
    const { spans } = await writer.rewrite(source, { fields: { title: 'Slack' } });
    const written = await joinSpans(source, spans);
    expect(Buffer.from(written).includes(Buffer.from(remains))).toBe(true);
    expect((await readMedia(memorySource(written), path)).file.fields.title).toBe('Slack');
  });

  test('text alone is none, whatever its name says', async () => {
    await expect(readMedia(memorySource(remains), path)).rejects.toMatchObject({ code: 'notMedia' });
  });
});

test('media that is not taken in is known by its name, and nothing else is', () => {
  expect(['a/b.avi', 'x.WMA', 'y.dsf', 'z.wv'].map(otherMedia)).toEqual([
    'AVI',
    'WMA sound',
    'DSD stream file',
    'WavPack',
  ]);
  expect(['cover.jpg', 'song.mp3', 'notes.txt', 'avi'].map(otherMedia)).toEqual([null, null, null, null]);
  expect(isMediaName('tone.3gp')).toBe(true);
});

test.each(['languages.mkv', 'languages.mp4'])('%s tells its tracks apart', async (name) => {
  const { file, facts } = await readMedia(fixture(name), name);
  expect(file.tracks?.map(({ type, language, name: label }) => [type, language, label])).toEqual([
    ['picture', null, ''],
    ['sound', 'nob', ''],
    ['sound', 'eng', 'The keeper remarks'],
  ]);
  expect(file.tracks?.map(({ isDefault }) => isDefault)).toEqual([true, true, false]);
  expect(file.tracks).toHaveLength(facts.streams.length);
});
