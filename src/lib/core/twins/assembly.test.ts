import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { editContent, type Item } from '../items';
import { TWIN_CODECS } from '../rulebooks';
import {
  codecsFor,
  inPlayingOrder,
  isMadeFresh,
  joinedChapters,
  joinedFields,
  recipeFromItems,
  splitAtChapters,
} from './assembly';
import { makeItem } from '../../../../tests/helpers/items';

const part = (track: number | null, title: string, rest: Partial<Item> = {}) =>
  makeItem(
    title,
    { title, track, album: 'The Lamp', artist: ['Ines Marrable'] },
    { path: `${title}.mp3`, ...rest },
  );

describe('items that are joined', () => {
  test('follow each other by disc and number, else by their paths as people count', () => {
    const items = [part(null, '10'), part(null, '9'), part(2, 'b'), part(1, 'c')];
    expect(inPlayingOrder(items).map(({ id }) => id)).toEqual(['c', 'b', '9', '10']);
  });

  test('say what they all say', () => {
    const [one, two] = [part(1, 'Fog'), editContent(part(2, 'Light'), { fields: { genre: ['sea'] } })];
    expect(joinedFields([one, two])).toEqual({
      album: 'The Lamp',
      artist: ['Ines Marrable'],
    });
  });

  test('are chapters of what is made, and keep those that they have', () => {
    const own = [0, 12.3456].map((startSeconds, index) => ({
      startSeconds,
      endSeconds: null,
      title: `Part ${index + 1}`,
      link: null,
    }));
    const items = [part(1, 'Fog'), editContent(part(2, 'Light'), { chapters: own })];
    expect(
      joinedChapters(items, [0, 41.064_49]).map(({ title, startSeconds }) => [title, startSeconds]),
    ).toEqual([
      ['Fog', 0],
      ['Part 1', 41.064],
      ['Part 2', 53.41],
    ]);
  });

  test('are made to nothing better than the best of them, and not to what loses nothing where one has lost something', () => {
    const sound = (format: Item['format'], seconds: number, size: number): Item => {
      const item = part(1, 'Fog', { format, size });
      const codec = format === 'mp3' ? 'MPEG 1 Layer 3' : 'FLAC';
      const streams = item.facts.streams.map((stream) => ({ ...stream, codec }));
      return { ...item, facts: { ...item.facts, streams, durationSeconds: seconds } };
    };
    const flac = sound('flac', 100, 5_000_000);
    const mp3 = sound('mp3', 100, 800_000);
    expect(codecsFor([flac], TWIN_CODECS)).toContain('flac');
    expect(codecsFor([flac, mp3], TWIN_CODECS)).toEqual(['opus', 'aac', 'mp3']);
    // What holds FLAC has lost nothing, whatever it lies in.
    expect(codecsFor([{ ...flac, format: 'matroska' }], TWIN_CODECS)).toContain('flac');
    expect(recipeFromItems('aac', [mp3])).toMatchObject({ bitrate: 64_000, sampleRate: 44_100, channels: 2 });
    expect(recipeFromItems('aac', [mp3, flac]).bitrate).toBe(256_000);
    expect(recipeFromItems('flac', [flac])).toMatchObject({ bitrate: null, mostBits: 24 });
  });
});

test('split at its chapters, an item keeps all of its sound and what it says, whatever the chapters are', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(5000), { minLength: 1, maxLength: 20 }), (starts) => {
      const chapters = starts
        .sort((a, b) => a - b)
        .map((start, index) => ({
          startSeconds: start / 10,
          endSeconds: null,
          title: index % 3 === 0 ? '' : `Chapter ${index}`,
          link: null,
        }));
      const book = editContent(part(1, 'Whole'), { chapters });
      const files = splitAtChapters(book);
      expect(files).toHaveLength(chapters.length);
      let at = 0;
      for (const [index, { part: own, fields }] of files.entries()) {
        expect(own.fromSeconds).toBe(at);
        at = own.toSeconds ?? Infinity;
        expect(fields).toMatchObject({ album: 'The Lamp', artist: ['Ines Marrable'], track: index + 1 });
        expect(fields.title).not.toBe('');
      }
      expect(at).toBe(Infinity);
    }),
    { seed: 27, numRuns: 200 },
  );
});

test('what was made is out of date once one of its items is another file, or gone', () => {
  const items = [part(1, 'Fog'), part(2, 'Light')];
  const made = {
    parts: [],
    codec: 'aac',
    fadeInSeconds: 0,
    fadeOutSeconds: 0,
    from: items.map(({ id, size, modified }) => ({ item: id, size, modified })),
  };
  const find = (all: readonly Item[]) => (id: string) => all.find((one) => one.id === id) ?? null;
  expect(isMadeFresh(made, find(items))).toBe(true);
  expect(isMadeFresh(made, find(items.map((one) => ({ ...one, modified: 9 }))))).toBe(false);
  expect(isMadeFresh(made, find(items.slice(1)))).toBe(false);
});
