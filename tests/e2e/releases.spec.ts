import AxeBuilder from '@axe-core/playwright';
import { expect, test } from './app';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${ALBUM}/1 - Sounding Line.mp3`,
  `${ALBUM}/2 - Undertow, Understood.mp3`,
  `${ALBUM}/3 - Nine Fathoms.mp3`,
  'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
  'Music/Skerry House Evenings/01 Dag Holme - Ferry Waltz.mp3',
];

test.beforeEach(async ({ app }) => {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.station('Describe').click();
});

test('what releases lack is seen, one key from the card, and gone once it is filled in', async ({
  app,
  page,
}) => {
  const grid = page.getByRole('grid', { name: 'Releases by what they lack' });
  const release = grid.getByRole('row', { name: /Fathom Songs/ });
  await expect(release.getByRole('img', { name: 'title: all of them' })).toBeVisible();
  await expect(release.getByLabel('chapters: not needed')).toBeVisible();
  await expect(release).toContainText('87%');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);

  await release.getByRole('button', { name: 'words: 0 of 3; select the 3 without' }).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByRole('heading', { name: '3 items' })).toBeVisible();
  const lyrics = card.getByLabel('lyrics', { exact: true });
  await lyrics.fill('Down it goes');
  await lyrics.press('Control+Enter');
  await lyrics.blur();
  await expect(release.getByRole('img', { name: 'words: all of them' })).toBeVisible();
  await expect(release).toContainText('100%');

  // By keyboard: to its items and back, and the release as a whole on the card.
  await grid.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  await expect(app.row(/Sounding Line/)).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await expect(grid.getByRole('row', { name: /Sounding Line/ })).toHaveCount(0);
  await app.undo();
  await expect(release).toContainText('87%');
});

test('a release holds together on a player that has it, and nothing is said of one that it cannot take', async ({
  app,
  page,
}) => {
  const lamps = app.row(/Nine Lamps Burning/);
  await expect(lamps).toContainText('holds');
  await page.getByLabel('as on').selectOption('Galley');
  await expect(app.row(/Fathom Songs/)).toContainText('holds');
  await expect(lamps).not.toContainText('holds');
});

test('releases are put in order by what they lack', async ({ page }) => {
  const grid = page.getByRole('grid', { name: 'Releases by what they lack' });
  const names = () => grid.getByRole('row').locator('[role=gridcell] b').allInnerTexts();
  const named = (texts: readonly string[]) => texts.filter((text) => text.length > 2);
  await expect
    .poll(async () => named(await names()))
    .toEqual(['Fathom Songs', 'Nine Lamps Burning', 'Skerry House Evenings']);
  const head = grid.getByRole('columnheader', { name: 'Items' });
  await head.getByRole('button').press('Enter');
  await head.getByRole('button').press('Enter');
  await expect(head).toHaveAttribute('aria-sort', 'descending');
  await expect.poll(async () => named(await names())[0]).toBe('Fathom Songs');
  const pictures = grid.getByRole('columnheader', { name: 'picture' });
  await pictures.getByRole('button').press('Enter');
  await expect.poll(async () => named(await names())[0]).toBe('Nine Lamps Burning');
  await page.getByLabel('Grouped by', { exact: true }).selectOption('none');
  // Without groups there are no releases to be rows.
  await expect(page.getByRole('grid', { name: 'Items by release' })).toBeVisible();
});

test('columns are chosen, ordered and sized by keyboard, and are there again after a reload', async ({
  app,
  page,
}) => {
  await app.describeItems();
  const grid = page.getByRole('grid', { name: 'Items by release' });
  const heads = () => grid.getByRole('columnheader').allInnerTexts();
  await page.getByRole('button', { name: 'Columns' }).press('Enter');
  await page.getByRole('list', { name: 'Other columns' }).getByLabel('length').press('Space');
  const shown = page.getByRole('list', { name: 'Columns on show' });
  // The focus went along to where the column is now.
  await expect(shown.getByLabel('length', { exact: true })).toBeFocused();
  for (const name of ['artist', 'album artist', 'date'])
    await shown.getByLabel(name, { exact: true }).press('Space');
  for (let turn = 0; turn < 4; turn++)
    await page.getByRole('button', { name: 'Move length to the left' }).press('Enter');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await page.keyboard.press('Escape');
  const wanted = ['track', 'length', 'title', 'album', 'genre', 'picture'];
  await expect.poll(heads).toEqual(wanted);

  const edge = grid.getByRole('separator', { name: 'Width of title' });
  const before = Number(await edge.getAttribute('aria-valuenow'));
  const box = async () => (await grid.getByRole('columnheader', { name: 'title' }).boundingBox())?.width ?? 0;
  const wide = await box();
  await edge.press('ArrowRight');
  await edge.press('ArrowRight');
  await expect(edge).toHaveAttribute('aria-valuenow', String(before + 16));
  await expect.poll(box).toBeGreaterThan(wide);
  // The same with a pointer, and the column beside it gives what this one takes.
  const at = await edge.boundingBox();
  if (!at) throw new Error('the edge is not on screen');
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2 - 60, at.y + at.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect.poll(box).toBeLessThan(wide);
  const now = await edge.getAttribute('aria-valuenow');

  const length = grid.getByRole('columnheader', { name: 'length' });
  await length.getByRole('button').press('Enter');
  await expect(length).toHaveAttribute('aria-sort', 'ascending');
  await expect(page.getByText('5 in scope')).toBeVisible();
  await page.reload();
  await app.describeItems();
  await expect.poll(heads).toEqual(wanted);
  await expect(edge).toHaveAttribute('aria-valuenow', now ?? '');
  await page.getByRole('button', { name: 'Columns' }).press('Enter');
  await page.getByRole('button', { name: 'Reset columns' }).press('Enter');
  await expect.poll(async () => (await heads())[2]).toBe('artist');
});

test('why a release splits is seen cell by cell, differences that cannot be seen too, and a column is mended', async ({
  app,
  page,
}) => {
  await app.describeItems();
  await app.row(/Sounding Line/).click();
  const album = app.field('album');
  // A blank that does not break lines: it looks like any other.
  await album.fill('Fathom\u00a0Songs');
  await album.press('Enter');
  const why = page.getByRole('region', { name: /^Why Fathom.Songs splits/ });
  await expect(why).toContainText('other spaces');
  await expect(why.locator('mark')).toHaveText('␣');
  await expect(why).toContainText('according to its rulebook');
  await why.getByRole('button', { name: '→ Fathom Songs' }).click();
  await expect(why).toHaveCount(0);
  await app.undo();
  await expect(why).toBeVisible();
  await why.getByRole('button', { name: 'Join 1 song' }).click();
  await expect(why).toHaveCount(0);
});
