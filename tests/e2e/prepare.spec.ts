import { filesOn } from '../helpers/answers';
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
  page.getByRole('radio', { name: new RegExp(player) }).check();
const cell = ({ page }: App, row: RegExp, player: string) =>
  page
    .getByRole('grid', { name: 'What plays where' })
    .getByRole('row', { name: row })
    .getByRole('img', { name: new RegExp(`^${player}:`) });

async function albumTaken(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
}

async function makeFor(app: App, player: string): Promise<void> {
  await app.page.getByRole('button', { name: `Make 5 twins for ${player}` }).click();
  await expect(cell(app, /Salt Ledger/, player)).toHaveAccessibleName(
    `${player}: 5 by twins that are ready`,
    {
      timeout: 120_000,
    },
  );
  await app.finished(/5 twins made and checked$/);
}

async function runAndProve(app: App, player: string): Promise<void> {
  await choose(app, player);
  await app.run();
  await app.finished(/none failed/);
  // The player's own scan is read after a run.
  await expect(
    app.page
      .getByRole('region', { name: 'Proof' })
      .getByRole('heading', { name: `${player} shows all 5 as rehearsed` }),
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
  await expect(cell(app, /Salt Ledger/, 'Galley')).toHaveAccessibleName('Galley: 5 by twins to make');
  await makeFor(app, 'Galley');
  await makeFor(app, 'Pocket');
  const made = await twinFiles(app);
  expect(made).toHaveLength(10);

  await app.station('Players').click();
  await runAndProve(app, 'Galley');
  await runAndProve(app, 'Pocket');
  const onGalley = (await filesOn(request, 'galley')).map(({ path }) => path);
  expect(onGalley.filter((path) => path.endsWith('.mp3'))).toHaveLength(5);
  expect((await filesOn(request, 'pocket')).filter(({ path }) => path.endsWith('.m4a'))).toHaveLength(5);

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
  await expect(cell(app, /Salt Ledger/, 'Pocket')).toHaveAccessibleName('Pocket: 5 by twins that are ready');
});
