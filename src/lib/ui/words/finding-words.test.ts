import { expect, test } from 'vitest';
import { findingWords } from './finding-words';

test('what a player does not play is called by the names that people know', () => {
  const words = { kind: 'film', kinds: 'films', seconds: '600', bytes: '2000000' };
  const formats = 'flac:5|matroska V_MPEG4/ISO/AVC, A_AC3:1|oggFlac:2|opus Opus:1';
  const { what, why, remedy } = findingWords(
    { code: 'needsTwin', words: { ...words, count: '9', formats, to: 'aac|mp3' } },
    'Pocket',
  );
  expect(what).toBe('9 films need a twin');
  expect(why).toContain(
    'does not play 5 FLAC, 1 Matroska with H.264 and AC-3, 2 Ogg FLAC, 1 Opus; 10 minutes to convert to AAC and MP3, about',
  );
  expect(remedy).toBe('Make 9 twins');
  const refused = findingWords(
    { code: 'needsTwin', words: { ...words, count: '1', formats, why: 'noPicture' } },
    'Pocket',
  );
  expect(refused.why).toContain('no video format that can be made here');
  expect(refused.remedy).toBe('Leave 1 item out');
});
