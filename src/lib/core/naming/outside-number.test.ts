import { expect, test } from 'vitest';
import { outsideNumberIn } from './outside-number';

test.each([
  ['Films/The Keeper (1974) {catalogue-1234}.mkv', 'catalogue-1234'],
  ['Films/The Keeper (1974) [Index-ab0077]/film.mkv', 'index-ab0077'],
  ['Films/The Keeper {list=9} [Index-1]/The Keeper {other-2}.mkv', 'other-2'],
  ['Films/The Keeper [x264-1080p] [cd-1].mkv', null],
  ['Films/The Keeper (catalogue-1234).mkv', null],
])('%s', (path, number) => expect(outsideNumberIn(path)).toBe(number));
