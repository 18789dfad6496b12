import { expect, test } from 'vitest';
import type { Track, TrackEdit } from '../items';
import { losesSubtitles, tracksOnTwin } from './twin-tracks';

const track = (id: number, type: Track['type'], language: string | null, name = ''): Track => ({
  id,
  type,
  language,
  name,
});
const OWN = [
  track(1, 'picture', null),
  track(2, 'sound', 'eng'),
  track(3, 'subtitle', 'eng'),
  track(4, 'sound', 'nob', 'Comments'),
];
/** As a converter writes it: sounds first, numbers of its own. */
const TWIN = [track(1, 'sound', 'eng'), track(2, 'sound', null), track(3, 'picture', null)];

test('what a twin’s file does not say of its tracks is laid into it, in their order', () => {
  expect(tracksOnTwin(OWN, undefined, TWIN)).toEqual([
    { id: 1, place: 1 },
    { id: 2, language: 'nob', name: 'Comments', place: 2 },
    { id: 3, place: 0 },
  ]);
});

test('so is what is said over them: left out, renamed, added', () => {
  const cue = { startSeconds: 1, endSeconds: 2, text: 'Ahoy' };
  const edits: readonly TrackEdit[] = [
    { id: 2, isLeftOut: true },
    { id: 4, language: 'nn' },
    { id: 1001, language: 'en', name: '', added: [cue] },
  ];
  expect(tracksOnTwin(OWN, edits, TWIN)).toEqual([
    { id: 1, isLeftOut: true, place: 1 },
    { id: 2, language: 'nn', name: 'Comments', place: 2 },
    { id: 3, place: 0 },
    { id: 1001, language: 'en', name: '', added: [cue], place: 3 },
  ]);
});

test('a twin loses subtitles that go with its original, and none that were left out or added', () => {
  expect(losesSubtitles(OWN, undefined)).toBe(true);
  expect(losesSubtitles(OWN, [{ id: 3, isLeftOut: true }])).toBe(false);
  expect(losesSubtitles(OWN.slice(0, 2), undefined)).toBe(false);
});
