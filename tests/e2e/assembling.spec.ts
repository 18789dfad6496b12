import AxeBuilder from '@axe-core/playwright';
import { spawnSync } from 'node:child_process';
import { pathsOn } from '../helpers/answers';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { ALBUM, expect, test, type App } from './app';

const BOOK = ['00', '01', '02'].map((number) => `Books/Wreckmasters Daughters/${number}.mp3`);

const make = ({ page }: App, name: RegExp | string) =>
  page.getByRole('complementary', { name: 'Card' }).getByRole('button', { name });

/** Selects all rows on Prepare, those too that play everywhere. */
async function selectAll(app: App): Promise<void> {
  await app.station('Prepare').click();
  await app.page.getByLabel('hide what plays everywhere').uncheck();
  const rows = app.page.getByRole('grid', { name: 'What plays where' }).getByRole('row');
  await rows.nth(1).click();
  for (let row = 2; row < (await rows.count()); row++)
    await rows.nth(row).click({ modifiers: ['ControlOrMeta'] });
}

test('an audiobook of single files is joined into one M4B with chapters, and split into the same files again', async ({
  app,
  page,
  request,
}) => {
  await app.open();
  await app.fillFolder(BOOK);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await selectAll(app);
  await make(app, 'Join into one file').click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('listitem')).toHaveCount(3);
  const titles = await sheet.getByRole('listitem').allInnerTexts();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await sheet.getByLabel('title').fill('The Wreckmaster’s Daughters');
  await sheet.getByRole('button', { name: 'Join them' }).click();
  await app.finished(/Made here: 1 file taken in/);
  await expect(make(app, 'Split at 3 chapters')).toBeVisible();
  await expect(page.getByText('Made from 3 items.')).toBeVisible();

  await app.describeItems();
  await app.row(/Wreckmaster’s Daughters/).click();
  await app.field('artist').fill('Ines Marrable');
  await app.field('artist').press('Enter');
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Attic, / }).check();
  await app.run();
  await app.finished(/none failed/);
  const copies = (await pathsOn(request, 'attic')).filter((path) => /\.(mp3|m4b)$/.test(path));
  expect(copies).toEqual([expect.stringMatching(/\.m4b$/)]);
  if (hasFfmpeg) {
    const [path = ''] = copies;
    const answer = await request.get(
      `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`,
    );
    const told = withFile(new Uint8Array(await answer.body()), 'm4b', (file) =>
      JSON.parse(
        spawnSync('ffprobe', [
          '-v',
          'error',
          '-of',
          'json',
          '-show_chapters',
          '-show_format',
          file,
        ]).stdout.toString(),
      ),
    ) as { chapters: { start_time: string; tags: { title: string } }[]; format: { duration: string } };
    expect(told.chapters.map(({ tags }) => tags.title)).toEqual(titles.map((title) => title.trim()));
    expect(Number(told.chapters[2]?.start_time)).toBeGreaterThan(Number(told.chapters[1]?.start_time));
  }

  await app.station('Prepare').click();
  await page
    .getByRole('grid', { name: 'What plays where' })
    .getByRole('row', { name: /Daughters/ })
    .last()
    .click();
  await page.getByLabel('Narrow by any field').fill('format is mp4');
  await page.getByRole('grid', { name: 'What plays where' }).getByRole('row').nth(1).click();
  await make(app, 'Split at 3 chapters').click();
  await sheet.getByRole('button', { name: 'Make 3 files' }).click();
  await app.finished(/Made here: 3 files taken in/);
  await app.describeItems();
  await page.getByLabel('Narrow by any field').fill('format is mp4 and album contains wreckmaster');
  for (const title of titles)
    await expect(app.row(new RegExp(`${title.trim()}.*Ines Marrable`))).toBeVisible();
});

test('a ringtone is cut from the sound of a video', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(['Music Videos/The Tidewrack Choir - Low Water.mp4']);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await selectAll(app);
  await make(app, 'Cut a part of its sound').click();
  await page.getByLabel('length, s').fill('4');
  await page.getByRole('button', { name: 'Cut the part' }).click();
  await app.finished(/Made here: 1 file taken in/);
  await expect(page.getByText(/Made from Low Water\./)).toBeVisible();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByText(/^0:04, /)).toBeVisible();
});

test('a ringtone is cut from a song, fades, and is tied to it', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 1));
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await selectAll(app);
  await make(app, 'Cut a part').click();
  await page.getByLabel('begins').fill('0:05');
  await page.getByLabel('begins').press('Enter');
  await page.getByLabel('length, s').fill('6');
  await page.getByLabel('title').fill('Gulls, for the phone');
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await page.getByRole('button', { name: 'Cut the part' }).click();
  await app.finished(/Made here: 1 file taken in/);
  await expect(page.getByText(/Made from Inventory of Gulls\./)).toBeVisible();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByRole('heading', { name: 'Gulls, for the phone' })).toBeVisible();
  await expect(card.getByText(/^0:06, /)).toBeVisible();
  await page.reload();
  await app.describeItems();
  await app.row(/Gulls, for the phone/).click();
  await expect(card.getByText(/ringtone/).first()).toBeVisible();
  await expect(
    app.row(/Gulls, for the phone/).getByRole('gridcell', { name: 'has a picture' }),
  ).toBeVisible();

  // Another recording takes the place of the song: the part is told to be out of date, and is made again from that.
  const [song = ''] = ALBUM;
  await app.fillFolder([{ path: song, from: ALBUM[1] ?? '' }]);
  await app.station('Intake').click();
  await app.takeInFolder();
  await app.finished(/1 changed/);
  await app.station('Prepare').click();
  await page.getByLabel('hide what plays everywhere').uncheck();
  await page.getByLabel('Narrow by any field').fill('title contains phone');
  await page.getByRole('grid', { name: 'What plays where' }).getByRole('row').nth(1).click();
  await expect(card.getByText(/, which changed since\./)).toBeVisible();
  await make(app, 'Make again').click();
  await app.finished(/Made here: .*1 changed/);
  await expect(card.getByText(/, which changed since\./)).toHaveCount(0);
  await expect(card.getByRole('heading', { name: 'Gulls, for the phone' })).toBeVisible();
});
