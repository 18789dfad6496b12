import AxeBuilder from '@axe-core/playwright';
import { expect, test, type App } from './app';

const SONGS = ['1 - Sounding Line', '2 - Undertow, Understood'].map(
  (name) => `Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`,
);

async function described(app: App, files: readonly string[]): Promise<void> {
  await app.open();
  await app.fillFolder(files);
  await app.takeInFolder();
  await app.finished(new RegExp(`${files.length} files? taken in`));
  await app.describeItems();
}

test('one key goes into the card, and one back; stars, a day and a genre are set without typing numbers', async ({
  app,
  page,
}) => {
  await described(app, SONGS);
  await app.row(/Sounding Line/).click();
  const grid = page.getByRole('grid').first();
  await expect(app.field('title')).toBeVisible();
  await grid.press('e');
  await expect(page.locator('[data-field]:focus')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(grid).toBeFocused();

  const card = page.getByRole('complementary', { name: 'Card' });
  const said = card.locator('section').filter({ hasText: 'What is said in it?' });
  await said.getByRole('button', { name: /more fields?$/ }).click();
  const stars = card.getByRole('slider', { name: 'Stars of rating' });
  await expect(stars).toHaveAttribute('aria-valuetext', 'no stars');
  await stars.press('4');
  await expect(app.field('rating')).toHaveValue('80');
  await stars.press('ArrowLeft');
  await expect(app.field('rating')).toHaveValue('70');
  await expect(stars).toHaveAttribute('aria-valuetext', '3.5 of 5 stars');
  await stars.click({ position: { x: 2, y: 7 } });
  await expect(app.field('rating')).toHaveValue('10');
  await stars.click({ position: { x: 2, y: 7 } });
  await expect(app.field('rating')).toHaveValue('');
  await app.undo();
  await expect(stars).toHaveAttribute('aria-valuetext', '0.5 of 5 stars');

  await card.getByLabel('Choose the date').first().fill('2021-05-04');
  await expect(app.field('date')).toHaveValue('2021-05-04');
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);

  // Another item, both together, and the first one after a reload.
  await app.row(/Undertow/).click();
  await expect(stars).toHaveAttribute('aria-valuetext', 'no stars');
  await expect(app.field('date')).not.toHaveValue('2021-05-04');
  await expect.poll(() => app.kept('said')).toContain('2021-05-04');
  await page.reload();
  await app.describeItems();
  await app.row(/Sounding Line/).click();
  await expect(app.field('date')).toHaveValue('2021-05-04');
  await expect(stars).toHaveAttribute('aria-valuetext', '0.5 of 5 stars');
});

test('genres are proposed as usual for the kind', async ({ app, page }) => {
  await described(app, ['Podcasts/Slack Water/slack-water-031.mp3', SONGS[0] as string]);
  await app.row(/Ropes and Herring/).click();
  await expect(page.getByRole('complementary', { name: 'Card' })).toContainText('podcast');
  await app.field('genre').fill('inter');
  await expect(page.getByRole('option', { name: /Interviews usual for podcast episodes/ })).toBeVisible();
  await app.field('genre').press('ArrowDown');
  await app.field('genre').press('Enter');
  await expect(app.field('genre')).toHaveValue('Interviews');
  await app.row(/Sounding Line/).click();
  await app.field('genre').fill('inter');
  await expect(page.getByRole('option', { name: /usual for podcast/ })).toHaveCount(0);
});

test('chapters are marked by keys while a title is typed', async ({ app, page }) => {
  await described(app, SONGS.slice(0, 1));
  await app.row(/Sounding Line/).click();
  await page.getByRole('complementary', { name: 'Card' }).getByRole('button', { name: 'Chapters' }).click();
  const main = page.getByRole('main');
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('k');
  await expect(main.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press(']');
  await expect(main.getByLabel('Playback speed')).toHaveValue('1.25');
  await page.keyboard.press('m');
  await page.keyboard.press('l');
  const title = main.getByRole('textbox', { name: 'Title of chapter 1' });
  await title.focus();
  await page.keyboard.press('Alt+m');
  await expect(main.getByRole('textbox', { name: 'Title of chapter 2' })).toBeVisible();
  await page.keyboard.press('Alt+k');
  await expect(main.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('mark this place there');
});
