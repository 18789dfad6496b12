import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { makePng } from '../helpers/picture-bytes';
import { expect, test, type App } from './app';

// Nothing here is clicked, filled or given the focus: what is wanted is reached by Tab and arrows, and typed.

const SONG = 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3';
const TWELVE = Array.from({ length: 12 }, (_, index) => ({
  path: `Loose/take ${String(index + 1).padStart(2, '0')}.mp3`,
  from: SONG,
}));

const SONGS = TWELVE.slice(0, 3);
const ALBUM = ['1 - Sounding Line', '2 - Undertow, Understood', '3 - Nine Fathoms'].map((name) => {
  const path = `Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`;
  return { path, from: path };
});

/** Replaces what a field of the card says. */
async function typeInto(app: App, name: string, text: string) {
  await app.press(app.field(name), 'Control+a');
  await app.page.keyboard.type(text);
  await app.page.keyboard.press('Enter');
}

/** Takes files in, and goes to where items are described. */
async function begin(app: App, page: Page, files: Parameters<App['fillFolder']>[0]) {
  await app.open();
  await app.fillFolder(files);
  await app.press(page.getByRole('button', { name: 'Choose a folder' }));
  await app.finished(new RegExp(`${files.length} files? taken in`));
  await page.keyboard.press('3');
  await app.press(
    page.getByRole('group', { name: 'What the rows are' }).getByRole('button', { name: 'Items' }),
  );
  await app.reach(page.getByRole('grid', { name: 'Items' }));
}

test('twelve tracks get an album, a year, a genre and a picture', async ({ app, page }) => {
  await begin(app, page, TWELVE);
  await page.keyboard.press('Control+a');
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card).toContainText('12 songs');
  await typeInto(app, 'album', 'Neap and Spring');
  await typeInto(app, 'date', '1987');
  await typeInto(app, 'genre', 'sea choir');
  const chooser = page.waitForEvent('filechooser');
  await app.press(card.getByRole('button', { name: 'Choose a file' }));
  await (
    await chooser
  ).setFiles({ name: 'front.png', mimeType: 'image/png', buffer: Buffer.from(makePng(600, 600)) });
  await expect(card).toContainText('600×600');
  await expect(app.field('album')).toHaveValue('Neap and Spring');
});

test('three chapters are marked while it is heard', async ({ app, page }) => {
  await begin(app, page, ['Drop/07 Slack Before Storm (take 2).mp3']);
  await page.keyboard.press('Control+a');
  const card = page.getByRole('complementary', { name: 'Card' });
  await app.press(card.getByRole('button', { name: 'Chapters', exact: true }));
  const main = page.getByRole('main');
  await app.press(main.getByRole('button', { name: 'Play', exact: true }));
  const place = page.getByRole('slider', { name: 'Place' });
  for (const seconds of [0.2, 1.2, 2.2]) {
    await expect.poll(async () => Number(await place.inputValue())).toBeGreaterThan(seconds);
    await page.keyboard.press('m');
  }
  await app.press(main.getByRole('button', { name: 'Pause' }));
  for (const [index, title] of ['Slack', 'First gust', 'Storm'].entries()) {
    await app.reach(main.getByRole('textbox', { name: `Title of chapter ${index + 1}` }));
    await page.keyboard.type(title);
    await page.keyboard.press('Enter');
  }
  await app.reach(main.getByRole('button', { name: 'Done' }), 'Shift+Tab');
  await page.keyboard.press('Enter');
  await expect(card).toContainText('3 chapters');
  await expect(card).toContainText('First gust');
});

test('what splits a release is found and mended', async ({ app, page }) => {
  await begin(app, page, ALBUM);
  await page.keyboard.press('End');
  await typeInto(app, 'album artist', 'The Tidewrack Chorus');
  const why = page.getByRole('region', { name: /^Why Fathom Songs splits/ });
  await app.press(why.getByRole('button', { name: '→ The Tidewrack Choir' }), 'Enter');
  await expect(why).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Undo / })).toBeVisible();
});

test('two spellings of a genre become one, by the one button and by choosing both', async ({ app, page }) => {
  await begin(app, page, SONGS);
  await page.keyboard.press('End');
  await typeInto(app, 'genre', 'Choral');
  await app.press(page.getByRole('button', { name: 'Values', exact: true }));
  const list = page.getByRole('region', { name: 'Values of genre' });
  const row = (text: string) =>
    list.getByRole('listitem').filter({ has: page.getByText(text, { exact: true }) });
  await expect(row('Choral')).toContainText('the same as choral but for letter case');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await app.press(row('Choral').getByRole('button', { name: 'To choral' }));
  await expect(row('Choral')).toHaveCount(0);
  await expect(row('choral').getByRole('button', { name: 'Show 3 items of choral' })).toBeVisible();
  await app.press(page.getByRole('button', { name: 'Undo genre Choral to choral' }));
  await app.press(row('Choral').getByRole('checkbox'), 'Space');
  await app.press(row('choral').getByRole('checkbox'), 'Space');
  const into = page.getByLabel('What they become');
  await expect(into).toHaveValue('choral');
  await app.press(into, 'Control+a');
  await page.keyboard.type('sea choir');
  await page.keyboard.press('Enter');
  await expect(row('sea choir')).toContainText('3');
  await expect(page.getByRole('button', { name: 'Undo 2 values of genre to sea choir' })).toBeVisible();
  await app.press(row('sea choir').getByRole('button', { name: 'Show 3 items of sea choir' }));
  await expect(page.getByRole('combobox', { name: 'Narrow by any field' })).toHaveValue('genre is sea choir');
  await expect(page.getByText('3 in scope')).toBeVisible();
});
