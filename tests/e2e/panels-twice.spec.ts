import { ALBUM, expect, test } from './app';

/* A panel is opened a second time, with other items, and after going away and back: it is about these, and nothing else. */

const FROM = 'Drop/from the old laptop/audio_1.mp3';
const FILES = [
  'Orla Venn/Wick (2016)/01 Harbour Bell.mp3',
  'Orla Venn/Wick (2016)/02 Lamp Song.mp3',
  'Dag Holme/Ebb Tables/07 Neap.mp3',
  'Dag Holme/Ebb Tables/08 Spring.mp3',
  'Dag Holme/Ebb Tables/09 Slack.mp3',
];

test('facts from names are of the items that are selected now', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(FILES.map((path) => ({ path, from: FROM })));
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  const rows = page.getByRole('grid', { name: 'Names and what they say' }).getByRole('row', { name: /mp3/ });
  const open = async (first: RegExp, last: RegExp) => {
    await app.row(first).click();
    await app.row(last).click({ modifiers: ['Shift'] });
    await page.getByRole('button', { name: 'Facts from names' }).click();
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
  await page.getByRole('button', { name: 'Take the facts of 1' }).click();
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
  await expect(page.getByText('2 releases fit: which is it?')).toBeVisible();
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
  await expect(page.getByText('Choose values to make them one.')).toBeVisible();
  await app.station('Players').click();
  await expect(page.getByRole('heading', { name: 'Players', exact: true })).toBeVisible();
  await app.station('Describe').click();
  await page.getByRole('combobox', { name: /^field/ }).selectOption('title');
  await expect(values).toHaveCount(1);
  await values.getByRole('checkbox').check();
  await page.getByLabel('What they become').fill('The Wick');
  await page.getByRole('button', { name: 'Change it' }).click();
  await page.getByRole('button', { name: 'Back to the items' }).click();

  const many = page.getByRole('grid', { name: 'What becomes of each' }).getByRole('row');
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
  await app.fillFolder(FILES.map((path) => ({ path, from: FROM })));
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
  await app.finished(/Done again: genre of 3/i);
  await app.row(/07 Neap/).click();
  await expect(genre).toHaveValue('Choral');
  await expect.poll(() => app.kept('said')).not.toContain('"Cho"');
});
