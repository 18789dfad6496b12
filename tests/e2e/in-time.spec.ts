import { readFile } from 'node:fs/promises';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { memorySource } from '../../src/lib/core/bytes';
import { readNative } from '../../src/lib/formats/mp4';
import { makePng } from '../helpers/picture-bytes';
import { expect, test, type App } from './app';
import { filesOn } from '../helpers/answers';

const SONG = 'Drop/07 Slack Before Storm (take 2).mp3';

async function open(app: App, page: Page, surface: 'Words' | 'Chapters', path = SONG) {
  await app.open();
  await app.fillFolder([path]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.describeItems();
  await app.row(/Slack Before Storm|Almanac/).click();
  await page
    .getByRole('complementary', { name: 'Card' })
    .getByRole('button', { name: surface, exact: true })
    .press('Enter');
  await expect(page.getByRole('heading', { name: new RegExp(`^${surface} of `) })).toBeVisible();
}

/** Waits until it was heard up to a second. */
async function heardTo(page: Page, seconds: number) {
  const place = page.getByRole('slider', { name: 'Place' });
  await expect.poll(async () => Number(await place.inputValue())).toBeGreaterThan(seconds);
}

async function saved(page: Page, act: () => Promise<unknown>): Promise<string> {
  const [download] = await Promise.all([page.waitForEvent('download'), act()]);
  return readFile(await download.path(), 'utf8');
}

const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });

test('chapters are marked while it is heard, by keys alone, moved, named, proposed, saved and read', async ({
  app,
  page,
}) => {
  await open(app, page, 'Chapters');
  const main = page.getByRole('main');
  await main.getByRole('button', { name: 'Play', exact: true }).press('Enter');
  for (const at of [0.2, 1.2, 2.2]) {
    await heardTo(page, at);
    await page.keyboard.press('m');
  }
  await main.getByRole('button', { name: 'Pause' }).press('Enter');
  await expect(main.getByRole('textbox', { name: /^Title of chapter/ })).toHaveCount(3);
  await main.getByRole('textbox', { name: 'Title of chapter 2' }).fill('Before the storm');
  await main.getByRole('textbox', { name: 'Title of chapter 2' }).press('Enter');

  const shows = main.getByRole('group', { name: 'Picture of Before the storm' });
  await shows.getByLabel('Picture of this chapter').setInputFiles({
    name: 'storm.png',
    mimeType: 'image/png',
    buffer: Buffer.from(makePng(64, 48)),
  });
  await expect(shows.getByText('64×48')).toBeVisible();
  await expect(
    main.getByRole('row', { name: /Before the storm/ }).getByAltText('has a picture'),
  ).toBeVisible();
  await shows.getByRole('button', { name: 'Remove picture' }).press('Enter');
  await expect(shows.getByLabel('Picture of this chapter')).toBeVisible();
  await app.undo();
  await expect(shows.getByText('64×48')).toBeVisible();

  const mark = main.getByRole('slider', { name: 'Start of Before the storm' });
  const before = Number(await mark.getAttribute('aria-valuenow'));
  await mark.press('Shift+ArrowRight');
  await expect.poll(async () => Number(await mark.getAttribute('aria-valuenow'))).toBeCloseTo(before + 1, 2);
  await app.undo();
  await expect.poll(async () => Number(await mark.getAttribute('aria-valuenow'))).toBeCloseTo(before, 2);

  await main.getByRole('textbox', { name: 'Where Before the storm begins' }).fill('0:30');
  await main.getByRole('textbox', { name: 'Where Before the storm begins' }).press('Enter');
  await expect(main.getByRole('textbox', { name: 'Title of chapter 3' })).toHaveValue('Before the storm');
  await main.getByRole('textbox', { name: 'Pattern of titles' }).fill('Part :number: :title');
  await main.getByRole('button', { name: 'Name all' }).press('Enter');
  await expect(main.getByRole('textbox', { name: 'Title of chapter 3' })).toHaveValue(
    'Part 3: Before the storm',
  );

  await main.getByRole('button', { name: 'Show loudness' }).press('Enter');
  await main.getByLabel(/suggest chapters at silences/).check();
  // A song is never silent.
  await expect(main.getByRole('button', { name: 'Take all 0' })).toBeDisabled();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);

  const cue = await saved(page, () => main.getByLabel('Save the chapters as').selectOption('Cue sheet'));
  expect(cue).toContain('TITLE "Part 3: Before the storm"\n    INDEX 01 00:30:00');

  const chooser = main.getByLabel('Read a file');
  await chooser.setInputFiles(file('wrong.csv', '0:00,Fog\nsoon,Storm\n'));
  await expect(main.getByRole('alert')).toContainText('wrong.csv, line 2: “soon” is no time');
  await chooser.setInputFiles(
    file('right.vtt', 'WEBVTT\n\n00:00.000 --> 00:20.000\nFog\n\n00:20.000 --> 00:40.000\nStorm\n'),
  );
  await expect(main.getByRole('textbox', { name: /^Title of chapter/ })).toHaveCount(2);
  await expect(main.getByRole('alert')).toHaveCount(0);
  await app.undo();
  await expect(main.getByRole('textbox', { name: /^Title of chapter/ })).toHaveCount(3);
  await chooser.setInputFiles(file('lines.txt', '0:01 Fog\n0:02 Storm\n'));
  await main.getByRole('button', { name: 'Add a chapter at 0:00' }).click();
  await expect(main.getByRole('textbox', { name: /^Title of chapter/ })).toHaveCount(3);
  await expect(main.getByRole('textbox', { name: 'Title of chapter 2' })).toHaveValue('Fog');
  await expect(main.getByRole('button', { name: 'Add a chapter at 0:00' })).toHaveCount(0);
  await app.undo();
  await app.undo();
  await expect(main.getByRole('textbox', { name: 'Title of chapter 3' })).toBeVisible();

  // What is kept comes back, and the sound need not be heard again.
  await expect.poll(() => app.kept('said')).toContain('Part 3: Before the storm');
  await page.reload();
  await app.describeItems();
  await app.row(/Slack Before Storm/).click();
  await page
    .getByRole('complementary', { name: 'Card' })
    .getByRole('button', { name: 'Chapters', exact: true })
    .press('Enter');
  await expect(main.getByRole('textbox', { name: 'Title of chapter 3' })).toHaveValue(
    'Part 3: Before the storm',
  );
  await expect(main.getByLabel(/suggest chapters at silences/)).toBeVisible();
});

test('silences of a book propose where chapters begin, one by one or all at once', async ({ app, page }) => {
  await open(app, page, 'Chapters', "Books/The Lamp Keeper's Almanac.m4b");
  const main = page.getByRole('main');
  const titles = main.getByRole('textbox', { name: /^Title of chapter/ });
  await expect(titles).toHaveCount(4);
  await main.getByRole('button', { name: 'Show loudness' }).press('Enter');
  await main.getByLabel(/suggest chapters at silences/).check();
  await main.getByLabel('Seconds of silence, at least').fill('0.4');
  await main
    .getByRole('button', { name: /^Start a chapter at/ })
    .first()
    .press('Enter');
  await expect(titles).toHaveCount(5);
  const all = main.getByRole('button', { name: /^Take all [1-9]/ });
  const count = Number((await all.textContent())?.match(/\d+/)?.[0]);
  await all.press('Enter');
  await expect(titles).toHaveCount(5 + count);
  await expect(main.getByRole('button', { name: 'Take all 0' })).toBeDisabled();
});

test("pictures of a book's chapters go to the player with it, and are read from there", async ({
  app,
  page,
  request,
}) => {
  await open(app, page, 'Chapters', "Books/The Lamp Keeper's Almanac.m4b");
  const main = page.getByRole('main');
  await main.getByRole('textbox', { name: 'Title of chapter 2' }).click();
  const shows = main.getByRole('group', { name: 'Picture of An Inventory of Oil' });
  await shows.getByLabel('Picture of this chapter').setInputFiles({
    name: 'oil.png',
    mimeType: 'image/png',
    buffer: Buffer.from(makePng(64, 48)),
  });
  await expect(shows.getByText('64×48')).toBeVisible();
  await expect(main.getByText(/cannot store chapter pictures/)).toHaveCount(0);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Players' }).click();
  await app.run();
  await app.finished(/run finished: \d+ steps, none failed/);

  const files = await filesOn(request, 'attic');
  const path = files.find((one) => one.path.endsWith('.m4b'))?.path ?? '';
  const url = `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`;
  const copy = await (await request.get(url)).body();
  const told = await readNative(memorySource(new Uint8Array(copy)));
  expect(told?.chapters.map(({ title, picture }) => [title, picture?.width ?? null])).toEqual([
    ['The Lamp Is Lit', null],
    ['An Inventory of Oil', 64],
    ['The Supply Boat Is Late', null],
    ['Fog, First Day', null],
  ]);
});

test('words get their times one key a line while they are heard, are moved as a whole, saved and read', async ({
  app,
  page,
}) => {
  await open(app, page, 'Words');
  const main = page.getByRole('main');
  const lyrics = main.getByRole('textbox', { name: 'lyrics' });
  await lyrics.fill('Haul away\nLow water\n\nHome by the lamp');
  await expect(main.getByRole('status')).toHaveText('34 letters, 8 words, 4 lines');
  await lyrics.blur();
  await main.getByRole('button', { name: /^line by line/ }).press('Enter');
  await main.getByRole('button', { name: 'Play', exact: true }).press('Enter');
  for (const at of [0.2, 0.9]) {
    await heardTo(page, at);
    await page.keyboard.press('m');
  }
  await main.getByRole('button', { name: 'Pause' }).press('Enter');
  await expect(main.getByRole('button', { name: /“Home by the lamp” begins now/ })).toBeVisible();
  const third = main.getByRole('textbox', { name: 'Time of line 3' });
  await third.fill('0:12.5');
  await third.press('Enter');
  await main.getByRole('spinbutton', { name: 'Seconds' }).fill('0.25');
  await main.getByRole('button', { name: 'later' }).press('Enter');
  await expect(third).toHaveValue('0:12.750');
  await main.getByRole('textbox', { name: 'Line 3', exact: true }).fill('Home by the light');
  await main.getByRole('textbox', { name: 'Line 3', exact: true }).press('Enter');
  await expect(app.field('lyrics')).toHaveValue('Haul away\nLow water\n\nHome by the light');
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);

  const lrc = await saved(page, () => main.getByRole('button', { name: 'Save as LRC' }).press('Enter'));
  expect(lrc).toMatch(
    /^\[00:0\d\.\d{3}\]Haul away\n\[00:0\d\.\d{3}\]Low water\n\[00:12\.750\]Home by the light\n$/,
  );
  const chooser = main.getByLabel('Read an LRC file');
  await chooser.setInputFiles(file('none.lrc', 'no times here'));
  await expect(main.getByRole('alert')).toContainText('none.lrc: no line has a time');
  await chooser.setInputFiles(
    file('timed.lrc', '[00:01.00]Haul away\n[00:02.00]<00:02.00>Low <00:02.50>water\n'),
  );
  await expect(main.getByRole('grid', { name: 'Lines' })).toContainText('2 words in time');
  await main.getByRole('button', { name: 'Done' }).press('Enter');
  await expect(page.getByRole('complementary', { name: 'Card' })).toContainText('2 timed lines');
});
