import AxeBuilder from '@axe-core/playwright';
import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { parseBuffer } from 'music-metadata';
import { film } from '../helpers/film';
import { expect, test, type App } from './app';

const SONGS = ['1 - Sounding Line', '2 - Undertow, Understood'].map(
  (name) => `Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`,
);

async function described(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(SONGS);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.describeItems();
}

test('a finished file is saved in one act, with all that is said of it, and the original stays', async ({
  app,
  page,
}) => {
  await described(app);
  await app.row(/Sounding Line/).click();
  const before = await app.readFolder('lectorum-intake');
  await app.field('genre').fill('sea ballads');
  await app.field('genre').press('Enter');
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save a finished copy' }).click();
  const download = await downloading;
  expect(download.suggestedFilename()).toBe('The Tidewrack Choir - Sounding Line.mp3');
  const { common } = await parseBuffer(await readFile(await download.path()), 'audio/mpeg');
  expect([common.genre, common.title, common.picture?.length]).toEqual([['sea ballads'], 'Sounding Line', 1]);
  await app.finished(/1 finished file saved/);
  expect(await app.readFolder('lectorum-intake')).toEqual(before);
});

test('names go by a pattern that is kept; several are one ZIP; what fails is named', async ({
  app,
  page,
}) => {
  await described(app);
  await app.row(/Sounding Line/).click();
  const pattern = page.getByLabel('named by');
  await pattern.fill(':album/:track {');
  await expect(page.getByText(/has no matching }/)).toBeVisible();
  await pattern.fill(':album/:track :title');
  await expect(page.getByText('Fathom Songs/01 Sounding Line.mp3', { exact: true })).toBeVisible();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await page.reload();
  await app.describeItems();
  await app.row(/Undertow/).click();
  await expect(page.getByText('Fathom Songs/02 Undertow, Understood.mp3', { exact: true })).toBeVisible();
  await app.row(/Sounding Line/).click({ modifiers: ['Shift'] });
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save 2 finished copies' }).click();
  const files = unzipSync(new Uint8Array(await readFile(await (await downloading).path())));
  expect(Object.keys(files).sort()).toEqual([
    'Fathom Songs/01 Sounding Line.mp3',
    'Fathom Songs/02 Undertow, Understood.mp3',
  ]);

  await test.step('a file that is gone is named, and the other is saved', async () => {
    await page.evaluate(async (path) => {
      let at = await (await navigator.storage.getDirectory()).getDirectoryHandle('lectorum-intake');
      const parts = path.split('/');
      const last = parts.pop() as string;
      for (const part of parts) at = await at.getDirectoryHandle(part);
      await at.removeEntry(last);
    }, SONGS[1] as string);
    const next = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save 2 finished copies' }).click();
    const left = unzipSync(new Uint8Array(await readFile(await (await next).path())));
    expect(Object.keys(left)).toEqual(['Fathom Songs/01 Sounding Line.mp3']);
    await app.finished(
      /1 finished file saved; 1 failed: Undertow, Understood: the file is gone: put it back/,
    );
  });
});

test('one file can be dragged out of the window', async ({ app, page }) => {
  await described(app);
  await app.row(/Sounding Line/).click();
  const grip = page.getByRole('img', {
    name: 'Drag The Tidewrack Choir - Sounding Line.mp3 out of the window',
  });
  await grip.hover();
  await expect(grip).toHaveAttribute('draggable', 'true');
  const said = await grip.evaluate((element) => {
    const dataTransfer = new DataTransfer();
    element.dispatchEvent(new DragEvent('dragstart', { dataTransfer, bubbles: true, cancelable: true }));
    return dataTransfer.getData('DownloadURL');
  });
  expect(said).toMatch(/:The Tidewrack Choir - Sounding Line\.mp3:blob:/);
});

test('an outside number is read from a name, edited, and written into names by a pattern', async ({
  app,
  page,
}) => {
  await app.open();
  const bytes = await film('mkv');
  await app.fillFolder([{ path: 'Films/The Keeper (1974) {catalogue-1234}.mkv', bytes }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.describeItems();
  await app.row(/The Keeper/).click();
  await expect(app.field('outside number')).toHaveValue('catalogue-1234');
  await page.getByLabel('named by').fill(':title|sourceName{ [:outsideNumber]}');
  await expect(page.getByText(/ \[catalogue-1234\]\.mkv$/)).toBeVisible();
  await app.field('outside number').fill('catalogue-77');
  await app.field('outside number').press('Enter');
  await expect(page.getByText(/ \[catalogue-77\]\.mkv$/)).toBeVisible();
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save a finished copy' }).click();
  const bytesOut = await readFile(await (await downloading).path());
  expect(bytesOut.includes('catalogue-77')).toBe(true);
  await app.undo();
  await expect(app.field('outside number')).toHaveValue('catalogue-1234');
});
