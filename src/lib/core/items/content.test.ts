import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyChapters, anyEdits } from '../../../../tests/helpers/any-content';
import { makeItem } from '../../../../tests/helpers/items';
import {
  FIELD_NAMES,
  chosenPictures,
  contentHash,
  editContent,
  editItem,
  fieldText,
  fieldsOf,
  parseFieldText,
  putBack,
  trimOverlay,
  type Chapter,
  type ChosenPicture,
  type Item,
  type Overlay,
  type PictureId,
  type Track,
  type TrackEdit,
} from './index';

const RUNS = { seed: 4, numRuns: 500 };

const picture = fc.constantFrom('a', 'b', 'c').map((id): ChosenPicture => ({
  id: id as PictureId,
  mime: 'image/jpeg',
  bytes: 1,
  width: 9,
  height: 9,
}));
const own = fc.integer({ min: 1, max: 3 }).map((hash) => ({
  mime: 'image/png',
  bytes: 2,
  width: null,
  height: null,
  hash,
}));
/** Chapters with pictures of the file, of the library, with none, and with nothing said of one. */
const shownChapters: fc.Arbitrary<readonly Chapter[]> = fc
  .tuple(anyChapters, fc.array(fc.option(fc.oneof(picture, own, fc.constant(undefined))), { minLength: 12 }))
  .map(([chapters, pictures]) =>
    chapters.map((chapter, at) =>
      pictures[at] === undefined ? chapter : { ...chapter, picture: pictures[at] },
    ),
  );
const TRACKS: readonly Track[] = [1, 2, 3].map((id) => ({
  id,
  type: 'sound',
  language: id === 1 ? null : 'en',
  name: id === 3 ? 'Remarks' : '',
  isDefault: id === 1,
  isForced: false,
}));
const anyTracks: fc.Arbitrary<readonly TrackEdit[]> = fc.uniqueArray(
  fc.record(
    {
      id: fc.constantFrom(1, 2, 3, 9),
      name: fc.constantFrom('', 'Remarks', 'The keeper'),
      language: fc.constantFrom(null, 'en', 'gd'),
    },
    { requiredKeys: ['id'] },
  ),
  { selector: ({ id }) => id, maxLength: 4 },
);
const overlay: fc.Arbitrary<Overlay> = fc.record(
  {
    fields: anyEdits,
    pictures: fc.record({ front: picture, back: picture }, { requiredKeys: [] }),
    chapters: shownChapters,
    tracks: anyTracks,
  },
  { requiredKeys: [] },
);
const item: fc.Arbitrary<Item> = fc.tuple(anyEdits, shownChapters).map(([fields, chapters]) => {
  const made = makeItem('x', fields);
  return { ...made, file: { ...made.file, chapters, tracks: TRACKS } };
});

describe('an overlay over what a file says', () => {
  test('every edit has an inverse, and putting all back equals never having edited', () => {
    fc.assert(
      fc.property(item, fc.array(overlay, { maxLength: 4 }), (own, edits) => {
        const edited = edits.reduce((now, over) => editContent(now, over), own);
        const back = putBack(edited, {
          fields: FIELD_NAMES,
          pictures: ['front', 'back'],
          chapters: true,
          tracks: true,
        });
        expect(back).toEqual(own);
        expect(contentHash(back.edits)).toBe('');
      }),
      RUNS,
    );
  });

  test('trimmed once, it is trimmed', () => {
    fc.assert(
      fc.property(item, overlay, (own, over) => {
        const trimmed = trimOverlay(own.file, over);
        expect(trimOverlay(own.file, trimmed)).toEqual(trimmed);
        for (const [name, value] of Object.entries(trimmed.fields ?? {}))
          expect(own.file.fields[name as keyof typeof own.file.fields]).not.toEqual(value);
      }),
      RUNS,
    );
  });

  test('the order of edits does not matter to what would be written', () => {
    fc.assert(
      fc.property(item, overlay, (own, over) => {
        const names = Object.keys(over.fields ?? {}).reverse();
        const turned = Object.fromEntries(names.map((name) => [name, over.fields?.[name as 'title']]));
        const { fields: _, ...rest } = over;
        const first = editContent(own, over);
        const second = editContent(editContent(own, rest), { fields: turned });
        expect(contentHash(first.edits)).toBe(contentHash(second.edits));
      }),
      RUNS,
    );
  });

  test('an edit that changes nothing leaves the item as it is', () => {
    fc.assert(
      fc.property(item, overlay, (own, over) => {
        const edited = editContent(own, over);
        expect(editContent(edited, edited.edits)).toBe(edited);
      }),
      RUNS,
    );
  });
});

test('pictures of the library are found wherever an overlay holds them', () => {
  const of = (id: string) => ({ id: id as PictureId, mime: 'image/jpeg', bytes: 1, width: 9, height: 9 });
  const chapter = { startSeconds: 0, endSeconds: null, title: '', link: null };
  const chapters = [
    { ...chapter, picture: of('b') },
    { ...chapter, picture: null },
    { ...chapter, picture: { mime: 'image/png', bytes: 2, width: null, height: null, hash: 7 } },
    chapter,
  ];
  expect(chosenPictures({ pictures: { front: of('a') }, chapters }).map(({ id }) => id)).toEqual(['a', 'b']);
  expect(chosenPictures({})).toEqual([]);
});

test('what is shown of a field is read back as the same value', () => {
  fc.assert(
    fc.property(anyEdits, (fields) => {
      const own = fieldsOf(editItem(makeItem('x'), fields));
      for (const name of FIELD_NAMES)
        expect([name, parseFieldText(name, fieldText(own[name]))]).toEqual([
          name,
          { type: 'value', value: own[name] },
        ]);
    }),
    RUNS,
  );
});
