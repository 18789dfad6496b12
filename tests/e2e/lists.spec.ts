import AxeBuilder from '@axe-core/playwright';
import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { expect, test, type App } from './app';

const FATHOM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${FATHOM}/1 - Sounding Line.mp3`,
  `${FATHOM}/2 - Undertow, Understood.mp3`,
  `${FATHOM}/3 - Nine Fathoms.mp3`,
  'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
  'Music/Orla Venn/Nine Lamps Burning/01 Who Goes There_.m4a',
  'Music/Skerry House Evenings/01 Dag Holme - Ferry Waltz.mp3',
  'Music/Skerry House Evenings/02 Orla Venn - Lamp Song.mp3',
];

async function begin(app: App) {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/7 files taken in/);
}

/** Titles and heads of suites, in the order of the list that is looked at. */
async function entries(page: Page): Promise<string[]> {
  const rows = page
    .getByRole('region', { name: /^List / })
    .getByRole('grid')
    .getByRole('row');
  return rows.evaluateAll((all) =>
    all
      .map((row) => ({
        at: Number(row.getAttribute('aria-rowindex')),
        text:
          row.querySelector('input')?.value ??
          row.querySelector('[role=gridcell]:nth-child(3) b')?.textContent ??
          row.textContent?.trim() ??
          '',
      }))
      .sort((a, b) => a.at - b.at)
      .map(({ text }) => text),
  );
}

/** Waits until the list shows just these. */
const shows = (page: Page, expected: readonly string[]) => expect.poll(() => entries(page)).toEqual(expected);

const axe = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  return violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`);
};

async function addSelected(page: Page, list: string) {
  await page.keyboard.press('p');
  await page.getByRole('combobox', { name: 'List', exact: true }).fill(list);
  await page.keyboard.press('Enter');
}

/** Begins with a list by hand of two items, and shows it. */
async function beginWithEvening(app: App, page: Page) {
  await begin(app);
  await app.describeItems();
  for (const title of [/Sounding Line/, /Nine Fathoms/]) {
    await app.row(title).click();
    await addSelected(page, 'Evening');
    await expect(page.getByText(/1 item added to Evening/).first()).toBeVisible();
  }
  await app.station('Lists').click();
  await page.getByRole('button', { name: /^Evening \d/ }).click();
}

test('an evening is gathered on two boards, as suites and one by one, replace with in order', async ({
  app,
  page,
}) => {
  await begin(app);
  await app.station('Describe').click();
  await page
    .getByRole('grid', { name: 'Releases by what they lack' })
    .getByRole('row', { name: /Fathom Songs/ })
    .click();
  await addSelected(page, 'For the ferry');
  await app.finished(/3 items added to For the ferry/);

  await app.station('Intake').click();
  await page.getByLabel('Narrow by any field').fill('song');
  await app.row(/Lamp Song/).click();
  await page.getByRole('grid', { name: 'Arrivals' }).press('Control+a');
  // One of them is there already: it says so, and is not added again.
  await page.keyboard.press('p');
  await expect(page.getByRole('dialog').getByRole('option', { name: /For the ferry/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'List', exact: true }).fill('ferry');
  await page.keyboard.press('Enter');
  await app.finished(/1 item added to For the ferry; 3 were already there/);
  await page.getByLabel('Narrow by any field').fill('');

  // What is dragged to the station of lists is added in the same way.
  await app.row(/Ferry Waltz/).dragTo(app.station('Lists'));
  await expect(page.getByRole('dialog')).toContainText('Add 1 item to a list');
  await page.getByRole('combobox', { name: 'List', exact: true }).fill('Waltzes');
  await page.keyboard.press('Enter');
  await app.finished(/1 item added to Waltzes/);
  await app.undo();

  await app.station('Lists').click();
  await shows(page, ['Fathom Songs', 'Sounding Line', 'Undertow, Understood', 'Nine Fathoms', 'Lamp Song']);
  expect(await axe(page)).toEqual([]);

  // From the card, of two items at once: one suite without a name.
  await app.station('Intake').click();
  await app.row(/Wick/).click();
  await app.row(/Who Goes There/).click({ modifiers: ['Control'] });
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByLabel('Add to a list').fill('For the ferry');
  await card.getByRole('button', { name: 'Add', exact: true }).click();
  await app.finished(/2 items added to For the ferry/);

  await app.station('Lists').click();
  const grid = page.getByRole('grid', { name: 'Entries of For the ferry' });
  const row = (name: string) => grid.getByRole('row', { name });
  await row('Lamp Song').click();
  await grid.press('Alt+ArrowUp');
  await shows(page, [
    'Lamp Song',
    'Fathom Songs',
    'Sounding Line',
    'Undertow, Understood',
    'Nine Fathoms',
    '',
    'Wick',
    'Who Goes There?',
  ]);
  // An entry that is dragged into a suite joins it.
  await row('Lamp Song').dragTo(row('Nine Fathoms'), { targetPosition: { x: 200, y: 4 } });
  await shows(page, [
    'Fathom Songs',
    'Sounding Line',
    'Undertow, Understood',
    'Lamp Song',
    'Nine Fathoms',
    '',
    'Wick',
    'Who Goes There?',
  ]);
  await app.undo();
  await expect.poll(async () => (await entries(page))[0]).toBe('Lamp Song');

  await grid.getByLabel('Name of the suite').nth(1).fill('On deck');
  await page.keyboard.press('Enter');
  await row('Wick').click();
  await page.getByRole('button', { name: 'Split suite' }).click();
  await shows(page, [
    'Lamp Song',
    'Fathom Songs',
    'Sounding Line',
    'Undertow, Understood',
    'Nine Fathoms',
    'Wick',
    'Who Goes There?',
  ]);
  await page.getByLabel('Sort once by').selectOption({ label: 'title' });
  await shows(page, [
    'Lamp Song',
    'Fathom Songs',
    'Nine Fathoms',
    'Sounding Line',
    'Undertow, Understood',
    'Who Goes There?',
    'Wick',
  ]);
  await row('Wick').click();
  await page.keyboard.press('Delete');
  await app.finished(/1 entry removed from For the ferry/);

  // What will be written behind is there once the browser’s storage has it.
  await expect.poll(async () => (await app.kept('library')).split('{"item":').length - 1).toBe(5);
  await page.reload();
  await expect.poll(async () => (await entries(page)).length).toBe(6);
  await expect(page.getByRole('group', { name: 'Totals' })).toContainText('5 entries');
  await page.getByLabel('Name of the list').fill('Crossing');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Crossing/ })).toBeVisible();
  await page.getByRole('button', { name: 'Delete list' }).click();
  await expect(page.getByRole('heading', { name: 'No lists yet' })).toBeVisible();
  await app.undo();
  await expect(page.getByRole('button', { name: /^Crossing/ })).toBeVisible();
});

test('a list by rule fills itself up to its limit, says why, and follows every edit', async ({
  app,
  page,
}) => {
  await begin(app);
  await app.station('Lists').click();
  await page.getByRole('button', { name: 'New list by rule' }).click();
  await page.getByLabel('Name of the list').fill('New for Pocket');
  await page.keyboard.press('Enter');
  const rule = page.getByRole('combobox', { name: 'Rule' });
  await rule.fill('title has wick');
  await expect(page.getByText('1 item would match.')).toBeVisible();
  await rule.fill('added in the last 2 months and never on Pocket');
  await rule.press('Enter');
  await expect.poll(async () => (await entries(page)).length).toBe(7);
  await page.getByLabel('Sorted by').selectOption({ label: 'title' });
  await page.getByLabel('Limited by').selectOption({ label: 'items' });
  await page.getByLabel('At most').fill('2');
  await page.keyboard.press('Enter');
  await shows(page, [
    'Ferry Waltz',
    'Lamp Song',
    'beyond the limit: 5 items',
    'Nine Fathoms',
    'Sounding Line',
    'Undertow, Understood',
    'Who Goes There?',
    'Wick',
  ]);
  await expect(page.getByRole('meter', { name: 'Limit' })).toHaveAttribute(
    'aria-valuetext',
    '100% of 2 items',
  );
  expect(await axe(page)).toEqual([]);

  // What is dropped stays out, and the next ones move up.
  const grid = page.getByRole('grid', { name: 'Entries of New for Pocket' });
  await grid.getByRole('row', { name: 'Ferry Waltz' }).click();
  await grid.getByRole('row', { name: 'Lamp Song' }).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Drop 2 entries' }).click();
  await expect
    .poll(async () => (await entries(page)).slice(0, 3))
    .toEqual(['Nine Fathoms', 'Sounding Line', 'beyond the limit: 3 items']);
  const card = page.getByRole('complementary', { name: 'Card' });
  await grid.getByRole('row', { name: 'Wick' }).click();
  await expect(card.getByText('number 5: the limit is reached before it')).toBeVisible();
  // An edit on the card moves it to the front.
  await app.field('title').fill('A Wick');
  await app.field('title').press('Enter');
  await expect.poll(async () => (await entries(page))[0]).toBe('A Wick');
  await expect(card.getByText('in the list: added in the last 2 months')).toBeVisible();
  await page.getByRole('button', { name: 'Freeze a copy' }).click();
  await app.finished(/holds what New for Pocket holds now/);
  await shows(page, ['A Wick', 'Nine Fathoms']);

  await page.getByRole('button', { name: /^New for Pocket \d/ }).click();
  await page.getByRole('button', { name: 'Restore 2 dropped' }).click();
  await expect.poll(async () => (await entries(page)).slice(0, 2)).toEqual(['A Wick', 'Ferry Waltz']);

  // Lists are asked about on every board, and one that is gone says so.
  await page.getByLabel('Narrow by any field').fill('in list New for Pocket');
  await expect(page.getByRole('region', { name: 'Scope' })).toContainText('2 in scope');
  await app.station('Intake').click();
  await expect(app.row(/04 Wick/)).toBeVisible();
  await page.getByLabel('Narrow by any field').fill('in list Nowhere ');
  await expect(page.getByRole('alert')).toContainText('there is no list “Nowhere”');
  await page.getByLabel('Narrow by any field').fill('');

  await app.station('Lists').click();
  await page.getByRole('button', { name: /^New for Pocket \d/ }).click();
  await rule.fill('in list "New for Pocket"');
  await rule.press('Enter');
  await expect(page.getByRole('alert')).toContainText('The rule refers to the list that it fills.');
  await expect(page.getByText('Nothing is listed until the rule is corrected.')).toBeVisible();
  await app.undo();
  await expect.poll(async () => (await entries(page))[0]).toBe('A Wick');
  await expect.poll(() => app.kept('library')).not.toContain('in list');
  await page.reload();
  await page.getByRole('button', { name: /^New for Pocket \d/ }).click();
  await expect.poll(async () => (await entries(page)).slice(0, 2)).toEqual(['A Wick', 'Ferry Waltz']);
});

test('a list file from elsewhere comes in, open entries are matched, and it goes out again', async ({
  app,
  page,
}) => {
  await begin(app);
  await app.station('Lists').click();
  const lines = [
    '#EXTM3U',
    '#PLAYLIST:From the kitchen',
    FILES[0],
    'D:\\Songs\\Nine Lamps Burning\\04 Wick.m4a',
    '#EXTINF:-1,Dag Holme - Ferry Waltz',
    'waltz (live).ogg',
    '#EXTINF:220,Cato Lund - Slack Tide',
    '../tapes/slack tide.mp3',
    '#EXTINF:61,Nobody - Lamp Song',
    'tapes/lamp.mp3',
    'http://radio.example/stream',
  ];
  const file = (name: string, text: string) => ({
    name,
    mimeType: 'audio/x-mpegurl',
    buffer: Buffer.from(text),
  });
  const reading = page.getByRole('group', { name: 'Read list files' });
  await reading
    .locator('input')
    .setInputFiles([
      file('kitchen.m3u8', `${lines.join('\r\n')}\r\n`),
      file('broken.m3u', 'PK\u0003\u0004\u0000\u0000'),
    ]);
  await expect(reading).toContainText(
    '1 found by path, 1 found by the end of the path, 1 found by artist and title',
  );
  await expect(reading).toContainText('3 not found');
  await expect(reading.getByRole('alert')).toContainText('broken.m3u was not read: this is not a text file');
  await expect.poll(() => entries(page)).toHaveLength(6);
  await expect(page.getByRole('group', { name: 'Totals' })).toContainText('3 open');
  await expect(page.getByRole('link', { name: /Lists 1 list, 3 open/ })).toBeVisible();
  expect(await axe(page)).toEqual([]);

  const grid = page.getByRole('grid', { name: 'Entries of From the kitchen' });
  await grid.getByRole('row', { name: /Lamp Song/ }).click();
  await page.getByRole('button', { name: 'Match to an item' }).click();
  await expect(page.getByRole('dialog')).toContainText('tapes/lamp.mp3');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Lamp Song/ })
    .click();
  await expect(page.getByRole('group', { name: 'Totals' })).toContainText('2 open');

  const save = async () => {
    await page.getByRole('button', { name: 'Save as a file' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('dialog').getByRole('button', { name: 'Save file' }).click(),
    ]);
    return { name: download.suggestedFilename(), text: await readFile(await download.path(), 'utf8') };
  };
  const first = await save();
  expect(first.name).toBe('From the kitchen.m3u8');
  expect(first.text).toContain(`${FILES[3]}\n`);
  expect(first.text).toContain('#EXTINF:220,Cato Lund - Slack Tide\n../tapes/slack tide.mp3\n');
  expect(first.text).toContain(`${FILES[6]}\n`);
  expect(first.text.trim().endsWith('http://radio.example/stream')).toBe(true);

  // What goes out comes in again as it was: another list, by another name.
  await reading.locator('input').setInputFiles([file('again.m3u8', first.text)]);
  await expect(reading).toContainText('4 found by path');
  await expect(page.getByRole('button', { name: /^From the kitchen 2/ })).toBeVisible();
  await app.undo();
  await expect(page.getByRole('button', { name: /^From the kitchen 2/ })).toHaveCount(0);
});

test('the queue is a list: suites stay whole, it survives a reload, and is kept by a name', async ({
  app,
  page,
}) => {
  await beginWithEvening(app, page);
  await page.getByRole('row', { name: /Sounding Line/ }).click();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'Make one suite' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const strip = page.getByRole('group', { name: 'Listen' });
  await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible();
  await strip.getByRole('button', { name: 'Pause' }).click();
  // What is put next stands behind the suite that is heard.
  await app.describeItems();
  await app.row(/Ferry Waltz/).click();
  await strip.getByRole('button', { name: 'What is played' }).click();
  await page.getByRole('button', { name: 'Play selected next' }).click();
  const queue = page.getByRole('grid', { name: 'What is played, in order' });
  const titles = () =>
    queue
      .getByRole('row')
      .evaluateAll((rows) =>
        rows
          .sort((a, b) => Number(a.getAttribute('aria-rowindex')) - Number(b.getAttribute('aria-rowindex')))
          .map((row) => row.querySelector('.go, b')?.textContent ?? ''),
      );
  const expected = ['Suite', 'Sounding Line', 'Nine Fathoms', 'Ferry Waltz'];
  await expect.poll(titles).toEqual(expected);
  await expect(page.getByRole('group', { name: 'What is played' })).toContainText('3 entries, from Evening');
  await expect
    .poll(() => app.kept('library'))
    .toMatch(/\}\]\},\{"name":null,"entries":\[\{"item":"[^"]+"\}\]\}\]\}/);
  await page.reload();
  await expect(strip).toContainText('Sounding Line');
  await strip.getByRole('button', { name: 'What is played' }).click();
  await expect.poll(titles).toEqual(expected);
  await page.getByLabel('Name of the list').fill('Kept from the queue');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await app.station('Lists').click();
  await page.getByRole('button', { name: /^Kept from the queue 3/ }).click();
  await shows(page, ['', 'Sounding Line', 'Nine Fathoms', 'Ferry Waltz']);
});

test('what was played to its end is marked in its list and counted, and marks are cleared', async ({
  app,
  page,
}) => {
  await beginWithEvening(app, page);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const strip = page.getByRole('group', { name: 'Listen' });
  await expect(strip).toContainText('Sounding Line');
  const toEnd = () =>
    page.evaluate(() => {
      const player = document.querySelector('audio');
      if (player) player.currentTime = player.duration - 0.2;
    });
  const place = strip.getByRole('slider', { name: 'Place' });
  await expect.poll(async () => Number(await place.inputValue())).toBeGreaterThan(0);
  await toEnd();
  const row = page.getByRole('row', { name: /Sounding Line/ });
  await expect(row.getByLabel('played')).toBeVisible();
  await expect(strip).toContainText('Nine Fathoms');
  await strip.getByRole('button', { name: 'Pause' }).click();
  await expect(page.getByRole('group', { name: 'Totals' })).toContainText('1 played');
  // It goes on with what was not played.
  await page.getByRole('button', { name: 'Shuffle', exact: true }).click();
  await expect(strip).toContainText('Nine Fathoms');
  await strip.getByRole('button', { name: 'Pause' }).click();
  // Queries know it.
  await page.getByRole('button', { name: 'New list' }).click();
  await page.getByRole('button', { name: 'By rule' }).click();
  const rule = page.getByRole('combobox', { name: 'Rule' });
  await rule.fill('played');
  await rule.press('Enter');
  await shows(page, ['Sounding Line']);
  await rule.fill('never played and title has fathoms');
  await rule.press('Enter');
  await shows(page, ['Nine Fathoms']);
  await page.getByRole('button', { name: /^Evening \d/ }).click();
  await row.click();
  await expect(page.getByText(/Played to the end once, last on \d+/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Clear all played marks' }).click();
  await expect(row.getByLabel('played')).toHaveCount(0);
  await app.undo();
  await expect(row.getByLabel('played')).toBeVisible();
});

test('a rule is built from conditions, sorted by several fields, and is the one that others write', async ({
  app,
  page,
}) => {
  await begin(app);
  await app.station('Lists').click();
  await page.getByRole('button', { name: 'New list by rule' }).click();
  await page.getByLabel('Name of the list').fill('Choir');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Choose conditions' }).click();
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('combobox', { name: 'Condition 1, of what' }).selectOption('artist');
  await page.getByRole('combobox', { name: 'Condition 1, how' }).selectOption('contains');
  await page.getByRole('textbox', { name: 'Condition 1, value' }).fill('orla venn');
  await page.keyboard.press('Tab');
  await expect.poll(async () => (await entries(page)).length).toBe(3);
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('combobox', { name: 'Condition 2, of what' }).selectOption('title');
  await page.getByRole('combobox', { name: 'Condition 2, how' }).selectOption('does not contain');
  await page.getByRole('textbox', { name: 'Condition 2, value' }).fill('lamp');
  await page.keyboard.press('Tab');
  await page.getByRole('combobox', { name: 'Sorted by' }).selectOption('album');
  await page.getByRole('combobox', { name: 'Then by' }).selectOption('title');
  await page.getByRole('button', { name: 'Direction of title' }).click();
  await shows(page, ['Wick', 'Who Goes There?']);
  await page.getByRole('button', { name: 'Write the rule' }).click();
  const rule = page.getByRole('combobox', { name: 'Rule' });
  await expect(rule).toHaveValue('artist has orla venn and not title has lamp');
  await rule.fill('(artist has venn or title has wick) and no lyrics');
  await rule.press('Enter');
  await page.getByRole('button', { name: 'Choose conditions' }).click();
  await expect(page.getByText('This rule is more than a list of conditions.')).toBeVisible();
  await app.undo();
  await expect(page.getByRole('textbox', { name: 'Condition 2, value' })).toHaveValue('lamp');
  expect(await axe(page)).toEqual([]);
});

test('a folder of lists is read, whatever else lies in it', async ({ app, page }) => {
  await begin(app);
  await page.evaluate(async () => {
    const root = await (
      await navigator.storage.getDirectory()
    ).getDirectoryHandle('lectorum-lists', { create: true });
    const inside = await root.getDirectoryHandle('old', { create: true });
    const put = async (folder: FileSystemDirectoryHandle, name: string, text: string) => {
      const file = await (await folder.getFileHandle(name, { create: true })).createWritable();
      await file.write(text);
      await file.close();
    };
    await put(root, 'Kitchen.m3u8', 'Fathom Songs/1 - Sounding Line.mp3\n');
    await put(inside, 'Whole album.m3u', 'Music/The Tidewrack Choir/Fathom Songs\n');
    await put(inside, 'notes.txt', 'Music/nothing.mp3\n');
  });
  await app.station('Lists').click();
  await page.getByRole('button', { name: 'Read a folder of lists' }).click();
  await app.finished(/2 list files read/);
  await page.getByRole('button', { name: /^Whole album 3/ }).click();
  await shows(page, ['Fathom Songs', 'Sounding Line', 'Undertow, Understood', 'Nine Fathoms']);
  await page.getByRole('button', { name: /^Kitchen 1/ }).click();
  await shows(page, ['Sounding Line']);
});
