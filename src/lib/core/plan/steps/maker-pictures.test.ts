import { expect, test } from 'vitest';
import { makeAlbum } from '../../../../../tests/helpers/items';
import { planFor } from '../../../../../tests/helpers/plans';
import { editContent, makerPicture, type ChosenPicture, type Item, type PictureId } from '../../items';

const portrait: ChosenPicture = {
  id: 'p' as PictureId,
  mime: 'image/jpeg',
  bytes: 9,
  width: 200,
  height: 400,
};
const PATH = 'Music/The Tidewrack Choir/portrait.jpg';
const written = (items: readonly Item[]) =>
  planFor('attic', items).steps.flatMap((step) =>
    step.type === 'writePicture' ? [[step.path, step.picture.chosen ?? step.picture.index]] : [],
  );

test('the picture of a maker goes into the folder of the maker, and none is missed without one', () => {
  const album = makeAlbum(3);
  const sleeve = ['Music/The Tidewrack Choir/Salt Ledger (2019)/sleeve.jpg', 0];
  expect(written(album)).toEqual([sleeve]);
  expect(planFor('attic', album).findings).toEqual([]);
  const shown = album.map((item) => editContent(item, { pictures: { artist: portrait } }));
  expect(written(shown)).toEqual([[PATH, 'p'], sleeve].sort());
  // Of no form that a cover has to have.
  expect(planFor('attic', shown).findings).toEqual([]);
});

test('it is the one in the file, unless another was chosen or it was removed', () => {
  const [song] = makeAlbum(1) as [Item];
  const [front] = song.file.pictures;
  if (!front) throw new Error('no picture');
  const own = {
    ...song,
    file: { ...song.file, pictures: [front, { ...front, role: 'artist' as const, hash: 2 }] },
  };
  expect(makerPicture(song)).toBeNull();
  expect(makerPicture(own)).toMatchObject({ index: 1, chosen: null });
  expect(makerPicture(editContent(own, { pictures: { artist: portrait } }))?.chosen).toBe('p');
  expect(makerPicture(editContent(own, { pictures: { artist: null } }))).toBeNull();
});
