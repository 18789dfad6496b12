import { expect, test } from 'vitest';
import { codecName } from './codecs';

test.each([
  ['mp4a', 'AAC'],
  ['A_AAC/MPEG4/LC', 'AAC'],
  ['mp4a.40.2', 'AAC'],
  ['MPEG 2 Layer 3', 'MP3'],
  ['A_MPEG/L3', 'MP3'],
  ['V_MPEG4/ISO/AVC', 'H.264'],
  ['V_MPEG4/ISO/ASP', 'MPEG-4 Visual'],
  ['A_PCM/INT/LIT', 'PCM'],
  ['S_TEXT/UTF8', 'SubRip'],
  // Of the same letters at the beginning, but another one.
  ['A_AAC2', 'A_AAC2'],
  ['Skerry', 'Skerry'],
])('%s is called %s', (code, name) => {
  expect(codecName(code)).toBe(name);
});
