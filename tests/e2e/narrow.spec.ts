import AxeBuilder from '@axe-core/playwright';
import { bigLibrary } from '../bench/big-library';
import { expect, test, type App } from './app';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${ALBUM}/1 - Sounding Line.mp3`,
  `${ALBUM}/3 - Nine Fathoms.mp3`,
  'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
  'Music/Skerry House Evenings/01 Dag Holme - Ferry Waltz.mp3',
];

async function onDescribe(app: App, paths: readonly string[]): Promise<void> {
  await app.open();
  await app.fillFolder(paths);
  await app.takeInFolder();
  await app.finished(new RegExp(`${paths.length} files taken in`));
  await app.describeItems();
  // Grouping is each board's own: this is that board's.
  await expect(app.page.getByLabel('Grouped by', { exact: true })).toHaveValue('release');
}

test('a query that nothing meets says how it was read, and offers what is near to it', async ({
  app,
  page,
}) => {
  await onDescribe(app, FILES);
  const field = page.getByRole('combobox', { name: 'Narrow by any field' });
  await field.fill('artist venn');
  const told = page.getByRole('status').filter({ hasText: 'No items match' });
  await expect(told).toContainText('searched as text, “artist” and “venn”');
  await told.getByRole('button', { name: 'Search artist has venn' }).click();
  await expect(field).toHaveValue('artist has venn');
  await expect(page.getByText('1 in scope')).toBeVisible();
  await expect(told).toHaveCount(0);
  // Other ways of saying it, and letters without their accents, find the same.
  for (const query of ['artist: venn', 'artist contains vénn', 'longer than 1 second and artist:venn']) {
    await field.fill(query);
    await expect(page.getByText('1 in scope')).toBeVisible();
  }
});

test('a query is written with what it may go on with, by keyboard, and its problem is told with its place', async ({
  app,
  page,
}) => {
  await onDescribe(app, FILES);
  const field = page.getByRole('combobox', { name: 'Narrow by any field' });
  const next = page.getByRole('listbox', { name: 'Suggestions' });
  await field.focus();
  await page.keyboard.type('gen');
  await expect(next.getByRole('option', { name: /^genre/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('genre ');
  await expect(next.getByRole('option').first()).toHaveText(/^is\s*all of it/);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Tab');
  // What stands before an unfinished part holds: nothing does, so all are there.
  await expect(page.getByText('4 in scope')).toBeVisible();
  const choral = next.getByRole('option', { name: 'choral 2' });
  await expect(choral).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await choral.click();
  await expect(field).toHaveValue('genre is choral ');
  await expect(page.getByText('2 in scope')).toBeVisible();
  await page.keyboard.type('and track over 2');
  await expect(page.getByText('1 in scope')).toBeVisible();
  await expect(app.row(/Nine Fathoms/)).toBeVisible();
  await field.fill('genre is choral and track over many and wick');
  await field.blur();
  await expect(page.getByRole('alert').filter({ hasText: 'track needs a number' })).toContainText('many');
  await expect(page.getByText('2 in scope')).toBeVisible();
  await field.fill('no album artist or format is MP4');
  await expect(page.getByText('2 in scope')).toBeVisible();
});

test('what is narrowed to and grouped by is kept under a name, shown again after a reload, and forgotten', async ({
  app,
  page,
}) => {
  await onDescribe(app, FILES);
  const field = page.getByRole('combobox', { name: 'Narrow by any field' });
  await field.fill('genre is choral');
  await field.blur();
  for (const [slot, level] of [
    ['Grouped by', 'decade'],
    ['Grouped by, level 2', 'albumArtist'],
    ['Grouped by, level 3', 'genre'],
    ['Grouped by, level 4', 'year'],
  ] as const)
    await page.getByLabel(slot, { exact: true }).selectOption(level);
  for (const group of ['2020s', 'The Tidewrack Choir', 'choral'])
    await expect(page.getByRole('button', { name: `Close ${group}` })).toBeVisible();
  await page.getByRole('button', { name: 'Views' }).press('Enter');
  await page.getByLabel('Name of this view').fill('Choral by decade');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Views: Choral by decade' })).toBeVisible();
  await expect.poll(() => app.kept('library')).toContain('Choral by decade');
  await page.reload();
  await expect(page.getByText('4 in scope')).toBeVisible();
  await page.getByRole('button', { name: 'Views' }).press('Enter');
  const views = page.getByRole('list', { name: 'Saved views' });
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await views.getByRole('button', { name: /^Choral by decade/ }).press('Enter');
  await expect(field).toHaveValue('genre is choral');
  await expect(page.getByLabel('Grouped by, level 3', { exact: true })).toHaveValue('genre');
  await expect(page.getByLabel('Grouped by, level 4', { exact: true })).toHaveValue('year');
  await expect(page.getByText('2 in scope')).toBeVisible();
  await page.getByRole('button', { name: 'Views: Choral by decade' }).press('Enter');
  await views.getByRole('button', { name: 'Delete the view Choral by decade' }).press('Enter');
  await expect(views).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo Forget view Choral by decade' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Views: Choral by decade' })).toBeVisible();
});

test('items are put in order by a column, the other way round, and back as they are', async ({
  app,
  page,
}) => {
  await onDescribe(app, FILES);
  await page.getByLabel('Grouped by', { exact: true }).selectOption('none');
  const titles = () =>
    page.getByRole('grid').getByRole('row').locator('[role=gridcell]:nth-child(3)').allInnerTexts();
  const head = page.getByRole('columnheader', { name: 'artist', exact: true });
  await head.getByRole('button').press('Enter');
  await expect(head).toHaveAttribute('aria-sort', 'ascending');
  await expect.poll(titles).toEqual(['Ferry Waltz', 'Wick', 'Sounding Line', 'Nine Fathoms']);
  await page.getByRole('columnheader', { name: 'title' }).getByRole('button').press('Enter');
  await expect.poll(titles).toEqual(['Ferry Waltz', 'Nine Fathoms', 'Sounding Line', 'Wick']);
  await page.getByRole('columnheader', { name: 'title' }).getByRole('button').press('Enter');
  await expect.poll(titles).toEqual(['Wick', 'Sounding Line', 'Nine Fathoms', 'Ferry Waltz']);
  await app.row(/Wick/).click();
  const album = page.getByRole('complementary', { name: 'Card' }).getByLabel('album', { exact: true });
  await album.fill('The Anchor');
  await album.press('Enter');
  await page.getByRole('columnheader', { name: 'album', exact: true }).getByRole('button').press('Enter');
  await expect.poll(titles).toEqual(['Sounding Line', 'Nine Fathoms', 'Ferry Waltz', 'Wick']);
  await page.getByLabel('sort without “The”, “Der”, “La” …').check();
  await expect.poll(titles).toEqual(['Wick', 'Sounding Line', 'Nine Fathoms', 'Ferry Waltz']);
});

test('a genre that is the artist’s name is put right from the path, where it is seen', async ({
  app,
  page,
}) => {
  await onDescribe(app, FILES);
  await app.row(/Wick/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  const genre = card.getByLabel('genre', { exact: true });
  await genre.fill('Orla Venn');
  await genre.press('Enter');
  await page.getByRole('button', { name: 'Values', exact: true }).press('Enter');
  const list = page.getByRole('region', { name: 'Values of genre' });
  const row = list.getByRole('listitem').filter({ hasText: 'Orla Venn' });
  await expect(row).toContainText('Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a');
  await row.getByRole('checkbox').press('Space');
  await page.getByRole('button', { name: 'From the path' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'genre from the path' })).toBeVisible();
  await page.getByLabel('pattern', { exact: true }).fill(':genre/:artist/:album/:track :title');
  await page.getByRole('button', { name: 'Use genre of 1 file' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Undo genre from 1 names' })).toBeVisible();
  await page.getByRole('button', { name: 'Back to the values' }).press('Enter');
  await expect(list.getByRole('listitem').filter({ hasText: 'Orla Venn/' })).toContainText('Music');
  await page.getByRole('button', { name: 'Back to the items' }).press('Enter');
  await app.row(/Wick/).click();
  await expect(genre).toHaveValue('Music');
  // Nothing but the genre was taken from the path.
  await expect(card.getByLabel('title', { exact: true })).toHaveValue('Wick');
});

test('a long list that flies past shows what tells its rows apart, and all of them once it rests', async ({
  app,
  page,
}) => {
  await app.open();
  const choosing = page.waitForEvent('filechooser');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find or do' }).pressSequentially('read a library');
  await page.keyboard.press('Enter');
  const buffer = Buffer.from(bigLibrary(2400));
  await (await choosing).setFiles({ name: 'library.zip', mimeType: 'application/zip', buffer });
  await app.finished(/2400 items read/);
  await app.describeItems();
  const list = page.getByRole('grid', { name: /items/i }).first();
  await expect(list.getByRole('row').nth(5)).toBeVisible();
  const flying = await list.evaluate(async (grid) => {
    const body = [...grid.querySelectorAll('*')].find((one) => one.scrollHeight > one.clientHeight + 5000);
    const seen: string[] = [];
    for (let frame = 0; frame < 12; frame++) {
      body?.scrollBy({ top: 2000 });
      await new Promise(requestAnimationFrame);
      const row = grid.querySelectorAll('[role=row]')[5];
      const [, , third, fourth] = row?.querySelectorAll('[role=gridcell]') ?? [];
      if (third && fourth)
        seen.push([third, fourth].map((cell) => (cell.checkVisibility() ? 'drawn' : 'not drawn')).join());
    }
    return seen;
  });
  expect(flying).toContain('drawn,not drawn');
  const cell = list
    .getByRole('row', { name: / 1\d\d\d/ })
    .first()
    .getByRole('gridcell')
    .nth(4);
  await expect(cell).toHaveText(/[a-z]{3}/);
  await expect(cell).toBeVisible();
});
