import { expect, test } from 'vitest';
import { makeItem, planItem } from '../../../../../tests/helpers/items';
import type { Item, Track } from '../../items';
import { rivalOf, waysApart } from './apart';

const track = (id: number, type: Track['type'], language: string): Track => ({
  id,
  type,
  language,
  name: '',
  isDefault: false,
  isForced: false,
});

/** A version of one film. */
function version(id: string, height: number, tracks: readonly Track[], rest: Partial<Item> = {}): Item {
  const { facts, file, ...item } = makeItem(
    id,
    { title: 'The Quiet Lightship', date: '2019' },
    { settled: 'film' },
  );
  const picture = {
    type: 'picture',
    codec: 'AVC',
    channels: null,
    sampleRate: null,
    width: (height * 16) / 9,
    height,
  } as const;
  return {
    ...item,
    format: 'matroska',
    path: `Films/${id}.mkv`,
    facts: {
      ...facts,
      streams: [picture, ...tracks.map(({ type }) => ({ ...picture, type, width: null, height: null }))],
    },
    file: { ...file, tracks },
    ...rest,
  };
}

const ENGLISH = [track(2, 'sound', 'en')];

test('versions of a film are told apart by as much as it takes: height, languages, subtitles, sound tracks', () => {
  const holder = planItem(version('a', 1080, ENGLISH));
  const marksOf = (...others: readonly Item[]) =>
    waysApart(others.map((one) => rivalOf(planItem(one), holder))).mark?.suffixes?.map(({ text }) => text);
  expect(marksOf(version('b', 1080, [...ENGLISH, track(3, 'subtitle', 'nb')]))).toEqual([' [subtitles nb]']);
  expect(marksOf(version('b', 1080, [track(2, 'sound', 'nb')]))).toEqual([' [nb]']);
  const small = [
    version('b', 720, ENGLISH),
    version('c', 720, [...ENGLISH, track(3, 'subtitle', 'nb')]),
    version('d', 720, [...ENGLISH, track(3, 'sound', 'en')]),
  ];
  expect(marksOf(small[0] as Item, small[1] as Item)).toEqual([' [720p]', ' [720p, subtitles nb]']);
  expect(marksOf(small[1] as Item, small[2] as Item)).toEqual([
    ' [720p, subtitles nb]',
    ' [720p, 2 sound tracks]',
  ]);
  // Nothing in the files tells them apart.
  expect(marksOf(version('b', 1080, ENGLISH))).toBeUndefined();
});
