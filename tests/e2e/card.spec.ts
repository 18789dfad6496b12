import { ALBUM, expect, test } from './app';

test('the card is about what is looked at: what leaves the scope is let go, and a source has none', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 2));
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  const card = page.getByRole('complementary', { name: 'Card' });
  await page.getByRole('grid').focus();
  await page.keyboard.press('Control+a');
  await expect(card.getByRole('heading', { name: '2 items' })).toBeVisible();

  await test.step('a word that one of two items lacks', async () => {
    await page.getByLabel('Narrow by any field').fill('kelp');
    await expect(card.getByRole('heading', { name: 'Kelp Road' })).toBeVisible();
  });

  await test.step('a disc is no item yet: the card folds, and unfolds when it is left', async () => {
    await page.getByRole('button', { name: /^Disc/ }).click();
    await expect(card.getByRole('button', { name: 'Unfold the card' })).toBeDisabled();
    await expect(card.getByRole('heading', { name: 'Kelp Road' })).toBeHidden();
    await page.getByRole('button', { name: 'Back to the arrivals' }).click();
    await expect(card.getByRole('heading', { name: 'Kelp Road' })).toBeVisible();
  });

  await test.step('a value that does not fit says all of it in its title', async () => {
    await page.getByLabel('Narrow by any field').fill('');
    await app.describeItems();
    await app.row(/Kelp Road/).click();
    const long = 'An album whose name is far longer than any column of a ledger on a screen like this';
    await card.getByLabel('album', { exact: true }).fill(long);
    await card.getByLabel('album', { exact: true }).press('Enter');
    const cell = page.getByRole('gridcell', { name: long, exact: true });
    // Not by the mouse: a real tooltip opens a window, which headless Chromium may wait for without end.
    await cell.dispatchEvent('pointerover');
    await expect(cell).toHaveAttribute('title', long);
  });
});

test('media that is not taken in is listed with what it is and what it needs', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([...ALBUM.slice(0, 1), { path: 'Old/ferry.avi', bytes: [82, 73, 70, 70] }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await page.getByRole('button', { name: /1 file not read/ }).click();
  const listed = page.getByRole('list', { name: 'Files that were not read' });
  await expect(listed).toContainText('Old/ferry.avi');
  await expect(listed).toContainText('AVI, which is not supported');
  await expect(listed).toContainText('convert it first');
});
