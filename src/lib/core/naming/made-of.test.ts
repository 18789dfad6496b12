import { expect, test } from 'vitest';
import type { Stream, Track } from '../items';
import { markOf } from '../plan/outgoing/apart';
import { keptStreams } from '../items';
import { MADE_OF, madeOf, type MadeFile } from './made-of';
import { makeItem } from '../../../../tests/helpers/items';

const stream = (type: Stream['type'], codec: string, height: number | null = null): Stream => ({
  type,
  codec,
  channels: null,
  sampleRate: null,
  width: height && height * 2,
  height,
});
const track = (id: number, type: Track['type'], language: string | null): Track => ({
  id,
  type,
  language,
  name: '',
});
const STREAMS = [
  stream('picture', 'V_MPEGH/ISO/HEVC', 1080),
  stream('sound', 'A_AC3'),
  stream('sound', 'A_AAC'),
];
const FILE = { tracks: [track(1, 'picture', null), track(2, 'sound', 'en'), track(3, 'sound', 'nb')] };

const all = (of: MadeFile) => Object.fromEntries(MADE_OF.map((name) => [name, madeOf(of, name)]));

test('names and sidecars tell of the tracks that go out, and of added ones', () => {
  expect(all({ streams: STREAMS, file: FILE, outgoing: {} })).toEqual({
    resolution: '1080p',
    codec: 'H.265',
    soundLanguages: 'en+nb',
    subtitleLanguages: null,
  });
  const edits = {
    tracks: [
      { id: 1, isLeftOut: true },
      { id: 2, language: 'gd' },
      { id: 3, isLeftOut: true },
      { id: 9, language: 'nn', added: [{ startSeconds: 0, endSeconds: 1, text: 'Ebb' }] },
    ],
  };
  const kept = keptStreams(STREAMS, FILE, edits);
  expect(kept.map(({ type }) => type)).toEqual(['sound', 'subtitle']);
  expect(all({ streams: kept, file: FILE, outgoing: edits })).toEqual({
    resolution: null,
    codec: 'AC-3',
    soundLanguages: 'gd',
    subtitleLanguages: 'nn',
  });
});

test('two versions of a film are told apart by the languages that stay in them', () => {
  const { fields } = makeItem('x').file;
  const told = {
    path: 'x',
    fields,
    format: 'matroska',
    size: 1,
    durationSeconds: 1,
    streams: STREAMS,
  } as const;
  const file = { ...makeItem('x').file, ...FILE };
  const short = { ...told, file, outgoing: { tracks: [{ id: 3, isLeftOut: true }] } };
  expect(markOf({ ...told, file, outgoing: {} }, short)).toBe('en+nb');
  expect(markOf(short, { ...told, file, outgoing: {} })).toBe('en');
});
