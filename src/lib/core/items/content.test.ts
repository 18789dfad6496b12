import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyChapters, anyEdits, anyTimed } from '../../../../tests/helpers/any-content';
import { makeItem } from '../../../../tests/helpers/items';
import {
  FIELD_NAMES,
  PART_NAMES,
  carriedOver,
  chaptersOf,
  chosenPictures,
  contentHash,
  editContent,
  editItem,
  fieldOf,
  fieldText,
  fieldsOf,
  inFile,
  parseFieldText,
  putBack,
  readOtherwise,
  sameTimed,
  sameValue,
  timedOf,
  tracksOf,
  trimOverlay,
  unsaid,
  withoutWritten,
  type Chapter,
  type ChosenPicture,
  type Item,
  type Overlay,
  type PartEdits,
  type PartName,
  type PictureId,
  type PutBack,
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
      isLeftOut: fc.boolean(),
      place: fc.nat(3),
      isForced: fc.boolean(),
      isCommentary: fc.boolean(),
      added: fc.constantFrom([{ startSeconds: 1, endSeconds: 2, text: 'Ebb' }], []),
    },
    { requiredKeys: ['id'] },
  ),
  { selector: ({ id }) => id, maxLength: 4 },
);
/** Every part of content, so that no law leaves one out. */
const ANY: { readonly [P in PartName]: fc.Arbitrary<PartEdits[P]> } = {
  fields: anyEdits,
  pictures: fc.record({ front: fc.option(picture), back: fc.option(picture) }, { requiredKeys: [] }),
  chapters: shownChapters,
  timed: anyTimed,
  tracks: anyTracks,
};
const ALL: Required<PutBack> = {
  fields: FIELD_NAMES,
  pictures: ['front', 'back'],
  chapters: true,
  timed: true,
  tracks: true,
};
const overlay: fc.Arbitrary<Overlay> = fc.record(ANY, { requiredKeys: [] });
const item: fc.Arbitrary<Item> = fc
  .tuple(anyEdits, shownChapters, anyTimed)
  .map(([fields, chapters, timed]) => {
    const made = makeItem('x', fields);
    return { ...made, file: { ...made.file, chapters, timed, tracks: TRACKS } };
  });
/** An item whose file says by now what was said of it, pictures apart, which no file is compared by. */
function asRead(one: Item): Item {
  const { pictures } = one.file;
  const [fields, chapters, timed, tracks] = [fieldsOf(one), chaptersOf(one), timedOf(one), tracksOf(one)];
  return { ...one, file: { fields, pictures, chapters, timed, tracks } };
}

describe('an overlay over what a file says', () => {
  test('every edit has an inverse, and putting all back equals never having edited', () => {
    fc.assert(
      fc.property(item, fc.array(overlay, { maxLength: 4 }), (own, edits) => {
        const edited = edits.reduce((now, over) => editContent(now, over), own);
        const back = putBack(edited, ALL);
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

  test('what a file says by now is neither said, nor written, nor read otherwise', () => {
    fc.assert(
      fc.property(item, overlay, (own, over) => {
        const { edits } = editContent(own, over);
        const { file } = asRead({ ...own, edits });
        const { pictures: _, ...written } = edits;
        expect(trimOverlay(file, written)).toEqual({});
        expect(unsaid(file, written)).toEqual({});
        expect(readOtherwise(edits, file)).toEqual([]);
        // Fields stay as long as the file does not say them.
        expect(trimOverlay(file, withoutWritten(edits, edits))).toEqual({});
        const before = inFile(own.file, written);
        expect(trimOverlay(own.file, before)).toEqual({});
      }),
      RUNS,
    );
  });

  test('every part that reads back otherwise is told', () => {
    fc.assert(
      fc.property(item, overlay, (own, over) => {
        const { edits } = editContent(own, over);
        const { pictures: _, ...written } = edits;
        const names = PART_NAMES.filter((name) => name in unsaid(own.file, written));
        const otherwise = readOtherwise(written, own.file);
        expect(names).toEqual(expect.arrayContaining([...otherwise]));
        // Of chapters, ends and pictures are not read back by every format.
        expect(otherwise).toEqual(expect.arrayContaining(names.filter((name) => name !== 'chapters')));
      }),
      RUNS,
    );
  });

  test('a change is carried over to another file, and what it did not touch stays', () => {
    fc.assert(
      fc.property(item, item, overlay, overlay, (own, other, first, second) => {
        const before = editContent(own, first);
        const after = editContent(before, second);
        expect(carriedOver(before, before, after)).toEqual(after.edits);
        const current = editContent({ ...own, file: other.file }, first);
        expect(carriedOver(current, before, before)).toEqual(current.edits);
        const carried = { ...current, edits: carriedOver(current, before, after) };
        if (!sameTimed(timedOf(before), timedOf(after))) expect(timedOf(carried)).toEqual(timedOf(after));
        for (const name of FIELD_NAMES) {
          const isTouched = !sameValue(fieldOf(before, name), fieldOf(after, name));
          expect(fieldOf(carried, name)).toEqual(fieldOf(isTouched ? after : current, name));
        }
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
