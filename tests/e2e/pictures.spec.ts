import AxeBuilder from '@axe-core/playwright';
import { parseBuffer } from 'music-metadata';
import { readFile } from 'node:fs/promises';
import { makePng } from '../helpers/picture-bytes';
import { pathsOn } from '../helpers/answers';
import { expect, test, type App } from './app';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const VIDEO = 'Music Videos/The Tidewrack Choir - Low Water.mp4';

/** Two songs of one release, on Describe. */
async function twoSongs(app: App): Promise<void> {
  await app.open();
  await app.fillFolder([`${ALBUM}/1 - Sounding Line.mp3`, `${ALBUM}/2 - Undertow, Understood.mp3`]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.describeItems();
}

test('a picture is cut by hand and in numbers, scaled, its size seen before, and set for a release', async ({
  app,
  page,
}) => {
  await twoSongs(app);
  await app.row(/Sounding Line/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Crop, scale, other sources' }).press('Enter');
  const main = page.getByRole('main');
  await main.getByLabel('A file').setInputFiles({
    name: 'wide.png',
    mimeType: 'image/png',
    buffer: Buffer.from(makePng(900, 600)),
  });
  await expect(main).toContainText('900×600');
  // A front is square unless something else is said.
  await expect(main.getByRole('status')).toContainText('600×600, JPEG of');
  await expect(main.getByLabel('left')).toHaveValue('150');

  const part = page.locator('cropper-selection');
  const box = await part.boundingBox();
  if (!box) throw new Error('there is no part drawn');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number(await main.getByLabel('left').inputValue())).toBeGreaterThan(180);
  await main.getByLabel('Longer side').selectOption('at most 500');
  await expect(main.getByRole('status')).toContainText('500×500, JPEG of');
  await expect(main).toContainText('Attic accepts it');
  await main.getByRole('button', { name: 'free crop' }).press('Enter');
  await main.getByLabel('width').fill('300');
  await main.getByLabel('width').press('Enter');
  await expect(main.getByRole('status')).toContainText('250×500, JPEG of');
  await expect(main).toContainText('Attic needs at least 500 pixels, square');
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);

  await main.getByRole('button', { name: 'a square' }).press('Enter');
  await expect(main.getByRole('status')).toContainText('500×500, JPEG of');
  await main.getByRole('button', { name: 'Set for all 2 items of the release' }).press('Enter');
  await app.finished(/Picture set for 2 items/);
  await main.getByRole('button', { name: 'Done' }).press('Enter');
  await app.row(/Undertow/).click();
  await expect(card).toContainText('500×500, JPEG');
  await app.undo();
  await expect(card).not.toContainText('500×500, JPEG');
});

test('a frame of a video is found step by step, and is its own picture alone', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([VIDEO]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.describeItems();
  await app.row(/Low Water/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Crop, scale, other sources' }).press('Enter');
  const main = page.getByRole('main');
  const frame = main.getByRole('group', { name: 'A frame of the video' });
  const at = frame.getByLabel('a frame at');
  await at.fill('0:02');
  await at.press('Enter');
  await expect(main).toContainText('a frame of the video');
  const shown = await at.inputValue();
  await frame.getByRole('button', { name: 'The next frame' }).press('Enter');
  await expect(at).not.toHaveValue(shown);
  await frame.getByRole('button', { name: 'The frame before' }).press('Enter');
  await expect(at).toHaveValue(shown);
  await main.getByLabel('Picture type').selectOption('frame of a video');
  await main.getByRole('button', { name: 'Set for this item' }).press('Enter');
  await app.finished(/Picture \(frame of a video\) set for 1 item/);
  await main.getByRole('button', { name: 'Restore the picture in the file' }).press('Enter');
  await expect(main.getByRole('button', { name: 'Restore the picture in the file' })).toHaveCount(0);

  // What is no picture is told, and what was worked on stays.
  await main.getByLabel('A file').setInputFiles({
    name: 'words.png',
    mimeType: 'image/png',
    buffer: Buffer.from('no picture'),
  });
  await expect(main.getByRole('alert')).toContainText('words.png: the browser cannot show it');
});

test('a picture in a file is removed from copies, comes back by undo, and is not found again', async ({
  app,
  page,
}) => {
  await twoSongs(app);
  await app.row(/Sounding Line/).click();
  await app.row(/Undertow/).click({ modifiers: ['Shift'] });
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Remove 2 pictures' }).press('Enter');
  await expect(card).toContainText('no picture');
  await app.undo();
  await expect(card).not.toContainText('no picture');

  await app.row(/Sounding Line/).click();
  await card.getByRole('button', { name: 'Remove the picture' }).press('Enter');
  await expect(card).toContainText('no picture');
  await expect.poll(() => app.kept('said')).toMatch(/front\\?":null/);
  await page.reload();
  await app.describeItems();
  await app.row(/Undertow/).click();
  await expect(card).toContainText('In the file');
  await app.row(/Sounding Line/).click();
  await expect(card).toContainText('no picture');
  const downloading = page.waitForEvent('download');
  await card.getByRole('button', { name: 'Save a finished copy' }).click();
  const { common } = await parseBuffer(await readFile(await (await downloading).path()), 'audio/mpeg');
  expect([common.title, common.picture]).toEqual(['Sounding Line', undefined]);

  await card.getByRole('button', { name: 'Use the picture in the file' }).press('Enter');
  await expect(card).toContainText('In the file');
  await card.getByRole('button', { name: 'Crop, scale, other sources' }).press('Enter');
  await page.getByRole('main').getByRole('button', { name: 'Remove the front picture' }).press('Enter');
  await expect(card).toContainText('no picture');
});

test('the picture of a maker is set for all items of the maker in one place, and written into the folder of the maker', async ({
  app,
  page,
  request,
}) => {
  await app.open();
  await app.fillFolder([
    `${ALBUM}/1 - Sounding Line.mp3`,
    'Music/The Tidewrack Choir/Salt Ledger/02 Kelp Road.flac',
    'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
  ]);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await app.describeItems();
  await app.row(/Sounding Line/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Crop, scale, other sources' }).press('Enter');
  const main = page.getByRole('main');
  await main.getByLabel('Picture type').selectOption('artist');
  await expect(main.getByText(/No picture yet/)).toBeVisible();
  await main.getByLabel('A file').setInputFiles({
    name: 'choir.png',
    mimeType: 'image/png',
    buffer: Buffer.from(makePng(500, 400)),
  });
  await main.getByRole('button', { name: 'Set for all 2 items by The Tidewrack Choir' }).press('Enter');
  await app.finished(/set for 2 items/);
  await main.getByRole('button', { name: 'Done' }).press('Enter');
  await app.row(/Kelp Road/).click();
  await card.getByRole('button', { name: 'Crop, scale, other sources' }).press('Enter');
  await main.getByLabel('Picture type').selectOption('artist');
  await expect(main.getByText('500×400').first()).toBeVisible();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await app.station('Players').click();
  await app.run();
  await app.finished(/none failed/);
  const paths = await pathsOn(request, 'attic');
  expect(paths).toContain('Music/The Tidewrack Choir/portrait.jpg');
  expect(paths).not.toContain('Music/Orla Venn/portrait.jpg');
});
