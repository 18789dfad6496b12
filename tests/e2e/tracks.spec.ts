import AxeBuilder from '@axe-core/playwright';
import { readFile } from 'node:fs/promises';
import { expect, test } from './app';

const FIXTURE = new URL('../fixtures/containers/languages.mkv', import.meta.url);

test('tracks get names and languages, which come with the file once they are written into it', async ({
  app,
  page,
}) => {
  await app.open();
  const bytes = [...(await readFile(FIXTURE))];
  await app.fillFolder([{ path: 'Films/The Keeper (1974).mkv', bytes }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.describeItems();
  await app.row(/Harbour Bell/).click();
  const tracks = page.getByRole('group', { name: 'Tracks' });
  await expect(tracks.getByLabel('Language of track 2')).toHaveValue('nob');
  await expect(tracks.getByLabel('Name of track 3')).toHaveValue('The keeper remarks');
  await tracks.getByLabel('Language of track 3').fill('not one');
  await tracks.getByLabel('Language of track 3').press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: '“not one” is not a language code' })).toBeVisible();
  await expect(tracks.getByLabel('Language of track 3')).toHaveValue('eng');
  await tracks.getByLabel('Language of track 3').fill('gd');
  await tracks.getByLabel('Language of track 3').press('Enter');
  await tracks.getByLabel('Name of track 2').fill('As it was told');
  await tracks.getByLabel('Name of track 2').press('Enter');
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);

  await page.getByRole('button', { name: 'put tracks back' }).click();
  await expect(tracks.getByLabel('Language of track 3')).toHaveValue('eng');
  await app.undo();
  await expect(tracks.getByLabel('Language of track 3')).toHaveValue('gd');
  await expect(tracks.getByLabel('Name of track 2')).toHaveValue('As it was told');

  await page.getByRole('button', { name: 'Originals', exact: true }).click();
  await page.getByRole('button', { name: /^Change 1 original/ }).click();
  await app.finished(/1 original written/);
  await expect(page.getByRole('button', { name: 'put tracks back' })).toHaveCount(0);
  await expect(tracks.getByLabel('Language of track 3')).toHaveValue('gd');
  await expect(tracks.getByLabel('Name of track 2')).toHaveValue('As it was told');
});
