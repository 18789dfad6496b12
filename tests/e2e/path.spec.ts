import { strFromU8, unzipSync } from 'fflate';
import { parseBuffer } from 'music-metadata';
import { readFile } from 'node:fs/promises';
import { ALBUM, VIDEOS, expect, test } from './app';
import { filesOn } from '../helpers/answers';
import { readDeviceScan } from '../../src/lib/io/stores/device-scan';

const SHELF = 'Music/The Tidewrack Choir/Salt Ledger (2019)';

test('from a folder to Attic and back: kinds, fields, rehearsal, mending, run, proof, taking back', async ({
  app,
  page,
  request,
}) => {
  await app.open();
  await app.fillFolder([...ALBUM, ...VIDEOS]);
  await app.takeInFolder();
  await app.finished(/7 files taken in/);

  await test.step('see what each was taken for and why, and confirm by keyboard', async () => {
    const bell = app.row(/Orla Venn - Harbour Bell/);
    await bell.click();
    const card = page.getByRole('complementary', { name: 'Card' });
    await expect(card.getByText('Likely music video')).toBeVisible();
    await expect(card.getByText('named Artist - Title')).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(card.getByText('Settled: music video')).toBeVisible();
  });

  await test.step('correct the kind of several at once, and undo it', async () => {
    await app.row(/Harbour Bell/).click();
    await app.row(/Low Water\.mp4/).click({ modifiers: ['ControlOrMeta'] });
    await page.getByLabel('Kind of 2 items').selectOption('home video');
    await expect(page.getByRole('button', { name: '2 home videos' })).toBeVisible();
    await app.undo();
    await expect(page.getByRole('button', { name: '2 music videos' })).toBeVisible();
  });

  await test.step('see the split, and mend it with a button', async () => {
    await app.station('Players').click();
    const shelves = page.getByRole('region', { name: 'What Attic will show' });
    await expect(shelves.getByText('Salt Ledger')).toHaveCount(3);
    await app
      .finding('Salt Ledger would be split over 3 shelves')
      .getByRole('button', { name: 'Join 2' })
      .click();
    await expect(shelves.getByText('Salt Ledger')).toHaveCount(1);
    await expect(shelves.getByRole('button', { name: /Salt Ledger/ })).toContainText('5');
  });

  await test.step('fill in what is missing', async () => {
    await app.mend('1 music video has no artist, title').click();
    await app.describeItems();
    await app.row(/Harbour Bell/).click();
    await app.field('date').fill('2016');
    await app.field('date').press('Enter');
    await app.field('album').fill('Nine Lamps Burning');
    await app.field('album').press('Enter');
    await app.station('Players').click();
    await expect(app.finding(/has no/)).toHaveCount(0);
  });

  await test.step('run it, and see Attic’s own scan agree', async () => {
    await app.run();
    await app.finished(/Attic run finished: \d+ steps, none failed/);
    await expect(page.getByRole('region', { name: 'Proof' })).toContainText('Attic shows all 7 as rehearsed');
  });

  const { nodes } = readDeviceScan(await (await request.get('/devices/attic/shelves')).json());
  expect(nodes.find(({ facts }) => facts.title === 'Salt Ledger')?.facts).toMatchObject({
    maker: 'The Tidewrack Choir',
    picture: `${SHELF}/sleeve.jpg`,
  });
  expect(nodes.flatMap((node) => node.nodes)).toHaveLength(7);

  await test.step('a second dry run has nothing to do', async () => {
    await page.getByRole('button', { name: 'Rehearse again' }).click();
    await expect(page.getByText('Nothing: everything is up to date.')).toBeVisible();
  });

  await test.step('take the run back', async () => {
    await page.getByRole('button', { name: 'Take back the run' }).click();
    await app.finished(/Run taken back/);
    expect(await filesOn(request, 'attic')).toEqual([]);
  });

  await test.step('the originals are as they were', async () => {
    const files = await app.readFolder('lectorum-intake');
    for (const path of [...ALBUM, ...VIDEOS]) {
      expect(files.get(path)?.equals(await readFile(`demo/${path}`)), path).toBe(true);
    }
  });
});

test('into a folder: files, sidecars and cover are real, and go again', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([...ALBUM, VIDEOS[0] as string]);
  await app.fillFolder([{ path: 'Music/own.txt', bytes: [1, 2, 3] }], 'lectorum-player');
  await app.takeInFolder();
  await app.finished(/6 files taken in/);
  await app.station('Players').click();
  await app.mend(/would be split over 3 shelves/).click();
  await page.getByRole('radio', { name: 'a folder' }).check();
  await page.getByRole('button', { name: 'Choose a folder' }).click();
  await expect(page.getByText('1 file there that it does not play by itself, left alone')).toBeVisible();
  await app.run();
  await app.finished(/run finished: \d+ steps, none failed/);

  const files = await app.readFolder('lectorum-player');
  const video = 'Music Videos/The Tidewrack Choir - Low Water/The Tidewrack Choir - Low Water';
  const open = [...files.keys()].filter((path) => !path.startsWith('.'));
  expect(open.sort()).toEqual(
    [
      'Music/own.txt',
      `${SHELF}/sleeve.jpg`,
      `${video}.mp4`,
      `${video}.slip`,
      ...ALBUM.map((path) => `${SHELF}/${path.split('/').at(-1)}`),
    ].sort(),
  );
  const clerk = files.get(`${SHELF}/03 The Harbour Clerk.flac`) as Buffer;
  expect((await parseBuffer(clerk, 'audio/flac')).common).toMatchObject({
    albumartist: 'The Tidewrack Choir',
    date: '2019',
    title: 'The Harbour Clerk',
  });
  expect(files.get(`${video}.slip`)?.toString()).toContain('<minutes>1</minutes>');
  expect(files.get(`${SHELF}/sleeve.jpg`)?.subarray(0, 3)).toEqual(Buffer.from([0xff, 0xd8, 0xff]));
  expect(files.get(`${video}.mp4`)?.equals(await readFile(`demo/${VIDEOS[0]}`))).toBe(true);

  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect([...(await app.readFolder('lectorum-player')).keys()]).toEqual(['Music/own.txt']);
});

test('as a ZIP: it downloads, opens, and holds the same tree', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([...ALBUM.slice(0, 2), VIDEOS[0] as string]);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await app.station('Players').click();
  await page.getByRole('radio', { name: 'a ZIP file' }).check();
  await app.run();
  await app.finished(/run finished: \d+ steps, none failed/);
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save the ZIP/ }).click();
  const entries = unzipSync(new Uint8Array(await readFile(await (await coming).path())));
  const video = 'Music Videos/The Tidewrack Choir - Low Water/The Tidewrack Choir - Low Water';
  expect(Object.keys(entries).sort()).toEqual(
    [
      `${SHELF}/01 Inventory of Gulls.flac`,
      `${SHELF}/02 Kelp Road.flac`,
      `${SHELF}/sleeve.jpg`,
      `${video}.mp4`,
      `${video}.slip`,
    ].sort(),
  );
  expect(strFromU8(entries[`${video}.slip`] as Uint8Array)).toContain('<name>Low Water</name>');
  expect(
    Buffer.from(entries[`${SHELF}/02 Kelp Road.flac`] as Uint8Array).equals(
      await readFile(`demo/${ALBUM[1]}`),
    ),
  ).toBe(true);
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  await expect(page.getByRole('button', { name: /^Save the ZIP/ })).toHaveCount(0);
});
