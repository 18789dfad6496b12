import fc from 'fast-check';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { cachedSource, joinSpans, memorySource } from '$lib/core/bytes';
import {
  editContent,
  keptTracks,
  tracksOf,
  type Content,
  type Saying,
  type TrackEdit,
} from '$lib/core/items';
import { WRITABLE } from '$lib/formats';
import { readFirstTexts as readMatroskaTexts } from '$lib/formats/matroska';
import { readFirstTexts as readMp4Texts } from '$lib/formats/mp4';
import { readMedia } from '$lib/formats/reading';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';

const FORMATS = [
  ['matroska', 'mkv'],
  ['mp4', 'mp4'],
] as const;
const film = (ending: string) =>
  new Uint8Array(readFileSync(new URL(`../fixtures/containers/film.${ending}`, import.meta.url)));

async function relaid(format: (typeof FORMATS)[number][0], bytes: Uint8Array, tracks: readonly TrackEdit[]) {
  const source = memorySource(bytes);
  const writer = await WRITABLE.get(format)?.load();
  if (!writer) throw new Error(format);
  const { spans } = await writer.rewrite(cachedSource(source), { fields: { title: 'Ebb' }, tracks });
  return joinSpans(source, spans);
}

interface Packet {
  readonly stream_index: number;
  readonly pts_time: string;
  readonly size: string;
  readonly data_hash: string;
}

/** Packets of every stream as ffprobe reads them, each with its time and a digest of its bytes; streams in their order. */
function packetsOf(bytes: Uint8Array, ending: string): readonly (readonly string[])[] {
  return withFile(bytes, ending, (path) => {
    const { stdout } = spawnSync(
      'ffprobe',
      ['-v', 'error', '-of', 'json', '-show_packets', '-show_data_hash', 'sha256', path],
      { encoding: 'utf8', maxBuffer: 1 << 28 },
    );
    const { packets } = JSON.parse(stdout) as { packets: readonly Packet[] };
    const streams: string[][] = [];
    for (const { stream_index, pts_time, size, data_hash } of packets)
      (streams[stream_index] ??= []).push(`${pts_time} ${size} ${data_hash}`);
    return streams;
  });
}

const ffmpeg = (path: string, before: readonly string[], after: readonly string[]) =>
  spawnSync('ffmpeg', ['-v', 'error', ...before, '-i', path, ...after], { encoding: 'utf8' });

const unedited = (file: Content): Saying => ({ file, edits: {} });

describe.each(FORMATS)('other tracks in %s', (format, ending) => {
  const bytes = film(ending);
  const read = (of: Uint8Array) => readMedia(memorySource(of), `film.${ending}`);

  test('those that stay are the same, packet for packet; chapters, languages and lengths too', async () => {
    const before = await read(bytes);
    const left: readonly TrackEdit[] = [
      { id: 3, isLeftOut: true },
      { id: 4, isLeftOut: true },
      { id: 6, isLeftOut: true },
    ];
    const written = await relaid(format, bytes, left);
    const { file, facts } = await read(written);
    expect(file.tracks).toEqual(keptTracks(before.file.tracks ?? [], left));
    expect(facts.streams.map(({ type }) => type)).toEqual(['picture', 'sound', 'subtitle']);
    expect(facts.durationSeconds).toBeCloseTo(before.facts.durationSeconds ?? 0, 1);
    expect(file.chapters.map(({ title, startSeconds }) => [title, startSeconds])).toEqual([
      ['Fog', 0],
      ['Light', 1.5],
    ]);
    expect(file.fields.title).toBe('Ebb');
    expect(written.length).toBeLessThan(bytes.length);
    if (!hasFfmpeg) return;
    const [old, now] = [packetsOf(bytes, ending), packetsOf(written, ending)];
    expect([now[0], now[1], now[2]]).toEqual([old[0], old[1], old[4]]);
    withFile(written, ending, (path) => {
      // All of it decodes, from the middle too.
      for (const from of [[], ['-ss', '2']])
        expect(ffmpeg(path, from, ['-map', '0:v', '-map', '0:a', '-f', 'null', '-']).stderr).toBe('');
    });
  });

  test('come in another order, with other flags and names', async () => {
    const before = await read(bytes);
    const ids = [1, 3, 2, 4, 6, 5];
    const item = editContent(unedited(before.file), {
      tracks: [
        ...ids.map((id, place) => ({ id, place })),
        { id: 3, place: 1, name: 'Som på havet', isDefault: true },
        { id: 4, place: 3, isCommentary: true, isForSeeing: true },
        { id: 6, place: 4, isForHearing: true, isForced: true, isDefault: true },
        { id: 2, place: 2, isDefault: false },
      ],
    });
    const written = await relaid(format, bytes, item.edits.tracks ?? []);
    const { file } = await read(written);
    expect(file.tracks).toEqual(tracksOf(item).map((track) => expect.objectContaining({ ...track })));
    if (!hasFfmpeg) return;
    const [old, now] = [packetsOf(bytes, ending), packetsOf(written, ending)];
    expect(now.slice(0, 6)).toEqual([0, 2, 1, 3, 5, 4].map((index) => old[index]));
    withFile(written, ending, (path) => {
      const { stdout } = spawnSync('ffprobe', [
        ...['-v', 'error', '-of', 'csv=p=0', '-show_entries'],
        ...['stream_disposition=default,forced,comment,hearing_impaired,visual_impaired', path],
      ]);
      const rows = stdout.toString().trim().split('\n');
      // In the order of ffprobe: default, comment, forced, hearing, seeing.
      expect(rows.slice(1, 5)).toEqual(['1,0,0,0,0', '0,0,0,0,0', '0,1,0,0,1', '1,0,1,1,0']);
    });
  });

  test('subtitles are added, and read back by others as they were given', async () => {
    const cues = [
      { startSeconds: 0.25, endSeconds: 0.75, text: 'Hvem der?' },
      { startSeconds: 1, endSeconds: 1.5, text: 'Bare tidevannet.\nHør på det.' },
      { startSeconds: 2.75, endSeconds: 4, text: 'Stille nå.' },
    ];
    const edits: readonly TrackEdit[] = [
      { id: 9, added: cues, language: 'nn', name: 'Nynorsk' },
      { id: 5, isLeftOut: true },
      { id: 6, isLeftOut: true },
    ];
    const written = await relaid(format, bytes, edits);
    const { file } = await read(written);
    expect(file.tracks?.map(({ id, type }) => [id, type])).toEqual([
      [1, 'picture'],
      [2, 'sound'],
      [3, 'sound'],
      [4, 'sound'],
      [9, 'subtitle'],
    ]);
    expect(file.tracks?.at(-1)).toMatchObject({ name: 'Nynorsk', language: 'nn' });
    if (!hasFfmpeg) return;
    const [old, now] = [packetsOf(bytes, ending), packetsOf(written, ending)];
    expect(now.slice(0, 4)).toEqual(old.slice(0, 4));
    const srt = withFile(written, ending, (path) => ffmpeg(path, [], ['-map', '0:s:0', '-f', 'srt', '-']));
    expect(srt.stderr).toBe('');
    const plain = srt.stdout.replaceAll('\r', '').replace(/<[^>]*>/g, '');
    expect(plain.trim().split(/\n\n/)).toEqual([
      '1\n00:00:00,250 --> 00:00:00,750\nHvem der?',
      '2\n00:00:01,000 --> 00:00:01,500\nBare tidevannet.\nHør på det.',
      '3\n00:00:02,750 --> 00:00:04,000\nStille nå.',
    ]);
  });

  test('a file of no tracks is refused', async () => {
    const all = [1, 2, 3, 4, 5, 6].map((id) => ({ id, isLeftOut: true }));
    await expect(relaid(format, bytes, all)).rejects.toThrow('no track would be left');
  });

  test('whatever is left out, moved or added, the file says it, and what is laid twice stays', async () => {
    const before = await read(bytes);
    const cue = fc
      .tuple(fc.nat(3000), fc.integer({ min: 1, max: 900 }), fc.string({ unit: 'grapheme', minLength: 1 }))
      .map(([start, length, text]) => ({
        startSeconds: start / 1000,
        endSeconds: (start + length) / 1000,
        text,
      }));
    await fc.assert(
      fc.asyncProperty(
        fc.shuffledSubarray([1, 2, 3, 4, 5, 6], { minLength: 1 }),
        fc.array(cue, { maxLength: 8 }),
        fc.boolean(),
        async (stays, cues, adds) => {
          const left = [1, 2, 3, 4, 5, 6].filter((id) => !stays.includes(id));
          const item = editContent(unedited(before.file), {
            tracks: [
              ...stays.map((id, place) => ({ id, place })),
              ...left.map((id, index) => ({ id, place: stays.length + index, isLeftOut: true })),
              ...(adds ? [{ id: 8, place: 9, added: cues }] : []),
            ],
          });
          const { tracks } = item.edits;
          if (!tracks) return;
          const written = await relaid(format, bytes, tracks);
          const { file } = await read(written);
          const told = (all: typeof file.tracks) =>
            all?.map(({ id, type, language }) => [id, type, language]);
          const wanted = tracksOf(item);
          expect(told(file.tracks ?? wanted.slice(0, 1))).toEqual(told(wanted));
          const again = await relaid(format, written, [{ id: stays[0] as number, place: 0 }]);
          expect((await read(again)).file).toEqual(file);
        },
      ),
      { seed: 27, numRuns: 60 },
    );
  });
});

describe.each([
  ['matroska', 'mkv', readMatroskaTexts],
  ['mp4', 'mp4', readMp4Texts],
] as const)('texts of subtitles in %s', (_format, ending, readTexts) => {
  test('are read with their times, as many as are asked for', async () => {
    const source = memorySource(film(ending));
    // The sound of the one in Matroska begins with what its encoder puts before it: all of it is 64 ms later.
    const at = (seconds: number): unknown => expect.closeTo(seconds + (ending === 'mkv' ? 0.064 : 0), 2);
    expect(await readTexts(source, 6, 9)).toEqual([
      { startSeconds: at(0.5), endSeconds: at(1.2), text: 'Who is there?' },
      { startSeconds: at(1.8), endSeconds: at(2.6), text: 'Only the tide.' },
    ]);
    expect(await readTexts(source, 5, 1)).toHaveLength(1);
  });

  test('are none of a track of sound, and none of one that is not there', async () => {
    const source = memorySource(film(ending));
    await expect(readTexts(source, 2, 9)).rejects.toThrow(/no text|not text/);
    await expect(readTexts(source, 99, 9)).rejects.toThrow('no such track');
  });
});
