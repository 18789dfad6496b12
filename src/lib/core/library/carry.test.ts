import { describe, expect, test } from 'vitest';
import { editContent, editItem, fieldOf, type ChosenPicture, type Item, type PictureId } from '../items';
import { makeItem } from '../../../../tests/helpers/items';
import { carryOver } from './carry';

const item = makeItem('1', { title: 'Low Water', album: 'Tides' });
/** The same item after its file was read again: other bytes, and another title in them. */
const readAgain = (from: Item, title: string): Item => ({
  ...from,
  size: 2000,
  modified: 2,
  file: { ...from.file, fields: { ...from.file.fields, title } },
});
const turned = (before: Item, after: Item) => ({ id: item.id, before, after });
const picture = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 1, width: 1, height: 1 } as ChosenPicture;

describe('undoing an edit of a file that is another one by now', () => {
  test('says what was said before, over what the file says now', () => {
    const edited = editItem(item, { title: 'High Water' });
    const now = { ...readAgain(edited, 'High Water'), edits: {} };
    const { after } = carryOver(turned(edited, item), now);
    expect(after).toMatchObject({ size: 2000, modified: 2, edits: { fields: { title: 'Low Water' } } });
  });

  test('leaves alone what the act did not touch', () => {
    const edited = editItem(item, { title: 'High Water' });
    const now = readAgain(editItem(edited, { album: 'Ebbs' }), 'Spring Tide');
    const { after } = carryOver(turned(edited, item), now);
    expect(after && [fieldOf(after, 'title'), fieldOf(after, 'album')]).toEqual(['Low Water', 'Ebbs']);
  });

  test('takes a picture that was set away, and keeps others', () => {
    const back = { ...picture, id: 'b' as PictureId };
    const before = editContent(item, { pictures: { back } });
    const set = editContent(before, { pictures: { front: picture } });
    const { after } = carryOver(turned(set, before), readAgain(set, 'Low Water'));
    expect(after?.edits.pictures).toEqual({ back });
  });

  test('is as it was where the file is the same, and where the item came or went', () => {
    const edited = editItem(item, { title: 'High Water' });
    const change = turned(edited, item);
    expect(carryOver(change, edited)).toBe(change);
    expect(carryOver(change, { ...edited, settled: 'film' })).toBe(change);
    const gone = { id: item.id, before: null, after: item };
    expect(carryOver(gone, readAgain(item, 'x'))).toBe(gone);
  });
});
