import { expect, test } from 'vitest';
import { editContent, type Chapter, type PictureId } from '$lib/core/items';
import { makeItem } from '../../../tests/helpers/items';
import { outgoingOf, pictureBytes } from './outgoing';

const MEGABYTES = 1e6;
const chapter = (startSeconds: number, more: Partial<Chapter> = {}): Chapter => ({
  startSeconds,
  endSeconds: null,
  title: `Part ${startSeconds}`,
  link: null,
  ...more,
});
const shows = (id: string, bytes: number) => ({
  picture: { id: id as PictureId, mime: 'image/jpeg', bytes, width: 9, height: 9 },
});

/** What goes out of chapters, and what stays in the library. */
function of(format: 'mp3' | 'mp4' | 'flac' | 'matroska', chapters: readonly Chapter[]) {
  const item = makeItem('x', {}, { format, path: `x.${format}` });
  const { edits, unheld } = outgoingOf(editContent(item, { chapters }), null) ?? { edits: {}, unheld: [] };
  return [edits.chapters ?? null, unheld] as const;
}

test('of chapters goes out what the format has a place for, and the rest is told', () => {
  const full = [
    chapter(0, { endSeconds: 1, link: 'https://skerry.example/', ...shows('a', 1000) }),
    chapter(2),
  ];
  const plain = [chapter(0), chapter(2)];
  // Where ends are told, the last is that of the file.
  expect(of('mp3', full)).toEqual([[full[0], chapter(2, { endSeconds: 200 })], []]);
  expect(of('mp4', full)).toEqual([
    [chapter(0, shows('a', 1000)), chapter(2)],
    ['chapterEnds', 'chapterLinks'],
  ]);
  expect(of('flac', full)).toEqual([
    [{ ...full[0], picture: undefined, endSeconds: null }, chapter(2)],
    ['chapterEnds', 'chapterPictures'],
  ]);
  expect(of('matroska', full)[1]).toEqual(['chapterLinks', 'chapterPictures']);
  expect(of('matroska', plain)[1]).toEqual([]);
});

test('pictures of chapters stay when they are more than is read again, the chapters go out without them', () => {
  const large = [0, 1, 2].map((at) => chapter(at, shows(`p${at}`, 9 * MEGABYTES)));
  const bare = [0, 1, 2].map((at) => chapter(at));
  expect(of('mp4', large)).toEqual([bare, ['chapterPictures']]);
  expect(of('mp3', large)[1]).toEqual(['chapterPictures']);
  // One that all of them show counts once.
  const same = large.map((one) => ({ ...one, ...shows('p0', 9 * MEGABYTES) }));
  expect(pictureBytes(same)).toBe(9 * MEGABYTES);
  expect(of('mp4', same)).toEqual([same, []]);
});

test('too many chapters, or too long a title, stay as a whole', () => {
  const many = Array.from({ length: 1001 }, (_, at) => chapter(at));
  expect(of('mp4', many)).toEqual([null, ['chapters']]);
  expect(of('mp4', many.slice(1))[1]).toEqual([]);
  expect(of('mp4', [chapter(0, { title: '海'.repeat(86) })])).toEqual([null, ['chapters']]);
});
