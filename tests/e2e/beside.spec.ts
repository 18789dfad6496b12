import { readFileSync } from 'node:fs';
import { parseBuffer } from 'music-metadata';
import { tagOf } from '../../scripts/demo/devices.mjs';
import { makePng } from '../helpers/picture-bytes';
import { expect, test, type App } from './app';
import { pathsOn } from '../helpers/answers';

const text = (content: string) => [...Buffer.from(content)];
const sound = readFileSync('stand-ins/boathouse/gangplank.mp3');
const song = (track: number) => [
  ...tagOf({
    TIT2: `Rope ${track}`,
    TPE1: 'Cato Lund',
    TPE2: 'Cato Lund',
    TALB: 'Ropes',
    TRCK: String(track),
    TYER: '2020',
  }),
  ...sound,
];
const ALBUM = [
  { path: 'Ropes/1.mp3', bytes: song(1) },
  { path: 'Ropes/2.mp3', bytes: song(2) },
  { path: 'Ropes/cover.png', bytes: [...makePng(600, 600)] },
  { path: 'Ropes/1.lrc', bytes: text('[00:00.50]Haul away\n[00:01.50]Make fast\n') },
  {
    path: 'Ropes/2.xml',
    bytes: text('<notes><title>Another title</title><genre>sea songs</genre></notes>'),
  },
  { path: 'Ropes/evening.m3u', bytes: text('2.mp3\n1.mp3\n') },
  { path: 'Ropes/receipt.pdf', bytes: text('nothing') },
];

async function taken(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/2 files taken in, 4 files beside them used/);
}

test('cover, lyrics and sidecar beside an album are used, and reach a player with no typing', async ({
  app,
  page,
  request,
}) => {
  await taken(app);
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Pocket, ready 2 to add/ }).check();
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  const [first, second] = (await pathsOn(request, 'pocket')).filter((path) => path.endsWith('.mp3'));
  const read = async (path: string | undefined) => {
    const answer = await request.get(
      `/devices/pocket/files/${(path ?? '').split('/').map(encodeURIComponent).join('/')}`,
    );
    return parseBuffer(await answer.body(), 'audio/mpeg');
  };
  const [one, two] = [await read(first), await read(second)];
  expect(one.common.picture?.[0]?.type).toBe('Cover (front)');
  expect(two.common.picture?.[0]?.data.length).toBe(one.common.picture?.[0]?.data.length);
  expect(JSON.stringify(one.common.lyrics)).toContain('Haul away');
  expect(two.common.title).toBe('Rope 2');
  expect(two.common.genre).toEqual(['sea songs']);
});

test('each file beside an item can be ignored, used in full, and is remembered', async ({ app, page }) => {
  await taken(app);
  await app.describeItems();
  await app.row(/Rope 2/).click();
  const beside = page.getByRole('list', { name: 'Files beside' });
  const row = (name: string) => beside.getByRole('listitem').filter({ hasText: name });
  await expect(row('cover.png')).toContainText('front picture');
  await expect(row('2.xml')).toContainText('genre; the file has its own title');
  await expect(app.field('genre')).toHaveValue('sea songs');

  await beside.getByRole('button', { name: 'Use all of 2.xml' }).click();
  await expect(app.field('title')).toHaveValue('Another title');
  await page.getByRole('grid').first().focus();
  await page.keyboard.press('Control+z');
  await expect(app.field('title')).toHaveValue('Rope 2');

  await beside.getByRole('button', { name: 'Ignore 2.xml' }).click();
  await expect(row('2.xml')).toContainText('ignored: title, genre');
  await expect(app.field('genre')).toHaveValue('');
  await page.getByRole('grid').first().focus();
  await page.keyboard.press('Control+z');
  await expect(row('2.xml')).toContainText('genre; the file has its own title');
  await expect(app.field('genre')).toHaveValue('sea songs');
  await beside.getByRole('button', { name: 'Ignore 2.xml' }).click();
  await expect(app.field('genre')).toHaveValue('');
  // Another item's panel, and this one again after a reload.
  await app.row(/Rope 1/).click();
  await expect(row('1.lrc')).toContainText('2 timed lines');
  await page.reload();
  await app.describeItems();
  await app.row(/Rope 2/).click();
  await expect(row('2.xml')).toContainText('ignored');
  // The list is one of the library's, and what nobody knows stays in sight.
  await app.station('Lists').click();
  await expect(page.getByRole('button', { name: /^evening 2 / })).toBeVisible();
  await app.station('Intake').click();
  await page.getByRole('button', { name: /1 file set aside/ }).click();
  await expect(page.getByRole('list', { name: /Files set aside/ })).toHaveText('Ropes/receipt.pdf');
  await page.getByRole('button', { name: /1 file set aside/ }).click();
  // Taking the folder in again leaves it ignored, and makes no second list.
  await app.takeInFolder();
  await app.finished(/already in the library/);
  await app.station('Lists').click();
  await expect(page.getByRole('button', { name: /^evening 2 / })).toHaveCount(1);
  await app.describeItems();
  await app.row(/Rope 2/).click();
  await expect(app.field('genre')).toHaveValue('');
  await beside.getByRole('button', { name: 'Use 2.xml' }).click();
  await expect(app.field('title')).toHaveValue('Another title');
});
