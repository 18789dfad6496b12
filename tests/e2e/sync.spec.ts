import type { APIRequestContext } from '@playwright/test';
import { ALBUM, expect, test, type App } from './app';
import { filesOn, pathsOn } from '../helpers/answers';

const FOLDER = 'Music/The Tidewrack Choir/Salt Ledger (2019)';
/** Where the song lies that says another album artist. */
const CLERK = 'Music/The Tidewrack Choir with Orla Venn/Salt Ledger (2019)/03 The Harbour Clerk.flac';
const url = (path: string) => `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`;

/** Another hand says something else in a file on the player: as long a text, so that nothing else moves. */
async function retitle(request: APIRequestContext, path: string, from: string, to: string): Promise<void> {
  const bytes = await (await request.get(url(path))).body();
  const at = bytes.indexOf(from);
  expect([at > 0, from.length]).toEqual([true, to.length]);
  bytes.write(to, at);
  await request.delete(url(path));
  await request.put(url(path), { data: bytes, headers: { 'content-type': 'application/octet-stream' } });
}

async function everyFile(request: APIRequestContext): Promise<ReadonlyMap<string, string>> {
  const files = await filesOn(request, 'attic');
  return new Map(files.map(({ path, digest }) => [path, digest]));
}

async function albumOnAttic(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.station('Players').click();
  await app.run();
  await app.finished(/none failed/);
}

/** A song removed, one re-titled, one moved, one of its own added, and one re-titled on both sides. */
async function bothSidesGoOn(app: App, request: APIRequestContext): Promise<void> {
  const { page } = app;
  const gulls = `${FOLDER}/01 Inventory of Gulls.flac`;
  const own = (await (await request.get(url(gulls))).body())
    .toString('latin1')
    .replace('Inventory of Gulls', 'Song of Their Own!');
  await request.put(url(`${FOLDER}/own.flac`), {
    data: Buffer.from(own, 'latin1'),
    headers: { 'content-type': 'application/octet-stream' },
  });
  await request.delete(url(gulls));
  await retitle(request, `${FOLDER}/02 Kelp Road.flac`, 'Kelp Road', 'Kelp Rood');
  const moved = await request.patch(url(CLERK), { data: { to: `${FOLDER}/Clerk.flac` } });
  expect(moved.ok()).toBe(true);
  await retitle(request, `${FOLDER}/04 Low Water.flac`, 'Low Water', 'Low Weter');
  await app.describeItems();
  await app.row(/Low Water/).click();
  const title = app.field('title');
  await title.fill('High Water');
  await title.press('Enter');
  await app.station('Players').click();
  await page.getByRole('button', { name: 'Rehearse again' }).click();
}

test('what others did on a player is told, and waits until a side is chosen', async ({
  app,
  page,
  request,
}) => {
  await albumOnAttic(app);
  await bothSidesGoOn(app, request);
  await expect(app.finding('1 item removed on Attic since our run')).toBeVisible();
  await expect(app.finding('1 file changed on Attic since our run')).toBeVisible();
  await expect(app.finding('1 item moved or renamed on Attic')).toBeVisible();
  await expect(app.finding('1 file of Attic’s own')).toBeVisible();
  const conflict = app.finding('1 file changed here and on Attic');
  await conflict.getByRole('button', { name: '1 file changed here' }).click();
  const row = conflict.getByRole('row', { name: /title/ });
  await expect(row.getByRole('cell').nth(0)).toHaveText('High Water');
  await expect(row.getByRole('cell').nth(1)).toHaveText('Low Weter');
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeDisabled();
  // Each is decided by itself, and the list falls.
  await app.finding('1 item removed on Attic').getByRole('button', { name: 'Copy 1 item back' }).click();
  await expect(app.finding('1 item removed on Attic')).toHaveCount(0);
  await app.finding('1 item moved').getByRole('button', { name: 'Move 1 item back' }).click();
  await expect(app.finding('1 item moved')).toHaveCount(0);
  await app.run();
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
  const paths = await pathsOn(request, 'attic');
  expect(paths).toContain(`${FOLDER}/01 Inventory of Gulls.flac`);
  expect(paths).toContain(CLERK);
  expect(paths).toContain(`${FOLDER}/own.flac`);
  // The run before is remembered, with what it did.
  await page.getByText('1 earlier run').click();
  const past = page.getByRole('listitem').filter({ hasText: '14 done, 0 failed' });
  await past.getByRole('button').click();
  await expect(past.getByRole('list', { name: 'What the run did' })).toContainText('02 Kelp Road.flac');
});

test('where both sides count, what each did arrives on the other, and all of it can be taken back', async ({
  app,
  page,
  request,
}) => {
  await albumOnAttic(app);
  await bothSidesGoOn(app, request);
  const before = await everyFile(request);
  await page.getByRole('radio', { name: 'merge' }).check();
  const conflict = app.finding('1 file changed here and on Attic');
  await expect(app.finding(/Attic since our run/)).toHaveCount(0);
  await conflict.getByRole('button', { name: 'Keep ours' }).click();
  await expect(conflict).toHaveCount(0);
  await expect(page.getByText('First, into the library: 1 file taken in, changes to 1 item.')).toBeVisible();
  await app.run();
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('Attic shows all 5 as rehearsed');
  const paths = await pathsOn(request, 'attic');
  expect(paths.filter((path) => path.endsWith('.flac'))).toEqual([
    'Music/The Tidewrack Choir/Salt Ledger (2018)/05 Ballast Stone.flac',
    ...['02 Kelp Rood.flac', '04 High Water.flac', 'Clerk.flac', 'own.flac'].map(
      (name) => `${FOLDER}/${name}`,
    ),
  ]);
  await app.describeItems();
  for (const name of [/Kelp Rood/, /High Water/, /Song of Their Own!/, /Inventory of Gulls/])
    await expect(app.row(name)).toBeVisible();

  await app.station('Players').click();
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await everyFile(request)).toEqual(before);
  await app.describeItems();
  await expect(app.row(/Kelp Road/)).toBeVisible();
  await expect(page.getByRole('row', { name: /Song of Their Own!/ })).toHaveCount(0);
});

test('a player that is away is planned for as it was left', async ({ app, page }) => {
  await albumOnAttic(app);
  await page.context().route('**/devices/attic/files', (route) => route.abort());
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  await expect(page.getByText(/Attic does not answer/)).toContainText('as it was when it was last seen');
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeDisabled();
  await page.context().unrouteAll({ behavior: 'ignoreErrors' });
});

test('a song that is re-titled in a folder is noticed, though its size is what it was', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 2));
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Players').click();
  await page.getByRole('radio', { name: 'a folder' }).check();
  await page.getByRole('button', { name: 'Choose a folder' }).click();
  await app.run();
  await app.finished(/none failed/);
  await page.evaluate(async (parts) => {
    let at = await (await navigator.storage.getDirectory()).getDirectoryHandle('lectorum-player');
    for (const part of parts.slice(0, -1)) at = await at.getDirectoryHandle(part);
    const handle = await at.getFileHandle(parts.at(-1) as string);
    const bytes = new Uint8Array(await (await handle.getFile()).arrayBuffer());
    const [from, to] = ['title=Kelp Road', 'title=Kelp Rood'].map((text) =>
      new TextEncoder().encode(text),
    ) as [Uint8Array, Uint8Array];
    const found = bytes.findIndex((_, index) => from.every((byte, offset) => bytes[index + offset] === byte));
    bytes.set(to, found);
    const file = await handle.createWritable();
    await file.write(bytes);
    await file.close();
  }, `${FOLDER}/02 Kelp Road.flac`.split('/'));
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  const changed = app.finding('1 file changed on Attic since our run');
  await changed.getByRole('button', { name: '1 file changed on' }).click();
  await expect(changed.getByRole('row', { name: /title/ }).getByRole('cell').nth(1)).toHaveText('Kelp Rood');
  await changed.getByRole('button', { name: 'Take Attic’s' }).click();
  await page.getByRole('button', { name: /^(Run|Take in)/ }).click();
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
  await app.describeItems();
  await expect(app.row(/Kelp Rood/)).toBeVisible();
});

test('files of others are removed by one button, held with the run, and back when it is taken back', async ({
  app,
  page,
  request,
}) => {
  await albumOnAttic(app);
  const song = await (await request.get(url(`${FOLDER}/02 Kelp Road.flac`))).body();
  const sample = 'Music/Sample Band/Samples (2001)';
  for (const name of ['01 One.flac', '02 Two.flac', 'cover.jpg'])
    await request.put(url(`${sample}/${name}`), {
      data: name === 'cover.jpg' ? Buffer.from('a picture') : song,
      headers: { 'content-type': 'application/octet-stream' },
    });
  const before = await everyFile(request);
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  const finding = app.finding('2 files of Attic’s own');
  await finding.getByRole('button', { name: 'Remove all 2 from Attic' }).click();
  await expect(finding).toBeHidden();
  await app.undo();
  await expect(finding).toBeVisible();
  await finding.getByRole('button', { name: 'Remove all 2 from Attic' }).click();
  await app.run();
  await app.finished(/none failed/);
  const after = await pathsOn(request, 'attic');
  expect(after.filter((path) => path.startsWith(sample))).toEqual([]);
  expect(after).toContain(`${FOLDER}/02 Kelp Road.flac`);
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await everyFile(request)).toEqual(before);
});
