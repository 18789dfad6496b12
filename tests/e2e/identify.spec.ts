import { expect, test, type App } from './app';
import type { Page } from '@playwright/test';

const FERRY = Array.from({ length: 9 }, (_, index) => `Discs/FERRY_INSP_S1_D2/title_0${index}.mkv`);
const THROWN = [1, 2, 3, 4, 5, 6].map((index) => `Drop/from the old laptop/audio_${index}.mp3`);

const files = (page: Page) => page.getByRole('listbox', { name: 'Files and the entries they match' });
const file = (page: Page, name: string) => files(page).getByRole('option', { name: new RegExp(`^${name},`) });

async function layOut(app: App, paths: readonly string[], set: RegExp): Promise<void> {
  await app.open();
  await app.fillFolder(paths);
  await app.takeInFolder();
  await app.finished(new RegExp(`${paths.length} files taken in`));
  await app.station('Identify').click();
  await app.row(set).getByRole('button').click();
}

async function setManner(page: Page, manner: string): Promise<void> {
  await page.request.put('/reference/manner', { data: { manner } });
}

test.afterEach(async ({ page }) => setManner(page, 'prompt'));

test('a disc of a series: nothing is re-ordered without being seen, and a line-up is taken and undone', async ({
  app,
  page,
}) => {
  await layOut(app, FERRY, /FERRY_INSP/);
  await page.getByRole('radio', { name: /The Ferry Inspector as aired, season 1, 7 to 14/ }).click();

  await test.step('the crossing is told, and both ways are offered', async () => {
    await expect(page.getByText('2 cross')).toBeVisible();
    await expect(file(page, 'title_03')).toHaveAccessibleName(/matched to 10 A Question of Ballast.*crosses/);
    await expect(file(page, 'title_00')).toHaveAccessibleName(/left out/);
    const ways = page.getByRole('group', { name: 'Two ways to match' });
    await ways.getByRole('radio', { name: /straight/ }).check();
    await expect(page.getByText('2 cross')).toHaveCount(0);
    await ways.getByRole('radio', { name: /crossed/ }).check();
  });

  await test.step('a pair is moved by keyboard, held, let go, left open and left out', async () => {
    await file(page, 'title_07').click();
    await files(page).press('Alt+ArrowDown');
    await expect(file(page, 'title_07')).toHaveAccessibleName(/matched to 14 .*fixed by you/);
    await files(page).press('l');
    await expect(file(page, 'title_07')).toHaveAccessibleName(/matched to 13 How We Built the Ferry/);
    await files(page).press('o');
    await expect(file(page, 'title_07')).toHaveAccessibleName(/no entry/);
    await files(page).press('x');
    await expect(file(page, 'title_07')).toHaveAccessibleName(/left out/);
    await page.getByRole('button', { name: 'Include it again' }).click();
    await expect(file(page, 'title_07')).toHaveAccessibleName(/matched to 13/);
  });

  await test.step('a ribbon’s end is dragged to another entry', async () => {
    const grip = page.locator('circle.grip').nth(1);
    const from = await grip.boundingBox();
    if (!from) throw new Error('no grip');
    await page.mouse.move(from.x + 6, from.y + 6);
    await page.mouse.down();
    await page.mouse.move(from.x + 4, from.y + 40, { steps: 4 });
    await page.mouse.move(from.x + 6, from.y + 6 + 35 * 4, { steps: 4 });
    await page.mouse.up();
    await expect(file(page, 'title_02')).toHaveAccessibleName(
      /matched to 12 The Last Manifest, fixed by you/,
    );
    await page.getByRole('button', { name: 'Release it' }).click();
    await expect(file(page, 'title_02')).toHaveAccessibleName(/matched to 8 The Unclaimed Trunk/);
  });

  await test.step('taking it describes the files in one act', async () => {
    await page.getByRole('button', { name: /Accept this line-up/ }).click();
    await app.finished(/The Ferry Inspector: 6 files described, 2 left open/);
    await app.describeItems();
    await app.row(/A Question of Ballast/).click();
    await expect(app.field('show')).toHaveValue('The Ferry Inspector');
    await expect(app.field('episode')).toHaveValue('10');
    await expect(page.getByText('matched to The Ferry Inspector by Series Almanac')).toBeVisible();
    await app.undo();
    await expect(app.field('show')).toHaveValue('');
  });
});

test('tracks in no order are found by their lengths and told by their sound; picture and lyrics come along', async ({
  app,
  page,
}) => {
  await layOut(app, THROWN, /laptop/);
  await expect(page.getByRole('radio', { name: /Ebb Tables/ })).toBeChecked();
  await expect(file(page, 'audio_1')).toHaveAccessibleName(/matched to 4 Springs/);
  await page.getByLabel('Look up by').selectOption('sound');
  await page.getByRole('button', { name: 'Ask' }).click();
  await expect(file(page, 'audio_1')).toHaveAccessibleName(/matched to 4 Springs, sure/);
  await expect(file(page, 'audio_6')).toHaveAccessibleName(/matched to 3 The Long Ebb, sure/);
  await page.getByRole('button', { name: 'What will be written' }).click();
  await page.getByLabel('genre', { exact: true }).first().uncheck();
  await page.getByLabel('picture').selectOption('500 px');
  await page.getByRole('button', { name: /Accept this line-up/ }).click();
  await app.finished(/Ebb Tables: 6 files described/);
  await app.describeItems();
  await app.row(/Neap/).click();
  await expect(app.field('track')).toHaveValue('1');
  await expect(app.field('genre')).toHaveValue('');
  await expect(page.getByText('500×500, JPEG')).toBeVisible();
});

test('one recording as MP3, Opus and FLAC is known by its sound, another recording is not', async ({
  app,
  page,
}) => {
  const names = ['neap.mp3', 'neap.opus', 'neap.flac', 'stranger.opus'];
  for (const name of names)
    await page.route(`**/demo-files/recordings/${name}`, (route) =>
      route.fulfill({ path: `tests/fixtures/sound/${name}` }),
    );
  await layOut(
    app,
    names.map((name) => `recordings/${name}`),
    /recordings/,
  );
  const answer = page.waitForResponse(
    (response) =>
      response.url().endsWith('/reference/search') &&
      /fingerprints/.test(response.request().postData() ?? ''),
  );
  await page.getByLabel('Look up by').selectOption('sound');
  await page.getByRole('button', { name: 'Ask' }).click();
  const { heard } = (await (await answer).json()) as { heard: Record<string, number>[] };
  const shown = (await files(page).getByRole('option').allTextContents()).map((text) => text.trim());
  shown.forEach((name, index) => {
    const known = Object.keys(heard[index] ?? {});
    expect([name, known]).toEqual([name, name.startsWith('neap') ? ['ebb-tables-1'] : []]);
  });
  expect(shown).toHaveLength(4);
});

test('a reference that fails, floods, is slow or knows nothing: a clear word, and the files stay as they are', async ({
  app,
  page,
}) => {
  await setManner(page, 'failing');
  await layOut(app, THROWN.slice(0, 2), /laptop/);
  await expect(page.getByRole('alert')).toContainText('The reference refused (status 503');
  await setManner(page, 'flooding');
  await page.getByRole('button', { name: 'Ask' }).click();
  await expect(page.getByRole('alert')).toContainText('sent too much');
  await setManner(page, 'empty');
  await page.getByRole('button', { name: 'Ask' }).click();
  await expect(page.getByText('No reference knows this. The files stay exactly as they are')).toBeVisible();
  await setManner(page, 'slow');
  await page.getByRole('button', { name: 'Ask' }).click();
  await expect(page.getByRole('button', { name: 'Asking' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Ask', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Leave as they are' }).click();
  await page.getByRole('button', { name: 'All sets' }).click();
  await expect(app.row(/from the old laptop/)).toContainText('left as it is');
  await app.undo();
  await expect(app.row(/from the old laptop/)).toContainText('to identify');
});

test('sets are split and joined by hand', async ({ app, page }) => {
  await layOut(app, [...THROWN.slice(0, 3), 'Drop/07 Slack Before Storm (take 2).mp3'], /laptop/);
  await file(page, 'audio_2').click();
  await page.getByRole('button', { name: 'Split off' }).click();
  await expect(file(page, 'audio_2')).toHaveCount(0);
  await file(page, 'audio_1').click();
  await page
    .getByLabel('Pull in files of another set')
    .selectOption({ label: '07 Slack Before Storm (take 2).mp3' });
  await expect(file(page, '07 Slack Before Storm \\(take 2\\)')).toBeVisible();
  await page.getByRole('button', { name: 'All sets' }).click();
  await expect(page.getByRole('grid').getByRole('row').filter({ hasText: 'grouped by hand' })).toHaveCount(2);
});
