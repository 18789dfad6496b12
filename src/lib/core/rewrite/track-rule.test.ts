import { expect, test } from 'vitest';
import type { Track } from '../items';
import { ALL_TRACKS, ruledTracks, type TrackRule } from './track-rule';

const track = (
  id: number,
  type: Track['type'],
  language: string | null,
  more: Partial<Track> = {},
): Track => ({
  id,
  type,
  language,
  name: '',
  isDefault: false,
  isForced: false,
  ...more,
});
const TRACKS: readonly Track[] = [
  track(1, 'picture', null),
  track(2, 'sound', 'eng'),
  track(3, 'sound', 'nob'),
  track(4, 'sound', 'eng', { name: 'Director’s commentary' }),
  track(5, 'sound', 'fr', { isForSeeing: true }),
  track(6, 'subtitle', 'en'),
  track(7, 'subtitle', 'pt-BR'),
  track(8, 'subtitle', 'nb', { isForced: true }),
  track(9, 'subtitle', null),
];
const left = (rule: Partial<TrackRule>, tracks = TRACKS) =>
  ruledTracks({ tracks }, { ...ALL_TRACKS, ...rule }).flatMap(({ id, isLeftOut }) => (isLeftOut ? id : []));

test.each([
  ['nothing is asked', {}, []],
  ['sound in English', { sound: ['en'] }, [3, 5]],
  ['sound in a wider language', { sound: ['no'] }, [2, 4, 5]],
  ['no commentaries', { leavesCommentaries: true }, [4]],
  ['nothing for the hard of seeing', { leavesDescriptions: true }, [5]],
  ['no subtitles but those that are always shown, and one of no language', { subtitles: [] }, [6, 7]],
  ['subtitles in Portuguese, whatever the region', { subtitles: ['pt'], sound: ['en'] }, [3, 5, 6, 8]],
  [
    'a language that no sound is in: all but commentaries stay',
    { sound: ['gd'], leavesCommentaries: true },
    [4],
  ],
])('%s', (_, rule, gone) => {
  expect(left(rule)).toEqual(gone);
});

test('a file of commentaries alone keeps them', () => {
  expect(left({ leavesCommentaries: true }, [TRACKS[0]!, TRACKS[3]!])).toEqual([]);
});
