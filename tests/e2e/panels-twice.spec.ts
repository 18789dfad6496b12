import type { Page } from '@playwright/test';
import { ALBUM, expect, test, type App } from './app';

/* A panel is opened a second time, with other items, and after going away and back: it is about these, and nothing else. */

const FILES = [
  'Orla Venn/Wick (2016)/01 Harbour Bell.mp3',
  'Orla Venn/Wick (2016)/02 Lamp Song.mp3',
  'Dag Holme/Ebb Tables/07 Neap.mp3',
  'Dag Holme/Ebb Tables/08 Spring.mp3',
  'Dag Holme/Ebb Tables/09 Slack.mp3',
].map((path, index) => ({ path, from: `Drop/from the old laptop/audio_${index + 1}.mp3` }));

test('facts from names are of the items that are selected now', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  const rows = page.getByRole('grid', { name: 'Names and what they say' }).getByRole('row', { name: /mp3/ });
  const open = async (first: RegExp, last: RegExp) => {
    await app.row(first).click();
    await app.row(last).click({ modifiers: ['Shift'] });
    await page.getByRole('button', { name: 'Fields from names' }).click();
  };
  await open(/07 Neap/, /09 Slack/);
  await expect(rows).toHaveCount(3);
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();

  await open(/01 Harbour/, /02 Lamp/);
  await expect(rows).toHaveCount(2);
  await expect(page.getByRole('button', { name: /^all/ })).toContainText('2');
  await page.getByLabel('pattern', { exact: true }).fill(':artist/:album{ (:year)}/:track :title');
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();

  await app.station('Players').click();
  await app.station('Intake').click();
  await open(/01 Harbour/, /02 Lamp/);
  await expect(rows).toHaveCount(2);
  await page.getByLabel('Take 02 Lamp Song.mp3').uncheck();
  await page.getByRole('button', { name: 'Use the fields of 1 file' }).click();
  await app.finished(/Facts taken from 1 names?/);
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  for (const [row, title] of [
    [/01 Harbour/, 'Harbour Bell'],
    [/02 Lamp/, ''],
    [/07 Neap/, ''],
    [/09 Slack/, ''],
  ] as const) {
    await app.row(row).click();
    await expect(app.field('title')).toHaveValue(title);
  }
});

test('a disc that is put in after the panel was closed is the one that is taken', async ({ app, page }) => {
  await app.open();
  const open = async () => {
    await page.getByRole('button', { name: 'a disc' }).first().click();
  };
  await open();
  await page.getByLabel('Put a disc in').selectOption('Tin Chapel');
  await expect(page.getByText('2 releases match: which one is it?')).toBeVisible();
  await page.getByRole('button', { name: 'Eject' }).click();
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  await app.station('Describe').click();
  await app.station('Intake').click();
  await open();
  await page.getByLabel('Put a disc in').selectOption('for the boat, summer');
  await expect(page.getByText('No reference knows this disc')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take in 5 tracks' })).toBeVisible();
  await page.getByLabel('album', { exact: true }).fill('For the Boat');
  await page.getByRole('button', { name: 'Take in 5 tracks' }).click();
  await expect(page.getByText('Finished: 5 of 5 tracks taken in.')).toBeVisible({ timeout: 120_000 });
});

test('values, and changes of many, are those of what is in scope now', async ({ app, page }) => {
  const wick = 'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a';
  await app.open();
  await app.fillFolder([...ALBUM, wick]);
  await app.takeInFolder();
  await app.finished(/6 files taken in/);
  await app.describeItems();
  const narrow = page.getByLabel('Narrow by any field');
  const values = page.getByRole('region', { name: 'Values of title' }).getByRole('listitem');
  const openValues = async () => {
    await page.getByRole('button', { name: 'Values', exact: true }).click();
    await page.getByRole('combobox', { name: /^field/ }).selectOption('title');
  };
  await narrow.fill('Tidewrack');
  await openValues();
  await expect(values).toHaveCount(5);
  await values.filter({ hasText: 'Kelp Road' }).getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Back to the items' }).click();

  await narrow.fill('Wick');
  await openValues();
  await expect(values).toHaveCount(1);
  // What was chosen at the first opening is chosen no more.
  await expect(page.getByText('Choose values to merge or change.')).toBeVisible();
  await app.station('Players').click();
  await expect(page.getByRole('heading', { name: 'Players', exact: true })).toBeVisible();
  await app.station('Describe').click();
  await page.getByRole('combobox', { name: /^field/ }).selectOption('title');
  await expect(values).toHaveCount(1);
  await values.getByRole('checkbox').check();
  await page.getByLabel('What they become').fill('The Wick');
  await page.getByRole('button', { name: 'Change value' }).click();
  await page.getByRole('button', { name: 'Back to the items' }).click();

  const many = page.getByRole('grid', { name: 'Preview' }).getByRole('row');
  await page.getByRole('button', { name: 'Change many' }).click();
  await expect(page.getByText('1 item in scope')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the items' }).click();
  await narrow.fill('');
  await page.getByRole('button', { name: 'Change many' }).click();
  await expect(page.getByText('6 items in scope')).toBeVisible();
  expect(await many.count()).toBeLessThanOrEqual(6);
  await page.getByRole('button', { name: 'Back to the items' }).click();
  await app.undo();
  await app.row(/Wick/).click();
  await expect(app.field('title')).toHaveValue('Wick');
  await app.row(/Kelp Road/).click();
  await expect(app.field('title')).toHaveValue('Kelp Road');
});

test('undo in a field is the application’s once its value is taken', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.describeItems();
  await app.row(/07 Neap/).click();
  await app.row(/09 Slack/).click({ modifiers: ['Shift'] });
  const genre = app.field('genre');
  await genre.click();
  await genre.pressSequentially('Choral');
  await genre.press('Enter');
  await expect.poll(() => app.kept('said')).toContain('Choral');
  // The field below has the focus now, and nothing is typed there.
  await page.keyboard.press('Control+z');
  await app.finished(/Undone: genre of 3/i);
  await expect(genre).toHaveValue('');
  // What is being typed is the browser's to undo, and no other value is touched by it.
  await genre.click();
  await genre.pressSequentially('Cho');
  await page.keyboard.press('Control+z');
  await expect(genre).toHaveValue('Ch');
  // The first closes the list of values.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(genre).toHaveValue('');
  await page.keyboard.press('Control+Shift+z');
  await app.finished(/Redone: genre of 3/i);
  await app.row(/07 Neap/).click();
  await expect(genre).toHaveValue('Choral');
  await expect.poll(() => app.kept('said')).not.toContain('"Cho"');
});

test.describe('ways in', () => {
  const sources = (page: Page, name: RegExp) =>
    page.getByRole('toolbar', { name: 'Take in from' }).getByRole('button', { name });
  const back = (page: Page) => page.getByRole('button', { name: 'Back to the arrivals' }).click();
  /** To another station and back. */
  const away = async (app: App, page: Page) => {
    await app.station('Players').click();
    await expect(page.getByRole('heading', { name: 'Players', exact: true })).toBeVisible();
    await app.station('Intake').click();
    await expect(page.getByRole('heading', { name: 'Arrivals' })).toBeVisible();
  };

  test('of feeds, the one that is open now is fetched from', async ({ app, page }) => {
    await app.open();
    await app.fillFolder([ALBUM[0] as string]);
    await app.takeInFolder();
    await app.finished(/1 file taken in/);
    const open = () => sources(page, /Feeds/).click();
    const followed = page.getByRole('list', { name: 'Followed feeds' });
    await open();
    for (const feed of ['slack-water', 'tide-tables']) {
      await page.getByLabel('address', { exact: true }).fill(`/feeds/${feed}`);
      await page.getByRole('button', { name: 'Follow', exact: true }).click();
      await expect(page.getByLabel('address', { exact: true })).toHaveValue('');
    }
    await expect(page.getByRole('region', { name: 'Tide Tables' })).toBeVisible();
    await back(page);
    await away(app, page);
    await open();
    await followed.getByRole('button', { name: /Slack Water/ }).click();
    await expect(page.getByRole('region', { name: 'Tide Tables' })).toHaveCount(0);
    await back(page);
    await open();
    // It is still the one that was chosen last.
    await page.getByRole('button', { name: 'Fetch The Second Drawer' }).click();
    await app.finished(/Slack Water: 1 file taken in/);
    await expect(followed.getByRole('button', { name: /Slack Water/ })).toContainText('2 new of 3');
    await page.reload();
    await open();
    await followed.getByRole('button', { name: /Slack Water/ }).click();
    await expect(page.getByRole('row', { name: /The Second Drawer/ })).toContainText('fetched');
    await page.getByRole('button', { name: 'Skip the new ones' }).click();
    await expect(page.getByRole('button', { name: 'Nothing new' })).toBeDisabled();
    await followed.getByRole('button', { name: /Tide Tables/ }).click();
    await expect(page.getByRole('button', { name: 'Nothing new' })).toHaveCount(0);
  });

  test('of a shelf comes what is ticked now, once', async ({ app, page }) => {
    await app.open();
    await app.fillFolder([ALBUM[0] as string]);
    await app.takeInFolder();
    await app.finished(/1 file taken in/);
    const open = () => sources(page, /Remote shelf/).click();
    await open();
    await page.getByLabel(/Gangplank/).check();
    await expect(page.getByRole('button', { name: /Fetch 1 track/ })).toBeEnabled();
    await back(page);
    await away(app, page);
    await open();
    // What was ticked is ticked, and counted as such.
    await expect(page.getByLabel(/Gangplank/)).toBeChecked();
    await page.getByLabel(/Gangplank/).uncheck();
    await page.getByLabel(/address of a track/).fill('/shelf/artists/cato-lund');
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await expect(page.getByLabel(/Gangplank/)).toHaveCount(0);
    const coming = page.getByRole('region', { name: 'What will be fetched' });
    await expect(page.getByRole('button', { name: /Fetch 6 tracks/ })).toBeEnabled();
    await back(page);
    await open();
    await page.getByRole('button', { name: /Fetch 6 tracks/ }).click();
    await app.finished(/Boathouse: 6 files taken in/);
    await expect(coming.getByText('here already')).toHaveCount(6);
    await back(page);
    await expect(app.row(/Gangplank/)).toHaveCount(0);
    await page.reload();
    await open();
    await page.getByLabel(/address of a track/).fill('/shelf/artists/cato-lund');
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await expect(coming.getByText('here already')).toHaveCount(6);
  });

  test('a check is of what is selected now', async ({ app, page }) => {
    await app.open();
    await app.fillFolder(ALBUM);
    await app.takeInFolder();
    await app.finished(/5 files taken in/);
    const open = async (first: RegExp, last: RegExp) => {
      await app.row(first).click();
      await app.row(last).click({ modifiers: ['Shift'] });
      await page.getByRole('button', { name: 'Check', exact: true }).click();
    };
    await open(/01 Inventory/, /02 Kelp/);
    await page.getByRole('button', { name: 'Check 2 items' }).click();
    await app.finished(/2 of 2 checked/);
    await back(page);
    await away(app, page);
    await open(/02 Kelp/, /04 Low Water/);
    await page.getByRole('button', { name: 'Check 2 items' }).click();
    await app.finished(/2 of 2 checked/);
    await expect(page.getByText('all 3 checked')).toBeVisible();
    await back(page);
    await page.reload();
    await open(/01 Inventory/, /05 Ballast/);
    await expect(page.getByText('1 of 5 items not checked yet')).toBeVisible();
    await page.getByRole('button', { name: 'Check 1 item' }).click();
    await app.finished(/1 of 1 checked/);
    await expect(page.getByText('all 5 checked')).toBeVisible();
  });

  test('a watched tree shows what it is now', async ({ app, page }) => {
    await app.open();
    await app.fillFolder(
      [
        { path: 'Choral/one.flac', from: ALBUM[0] as string },
        { path: 'Choral/one again.flac', from: ALBUM[0] as string },
        { path: 'Reels/two.mp3', from: 'Drop/from the old laptop/audio_1.mp3' },
      ],
      'lectorum-watched',
    );
    await page.getByRole('button', { name: 'a watched folder', exact: true }).click();
    await page.getByRole('button', { name: 'Watch a folder' }).click();
    await app.finished(/2 files taken in, 1 duplicate/);
    await back(page);
    // The one that was left out is told, and is no trouble.
    await page.getByRole('button', { name: /1 file set aside/ }).click();
    await expect(page.getByRole('list', { name: 'Files that were not read' })).toContainText(
      'identical to one.flac',
    );
    await page.getByRole('button', { name: /1 file set aside/ }).click();
    await away(app, page);
    const open = () => sources(page, /Watched folder/).click();
    const list = (name: string) =>
      page.getByRole('row').filter({ has: page.getByText(name, { exact: true }) });
    await open();
    await expect(list('Choral').getByRole('cell').nth(1)).toHaveText('1');
    await page.getByLabel('Genre of Reels').fill('reel');
    await page.getByLabel('Genre of Reels').press('Enter');
    await back(page);
    await app.fillFolder(
      [{ path: 'Reels/three.mp3', from: 'Drop/from the old laptop/audio_2.mp3' }],
      'lectorum-watched',
    );
    await open();
    await expect(page.getByLabel('Genre of Reels')).toHaveValue('reel');
    await page.getByRole('button', { name: 'Check now' }).click();
    await expect(list('Reels').getByRole('cell').nth(1)).toHaveText('2');
    await back(page);
    await app.row(/three\.mp3/).click();
    await expect(app.field('genre')).toHaveValue('reel');
    await app.row(/two\.mp3/).click();
    await expect(app.field('genre')).toHaveValue('Reels');
    await page.reload();
    await open();
    await expect(page.getByLabel('Genre of Reels')).toHaveValue('reel');
  });
});
