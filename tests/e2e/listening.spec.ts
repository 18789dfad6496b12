import { expect, test } from './app';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const BOOK = "Books/The Lamp Keeper's Almanac.m4b";

test('what is selected plays one after the other while boards change, with its chapters, and steadied', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([`${ALBUM}/1 - Sounding Line.mp3`, `${ALBUM}/2 - Undertow, Understood.mp3`, BOOK]);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await app.describeItems();
  const strip = page.getByRole('group', { name: 'Listen' });
  await app.row(/Sounding Line/).click();
  await strip.getByRole('button', { name: 'Play the selected item' }).press('Enter');
  await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect(strip).toContainText('Sounding Line');
  await strip.getByLabel('Speed').selectOption('3');
  await app.station('Players').click();
  await strip.getByRole('button', { name: 'Next' }).press('Enter');
  await expect(strip).toContainText('Undertow, Understood');
  await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible();
  await strip.getByRole('button', { name: 'Even loudness' }).press('Enter');
  await expect(strip.getByRole('button', { name: 'Even loudness' })).toHaveAttribute('aria-pressed', 'true');
  // What is played is seen, put in order, and gone to.
  await strip.getByRole('button', { name: 'What is played' }).press('Enter');
  const queue = page.getByRole('grid', { name: 'What is played, in order' });
  const titles = async () => (await queue.getByRole('row').allTextContents()).map((text) => text.trim());
  await expect(queue.getByRole('row')).toHaveCount(3);
  const before = await titles();
  await queue.getByRole('button', { name: /Move Sounding Line down/ }).press('Enter');
  await expect.poll(titles).not.toEqual(before);
  await queue.getByRole('button', { name: /Remove Undertow, Understood/ }).press('Enter');
  await expect(queue.getByRole('row')).toHaveCount(2);
  await queue.getByRole('button', { name: 'Sounding Line', exact: true }).press('Enter');
  await expect(strip).toContainText('Sounding Line');
  await page.keyboard.press('Escape');
  await expect(queue).toHaveCount(0);
  await strip.getByRole('button', { name: 'Pause' }).press('Enter');

  await app.describeItems();
  await app
    .row(/Almanac/)
    .first()
    .click();
  await strip.getByRole('button', { name: 'Play the selected item' }).press('Enter');
  await strip.getByRole('button', { name: 'Next chapter' }).press('Enter');
  const place = strip.getByRole('slider', { name: 'Place' });
  await expect.poll(async () => Number(await place.inputValue())).toBeGreaterThan(1);
  await strip.getByRole('button', { name: 'Pause' }).press('Enter');
});

test('an AIFF, which no browser plays, is heard', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(['Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff']);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.row(/Cold Iron/).click();
  const strip = page.getByRole('group', { name: 'Listen' });
  await strip.getByRole('button', { name: 'Play the selected item' }).click();
  await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible();
  const place = () => page.evaluate(() => document.querySelector('audio')?.currentTime ?? 0);
  await expect.poll(place).toBeGreaterThan(0.2);
});
