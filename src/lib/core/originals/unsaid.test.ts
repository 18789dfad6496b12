import { expect, test } from 'vitest';
import { editContent, type Chapter, type Overlay, type PictureId } from '../items';
import { outgoingOf } from '$lib/formats';
import { makeItem } from '../../../../tests/helpers/items';
import { planOriginal } from '.';

const chapter = (startSeconds: number, more: Partial<Chapter> = {}): Chapter => ({
  startSeconds,
  endSeconds: null,
  title: `Part ${startSeconds}`,
  link: null,
  ...more,
});

/** What would be written into a file that says this, of what is said of its item. */
function planOf(format: 'mp4' | 'flac', said: Partial<Overlay>, chapters: readonly Chapter[]) {
  const item = makeItem('x', { track: null }, { format, path: `x.${format}` });
  const read = { ...item, file: { ...item.file, chapters } };
  return planOriginal(editContent(read, said), true, outgoingOf);
}

test('an original that says all that its format can hold is not written again', () => {
  const ends = [chapter(0, { endSeconds: 90 }), chapter(100)];
  // MP4 has no place for ends, and counts in milliseconds: what is left to say can never be said.
  expect(planOf('mp4', { chapters: ends }, [])).toMatchObject({ type: 'writes' });
  expect(planOf('mp4', { chapters: ends }, [chapter(0), chapter(100)])).toMatchObject({
    type: 'cannot',
    why: 'unheld',
  });
  expect(
    planOf('mp4', { chapters: [chapter(0), chapter(100.0004, { title: 'Part 100' })] }, [
      chapter(0),
      chapter(100),
    ]),
  ).toBeNull();
});

test('whatever is still to be said is written', () => {
  const there = [chapter(0), chapter(100)];
  expect(
    planOf('mp4', { chapters: [chapter(0), chapter(100.01, { title: 'Part 100' })] }, there),
  ).not.toBeNull();
  expect(planOf('mp4', { chapters: [chapter(0), chapter(100, { title: 'Else' })] }, there)).not.toBeNull();
  const picture = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 9, width: 1, height: 1 };
  const shows = [chapter(0, { picture }), chapter(100)];
  expect(planOf('mp4', { chapters: shows }, there)).toMatchObject({ type: 'writes' });
  const own = { hash: 5, mime: 'image/jpeg', bytes: 9, width: 1, height: 1 };
  expect(planOf('mp4', { chapters: shows }, [chapter(0, { picture: own }), chapter(100)])).toBeNull();
  expect(planOf('mp4', { chapters: there }, [chapter(0, { picture: own }), chapter(100)])).toMatchObject({
    type: 'writes',
  });
  // No tag knows a zero from nothing.
  expect(planOf('flac', { fields: { title: 'New', track: 0 } }, [])).toMatchObject({
    changes: { fields: { title: 'New' } },
  });
});
