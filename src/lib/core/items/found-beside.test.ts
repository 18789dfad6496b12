import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { editItem, fieldOf, ignoringFound, inForce, usingFound, withFound, type PictureId } from '.';

const front = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 9, width: 5, height: 5 };
const found = {
  path: 'A/a.xml',
  size: 9,
  modified: 1,
  says: { fields: { title: 'Beside', genre: ['folk'] }, pictures: { front, artist: front } },
};
const item = makeItem('a', { title: 'Own', genre: null });

test('own tags and pictures lead: only what an item lacks becomes an edit', () => {
  const given = withFound(item, found);
  expect(given.edits).toEqual({ fields: { genre: ['folk'] }, pictures: { artist: front } });
  expect(inForce(given, found.says)).toEqual({ fields: ['genre'], pictures: ['artist'] });
  expect(given.foundBeside).toEqual([found]);
});

test('all of it is used on request', () => {
  const used = usingFound(withFound(item, found), found.path);
  expect(fieldOf(used, 'title')).toBe('Beside');
  expect(used.edits.pictures?.front).toEqual(front);
});

test('an ignored file takes back what it gave, but not what was edited since', () => {
  const edited = editItem(withFound(item, found), { genre: ['sea songs'] });
  const ignored = ignoringFound(edited, found.path);
  expect(ignored.edits).toEqual({ fields: { genre: ['sea songs'] } });
  expect(ignored.foundBeside).toEqual([{ ...found, isIgnored: true }]);
  // Used again, it is no longer ignored.
  expect(usingFound(ignored, found.path).foundBeside).toEqual([found]);
});

test('a file that is found again replaces what it said before', () => {
  const again = withFound(withFound(item, found), { ...found, says: { fields: { comment: 'x' } } });
  expect(again.foundBeside).toHaveLength(1);
  expect(fieldOf(again, 'comment')).toBe('x');
  // What it gave before goes, and an ignored file stays ignored.
  expect(fieldOf(again, 'genre')).toBeNull();
  const ignored = withFound(ignoringFound(again, found.path), found);
  expect(ignored.edits).toEqual({});
  expect(ignored.foundBeside).toEqual([{ ...found, isIgnored: true }]);
});

test('subtitles in several languages are each used, and ignored by themselves', () => {
  const subtitles = (id: number, language: string) => ({
    path: `A/a.${language}.srt`,
    size: 9,
    modified: 1,
    says: { tracks: [{ id, language, added: [{ startSeconds: 1, endSeconds: 2, text: language }] }] },
  });
  const [en, gd] = [subtitles(1001, 'en'), subtitles(1002, 'gd')];
  const both = withFound(withFound(item, en), gd);
  expect(both.edits.tracks?.map(({ language }) => language)).toEqual(['en', 'gd']);
  const one = ignoringFound(both, en.path);
  expect(one.edits.tracks?.map(({ language }) => language)).toEqual(['gd']);
  expect(inForce(one, gd.says)).toEqual({ tracks: true });
  expect(ignoringFound(one, gd.path).edits).toEqual({});
  // A second file of a language that is there waits to be chosen.
  expect(withFound(both, { ...subtitles(1003, 'en'), path: 'A/b.en.srt' }).edits).toEqual(both.edits);
});
