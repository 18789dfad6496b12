import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { unzipSync } from 'fflate';
import { filesOn } from '../helpers/answers';
import { hasFfmpeg } from '../helpers/foreign-readers';
import { ALBUM, expect, test, type App } from './app';

/** Twins in the browser's private file system: when each was last written, in milliseconds since 1970. */
const twinFiles = ({ page }: App): Promise<readonly (readonly [name: string, at: number])[]> =>
  page.evaluate(async () => {
    const root = await navigator.storage.getDirectory();
    const all = await root.getDirectoryHandle('twins', { create: true });
    const own = await all.getDirectoryHandle('home', { create: true });
    const found: [string, number][] = [];
    for await (const handle of own.values())
      found.push([handle.name, (await (handle as FileSystemFileHandle).getFile()).lastModified]);
    return found.sort();
  });

const choose = ({ page }: App, player: string) =>
  page.getByRole('radio', { name: new RegExp(`^${player}, `) }).check();
const cell = ({ page }: App, row: RegExp, player: string) =>
  page
    .getByRole('grid', { name: 'What plays where' })
    .getByRole('row', { name: row })
    .getByRole('img', { name: new RegExp(`^${player}:`) });

/** Two songs are an album enough: each is made anew for every player. */
const SONGS = ALBUM.slice(3, 5);

async function albumTaken(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(SONGS);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
}

async function makeFor(app: App, player: string): Promise<void> {
  await app.page
    .getByRole('main')
    .getByRole('button', { name: `Make 2 twins for ${player}` })
    .click();
  await expect(cell(app, /Salt Ledger/, player)).toHaveAccessibleName(`${player}: 2 twins ready`, {
    timeout: 120_000,
  });
  await app.finished(/2 twins made and checked$/);
}

async function runAndProve(app: App, player: string): Promise<void> {
  await choose(app, player);
  await app.run();
  await app.finished(/none failed/);
  // The player's own scan is read after a run.
  await expect(
    app.page
      .getByRole('region', { name: 'Proof' })
      .getByRole('heading', { name: `${player} shows all 2 as rehearsed` }),
  ).toBeVisible();
}

test('an album in FLAC goes to players that take none of it, and is not made anew for a title', async ({
  app,
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await albumTaken(app);
  await app.station('Prepare').click();
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins to make');
  await makeFor(app, 'Galley');
  await makeFor(app, 'Pocket');
  const made = await twinFiles(app);
  expect(made).toHaveLength(4);

  await app.station('Players').click();
  await runAndProve(app, 'Galley');
  await runAndProve(app, 'Pocket');
  const onGalley = (await filesOn(request, 'galley')).map(({ path }) => path);
  expect(onGalley.filter((path) => path.endsWith('.mp3'))).toHaveLength(2);
  expect((await filesOn(request, 'pocket')).filter(({ path }) => path.endsWith('.m4a'))).toHaveLength(2);

  // A title goes into the copies; nothing is encoded again.
  await app.describeItems();
  await app.row(/Low Water/).click();
  const title = app.field('title');
  await title.fill('High Water');
  await title.press('Enter');
  await app.station('Players').click();
  await runAndProve(app, 'Pocket');
  const [water] = (await filesOn(request, 'pocket')).filter(({ path }) => path.endsWith('High Water.m4a'));
  const copy = await request.get(
    `/devices/pocket/files/${water!.path.split('/').map(encodeURIComponent).join('/')}`,
  );
  expect((await copy.body()).includes('High Water')).toBe(true);
  expect(await twinFiles(app)).toEqual(made);

  // After a reload all of it is ready still, and nothing is left to run.
  await page.reload();
  await choose(app, 'Pocket');
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeDisabled();
  await app.station('Prepare').click();
  await expect(cell(app, /Salt Ledger/, 'Pocket')).toHaveAccessibleName('Pocket: 2 twins ready');
});

/** Samples that another decoder makes of a file, as whole numbers of 16 bits. */
function decodedBy(bytes: Buffer, ending: string): Int16Array {
  const file = join(mkdtempSync(join(tmpdir(), 'twin-')), `x.${ending}`);
  writeFileSync(file, bytes);
  const { stdout } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-f', 's16le', '-acodec', 'pcm_s16le', '-'],
    {
      maxBuffer: 2 ** 28,
    },
  );
  return new Int16Array(stdout.buffer, stdout.byteOffset, stdout.length / 2);
}

/** How alike two sounds are that lie over each other, from 0 to 1. */
function likeness(a: Int16Array, b: Int16Array): number {
  let [both, ownA, ownB] = [0, 0, 0];
  for (let at = 0; at < Math.min(a.length, b.length); at++) {
    both += a[at]! * b[at]!;
    ownA += a[at]! ** 2;
    ownB += b[at]! ** 2;
  }
  return both / Math.sqrt(ownA * ownB);
}

test('twins are the same sound for a decoder that is not ours, from the first sample to the last', async ({
  app,
  page,
  request,
}) => {
  test.skip(!hasFfmpeg, 'there is no other decoder here');
  test.setTimeout(240_000);
  const song = ALBUM[3]!;
  await app.open();
  await app.fillFolder([song]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.station('Prepare').click();
  for (const player of ['Galley', 'Pocket']) {
    await page.getByRole('button', { name: `Make 1 twin for ${player}` }).click();
    await expect(cell(app, /Salt Ledger/, player)).toHaveAccessibleName(/ready/, { timeout: 60_000 });
  }
  const original = await request.get(`/demo-files/${song.split('/').map(encodeURIComponent).join('/')}`);
  const plain = decodedBy(await original.body(), 'flac');
  const twins = [...(await app.readFolder('twins'))].map(([, bytes]) => bytes);
  const alac = twins.find((bytes) => bytes.includes('alac'))!;
  const mp3 = twins.find((bytes) => bytes.includes('Info'))!;
  expect(
    Buffer.compare(Buffer.from(decodedBy(alac, 'm4a').slice().buffer), Buffer.from(plain.slice().buffer)),
  ).toBe(0);
  const heard = decodedBy(mp3, 'mp3');
  expect(heard.length).toBe(plain.length);
  expect(likeness(heard, plain)).toBeGreaterThan(0.99);
});

test('a finding on a player makes what it lacks; a file that breaks off is named, and the others go on', async ({
  app,
  page,
  request,
}) => {
  test.setTimeout(240_000);
  const whole = await request.get(`/demo-files/${ALBUM[0]!.split('/').map(encodeURIComponent).join('/')}`);
  const bytes = await whole.body();
  // Its frames are damaged from the middle on: it is taken in, and cannot be decoded to its end.
  bytes.fill(0x55, Math.floor(bytes.length / 2), Math.floor(bytes.length / 2) + 200_000);
  await app.open();
  await app.fillFolder([ALBUM[1]!, { path: ALBUM[0]!, bytes: [...bytes] }]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Players').click();
  await choose(app, 'Pocket');
  await app.seeFinding('2 songs need a twin');
  await app.mend('2 songs need a twin').click();
  await app.finished(/1 twin made and checked, 1 failed/);
  await app.seeFinding('1 song needs a twin');
  await app.station('Prepare').click();
  const made = page.getByRole('region', { name: 'Making twins' });
  await expect(made.getByRole('listitem')).toHaveText(/Inventory of Gulls.*decoding stopped early/);
  await made.getByRole('button', { name: 'Clear 1 failure' }).click();
  await expect(made).toHaveCount(0);
  await expect(cell(app, /Salt Ledger/, 'Pocket')).toHaveAccessibleName(
    'Pocket: 1 twin ready; 1 twin to make',
  );
});

test('where storage is full, each file says so, nothing of it stays, and it goes on once there is room', async ({
  app,
  page,
}) => {
  await albumTaken(app);
  await app.station('Prepare').click();
  const session = await page.context().newCDPSession(page);
  const { origin } = new URL(page.url());
  const { usage } = await session.send('Storage.getUsageAndQuota', { origin });
  await session.send('Storage.overrideQuotaForOrigin', { origin, quotaSize: usage + 30_000 });
  const before = await twinFiles(app);
  await page.getByRole('button', { name: 'Make 2 twins for Pocket' }).click();
  await app.finished(/0 twins made and checked, 2 failed/);
  await expect(
    page.getByText(/browser storage is full; delete unused twins, or free disk space/),
  ).toHaveCount(2);
  expect(await twinFiles(app)).toEqual(before);
  await session.send('Storage.overrideQuotaForOrigin', { origin });
  await page.getByRole('button', { name: 'Retry 2 files' }).click();
  await expect(cell(app, /Salt Ledger/, 'Pocket')).toHaveAccessibleName('Pocket: 2 twins ready', {
    timeout: 120_000,
  });
});

test('a queue that is cut by a reload goes on, and can be paused and cancelled', async ({ app, page }) => {
  test.setTimeout(240_000);
  await albumTaken(app);
  await app.station('Prepare').click();
  await page.getByRole('grid', { name: 'What plays where' }).focus();
  await page.keyboard.press('Home');
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Make all 4 twins' }).click();
  const made = page.getByRole('region', { name: 'Making twins' });
  await made.getByRole('button', { name: 'Pause' }).click();
  await expect(made).toContainText('paused');
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.reload();
  // It goes on by itself, with what was not made before.
  await app.finished(/\d+ twins made and checked$/);
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins ready');
  await expect(cell(app, /Salt Ledger/, 'Pocket')).toHaveAccessibleName('Pocket: 2 twins ready');
  expect(await twinFiles(app)).toHaveLength(4);

  // What nobody needs any more goes at the next clean-up.
  await app.station('Intake').click();
  await app.row(/Low Water/).click();
  await page.keyboard.press('Delete');
  await app.station('Prepare').click();
  await page.getByRole('button', { name: /^Delete unused twins/ }).click();
  await app.finished(/freed: 2 unused twins deleted/);
  expect(await twinFiles(app)).toHaveLength(2);
});

test('what is cancelled is let go of, and nothing of it stays', async ({ app, page }) => {
  await albumTaken(app);
  await app.station('Prepare').click();
  await page.getByRole('button', { name: 'Make 2 twins for Galley' }).click();
  const made = page.getByRole('region', { name: 'Making twins' });
  await made.getByRole('button', { name: 'Cancel' }).click();
  await app.finished(/twins made before you cancelled/);
  await expect(made).toHaveCount(0);
  const kept = (await twinFiles(app)).length;
  await page.reload();
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName(/2 twins to make|ready/);
  expect((await twinFiles(app)).length).toBeLessThanOrEqual(kept);
});

test('a recipe is kept by name, chosen for a player, taken out as a file and brought in again', async ({
  app,
  page,
}) => {
  await albumTaken(app);
  await app.station('Prepare').click();
  await page.getByRole('button', { name: 'Recipes' }).click();
  const begin = page.getByRole('group', { name: 'Begin a recipe' });
  await begin.getByRole('button', { name: 'Opus' }).click();
  await expect(page.getByText('This browser can encode this.')).toBeVisible();
  await begin.getByRole('button', { name: 'MP3' }).click();
  const recipe = page.getByRole('region', { name: 'The recipe' });
  await recipe.getByRole('textbox', { name: 'name' }).fill('Kitchen');
  await recipe.getByRole('combobox', { name: /^music/ }).selectOption('64000');
  await expect(recipe.getByText('This browser can encode this.')).toBeVisible();
  await recipe.getByRole('button', { name: 'Save recipe' }).click();
  await expect(page.getByRole('button', { name: /^Kitchen MP3, music 64 kbit/ })).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  const downloading = page.waitForEvent('download');
  await recipe.getByRole('button', { name: 'Export recipe' }).click();
  const file = await (await downloading).path();
  await page.getByLabel('Import a recipe').setInputFiles(file);
  await expect(recipe.getByRole('heading', { name: 'A new recipe' })).toBeVisible();
  await page.getByLabel('Import a recipe').setInputFiles({
    name: 'letter.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"name": "Dag"}'),
  });
  await expect(page.getByRole('alert')).toContainText('letter.json is not a recipe');
  await page.getByRole('button', { name: 'Back to the board' }).click();

  // Chosen on the card, for one player; the other goes by its rulebook.
  await page.getByRole('grid', { name: 'What plays where' }).focus();
  await page.keyboard.press('Home');
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card).toContainText('as MP3, 128 kbit/s');
  await card.getByRole('combobox', { name: /^Galley/ }).selectOption('Kitchen');
  await expect(card).toContainText('as MP3, 64 kbit/s');
  await makeFor(app, 'Galley');
  await app.undo();
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins to make');
  await page.keyboard.press('Control+y');
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins ready');

  // Both are there after a reload.
  await page.reload();
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins ready');
  await page.getByRole('button', { name: 'Recipes' }).click();
  await page.getByRole('button', { name: /^Kitchen MP3/ }).click();
  await expect(page.getByText('for Galley')).toBeVisible();
  await page.getByRole('button', { name: 'Delete recipe' }).click();
  await expect(page.getByText('None yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the board' }).click();
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 2 twins to make');
});

test('items are converted by hand into a ZIP, with their tags and pictures, under their own names', async ({
  app,
  page,
}) => {
  test.setTimeout(240_000);
  await app.open();
  await app.fillFolder([ALBUM[0]!, ALBUM[1]!]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Prepare').click();
  await page.getByRole('grid', { name: 'What plays where' }).focus();
  await page.keyboard.press('Home');
  await page.getByRole('button', { name: 'Convert by hand' }).click();
  const sheet = page.getByRole('dialog', { name: 'Convert 2 items' });
  await sheet.getByRole('combobox', { name: /^recipe/ }).selectOption('aac');
  await sheet
    .getByRole('combobox', { name: /^file names/ })
    .selectOption({ label: 'keep folders and names' });
  await sheet.getByRole('radio', { name: 'a ZIP' }).check();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await sheet.getByRole('button', { name: 'Convert 2 items' }).click();
  await app.finished(/2 twins made and checked/);
  await app.run();
  await app.finished(/none failed/);
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save the ZIP/ }).click();
  const entries = unzipSync(new Uint8Array(await readFile(await (await downloading).path())));
  expect(Object.keys(entries).sort()).toEqual([
    'Salt Ledger/01 Inventory of Gulls.m4a',
    'Salt Ledger/02 Kelp Road.m4a',
  ]);
  const said = Buffer.from(entries['Salt Ledger/02 Kelp Road.m4a']!);
  expect(['Kelp Road', 'covr', 'mp4a'].map((one) => said.includes(one))).toEqual([true, true, true]);
});

test('every format of sound that is taken in is converted', async ({ app, page }) => {
  test.setTimeout(240_000);
  const folder = 'Music/Halyard & Daughters/Quiet Engines';
  const files = ['01 Donkey Engine.opus', '02 Oil and Patience.ogg', '04 Steam Up.wav', '05 Cold Iron.aiff'];
  await app.open();
  await app.fillFolder([
    ...files.map((file) => `${folder}/${file}`),
    'Music/Orla Venn/Nine Lamps Burning/01 Who Goes There_.m4a',
  ]);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.station('Prepare').click();
  await page.getByRole('main').getByRole('button', { name: 'Make 5 twins for Galley' }).click();
  await app.finished(/5 twins made and checked$/);
  await expect(cell(app, /Quiet Engines/, 'Galley')).toHaveAccessibleName('Galley: 4 twins ready');
  await expect(cell(app, /Nine Lamps/, 'Galley')).toHaveAccessibleName('Galley: 1 twin ready');
});

test('what no browser decodes is decoded by the server where it can, and told with what to install where it cannot', async ({
  app,
  page,
}) => {
  test.skip(!hasFfmpeg, 'nothing here makes such a file');
  const path = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'fog.mka');
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=90:sample_rate=48000', '-ac', '2'];
  const named = [
    '-metadata',
    'title=Fog Signal',
    '-metadata',
    'track=1',
    '-metadata',
    'artist=Orla Venn',
    '-metadata',
    'album=Fog',
  ];
  spawnSync('ffmpeg', [
    '-v',
    'error',
    ...tone,
    '-c:a',
    'dca',
    '-b:a',
    '384k',
    '-strict',
    '-2',
    ...named,
    path,
  ]);
  await app.open();
  await page.route('**/demo-files/fog.mka', (route) => route.fulfill({ path }));
  await app.fillFolder([{ path: 'Music/Orla Venn/Fog/01 Fog Signal.mka', from: 'fog.mka' }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.station('Prepare').click();
  await page.route('**/converter?*', (route) =>
    route.fulfill({
      status: 501,
      json: { message: 'ffmpeg is not installed on the machine that runs Lectorum' },
    }),
  );
  await page.getByRole('main').getByRole('button', { name: 'Make 1 twin for Galley' }).click();
  await expect(
    page.getByText(/the browser cannot decode .*ffmpeg is not installed on the machine/),
  ).toBeVisible();
  await page.unroute('**/converter?*');
  await page.getByRole('main').getByRole('button', { name: 'Make 1 twin for Galley' }).click();
  await expect(cell(app, /Fog/, 'Galley')).toHaveAccessibleName('Galley: 1 twin ready', { timeout: 60_000 });
});
