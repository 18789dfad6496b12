import { ofItem } from '../owner';
import { describe, expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import type { ItemId } from '../../items';
import { mildSteps } from './mild';
import type { Step } from '../step';

const was = { size: 1, digest: null };
const remove = (path: string): Step => ({ type: 'remove', path, was });
const write = (path: string): Step => ({
  type: 'writeText',
  path,
  owner: ofItem('i' as ItemId),
  mime: 'text/plain',
  text: '',
  replaces: null,
  signature: '',
});
const mild = (...steps: Step[]) => mildSteps(steps, RULEBOOKS.attic);

describe('a run that removes nothing', () => {
  test('does all else', () => {
    const steps = [write('a/b'), remove('a/c'), write('d')];
    expect(mild(...steps)).toEqual([steps[0], steps[2]]);
    expect(mild(write('a'))).toEqual([write('a')]);
  });

  test('leaves alone what would take the place of what stays, also above and below it, in any spelling', () => {
    expect(
      mild(remove('Music/Ebb'), write('music/EBB'), write('Music/Ebb/01'), write('Music/Ebb two')),
    ).toEqual([write('Music/Ebb two')]);
    expect(mild(remove('Music/Ebb/01'), write('Music/ebb'))).toEqual([]);
  });
});
