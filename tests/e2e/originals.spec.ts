import AxeBuilder from '@axe-core/playwright';
import { ALBUM as LEDGER, expect, test, type App } from './app';
import { filesOn } from '../helpers/answers';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const LINE = `${ALBUM}/1 - Sounding Line.mp3`;
const WICK = 'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a';
const FOLDER = 'lectorum-intake';

async function say(app: App, row: RegExp, field: string, value: string): Promise<void> {
  await app.row(row).click();
  await app.field(field).fill(value);
  await app.field(field).press('Enter');
}

async function openOriginals(app: App): Promise<void> {
  await app.row(/Nine Fathoms/).click();
  await app.page.keyboard.press('Control+a');
  await app.page.getByRole('button', { name: 'Originals', exact: true }).click();
}

async function onOriginals(app: App): Promise<Map<string, Buffer>> {
  await app.open();
  await app.fillFolder([LINE, `${ALBUM}/3 - Nine Fathoms.mp3`, WICK]);
  const was = await app.readFolder(FOLDER);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await app.describeItems();
  await say(app, /Sounding Line/, 'genre', 'sea song');
  await say(app, /Wick/, 'title', 'The Long Wick');
  await openOriginals(app);
  return was;
}

test('what is said goes into the files themselves where that is asked for, and they come back byte for byte', async ({
  app,
  page,
}) => {
  const was = await onOriginals(app);
  const main = page.getByRole('main');
  await expect(main.getByRole('row')).toHaveCount(2);
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);

  // Only what is ticked.
  await page.getByLabel('Change The Long Wick').uncheck();
  await page.getByRole('button', { name: 'Change 1 original' }).press('Enter');
  await app.finished(/ 1 original written/);
  const now = await app.readFolder(FOLDER);
  expect(now.get(LINE)?.equals(was.get(LINE) as Buffer)).toBe(false);
  expect(now.get(LINE)?.includes('sea song')).toBe(true);
  for (const [path, bytes] of was) if (path !== LINE) expect(now.get(path)?.equals(bytes)).toBe(true);
  await expect(main.getByRole('row', { name: /Sounding Line/ })).toHaveCount(0);
  await expect(main.getByRole('row', { name: /The Long Wick/ })).toBeVisible();

  // The file says it by now: taken in again it is the same, and it is not the copy in the browser that says so.
  await page.reload();
  await app.station('Intake').click();
  await app.takeInFolder();
  await app.finished(/nothing new, 3 already in the library/);
  await app.describeItems();
  await app.row(/Sounding Line/).click();
  await expect(app.field('genre')).toHaveValue('sea song');
  expect(await app.kept('said')).not.toContain('sea song');

  await openOriginals(app);
  const runs = page.getByRole('list', { name: 'Runs into originals' });
  // Permission to change files ends with a visit: it is asked for again, and without it nothing happens.
  const allow = (answer: PermissionState) =>
    page.evaluate((state) => {
      FileSystemDirectoryHandle.prototype.requestPermission = async () => state;
    }, answer);
  await allow('denied');
  await runs.getByRole('button', { name: 'Take back' }).click();
  await expect(main.getByRole('alert')).toContainText('no permission to change files there');
  expect((await app.readFolder(FOLDER)).get(LINE)?.includes('sea song')).toBe(true);
  await allow('granted');
  await runs.getByRole('button', { name: 'Take back' }).click();
  await app.finished(/1 original restored, byte for byte/);
  for (const [path, bytes] of await app.readFolder(FOLDER))
    expect(bytes.equals(was.get(path) as Buffer)).toBe(true);
  // What had been written is said again, of the item alone.
  await expect(main.getByRole('row', { name: /Sounding Line/ })).toContainText('genre: sea song, was choral');

  await page.getByRole('button', { name: 'Change 2 originals' }).click();
  await app.finished(/ 2 originals written/);
  await expect(main).toContainText('there is nothing to write');
  await runs.getByRole('button', { name: 'Keep the changes' }).first().click();
  await expect(runs.getByRole('listitem').first()).toContainText('changes kept');
  await expect(runs.getByRole('button', { name: 'Take back' })).toHaveCount(0);
});

test('a file that another hand changed is left alone, and the others are written', async ({ app, page }) => {
  await onOriginals(app);
  await app.fillFolder([{ path: LINE, bytes: [1, 2, 3] }]);
  await page.getByRole('button', { name: 'Change 2 originals' }).click();
  await app.finished(/ 1 original written, 1 could not be/);
  const now = await app.readFolder(FOLDER);
  expect([...(now.get(LINE) ?? [])]).toEqual([1, 2, 3]);
  expect(now.get(WICK)?.includes('The Long Wick')).toBe(true);

  // Which and why is there to be read, with what helps.
  const runs = page.getByRole('list', { name: 'Runs into originals' });
  await runs.getByText('Show details').click();
  await expect(runs).toContainText(LINE);

  // Neither is what another hand changed behind the run taken back.
  await app.fillFolder([{ path: WICK, bytes: [4, 5] }]);
  await page.getByRole('button', { name: 'Take back' }).click();
  await app.finished(/1 skipped, changed since: .*Wick/);
  expect([...((await app.readFolder(FOLDER)).get(WICK) ?? [])]).toEqual([4, 5]);
  await expect(runs).toContainText('0 originals taken back, 1 left, 1 failed');
});

test('a run to a player writes into the originals first where it was told to, for that run alone', async ({
  app,
  page,
  request,
}) => {
  const was = await onOriginals(app);
  await app.station('Players').click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByLabel('Write into the originals first').check();
  await expect(card.getByRole('row', { name: /Write into the originals first 2$/ })).toBeVisible();
  await card.getByRole('button', { name: /^Change 2 originals, run \d+ steps$/ }).click();
  await app.finished(/none failed/);
  const now = await app.readFolder(FOLDER);
  expect(now.get(WICK)?.includes('The Long Wick')).toBe(true);
  // What goes to the player is the file as it lies there.
  const files = await filesOn(request, 'attic');
  expect(files.find(({ path }) => path.includes('The Long Wick'))?.size).toBe(now.get(WICK)?.length);
  // There is nothing to run any more, and so nothing to write first.
  await expect(card.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
  await expect(card.getByLabel('Write into the originals first')).toHaveCount(0);

  await app.station('Describe').click();
  await page.getByRole('button', { name: 'Take back' }).click();
  await app.finished(/2 originals restored, byte for byte/);
  for (const [path, bytes] of await app.readFolder(FOLDER))
    expect(bytes.equals(was.get(path) as Buffer)).toBe(true);
});

const FLAC = LEDGER[3] as string;

/** Another program writes over a text of the same length, within the room of the tags. */
async function retag(app: App, path: string, from: string, to: string): Promise<void> {
  const bytes = (await app.readFolder(FOLDER)).get(path) as Buffer;
  const at = bytes.indexOf(from);
  expect(at).toBeGreaterThan(0);
  bytes.write(to, at);
  await app.fillFolder([{ path, bytes: [...bytes] }]);
}

test('what another program wrote after a run stays when the run is taken back, and the rest is put back by itself', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([FLAC]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.describeItems();
  await say(app, /Low Water/, 'genre', 'ours');
  await say(app, /Low Water/, 'title', 'Our Water');
  await app.row(/Our Water/).click();
  await page.getByRole('button', { name: 'Originals', exact: true }).click();
  await page.getByRole('button', { name: 'Change 1 original' }).click();
  await app.finished(/ 1 original written/);
  await retag(app, FLAC, 'Our Water', 'The Water');

  const runs = page.getByRole('list', { name: 'Runs into originals' });
  await runs.getByRole('button', { name: 'Take back' }).click();
  await app.finished(/1 skipped, changed since/);
  expect((await app.readFolder(FOLDER)).get(FLAC)?.includes('The Water')).toBe(true);
  await runs.getByText('Show details').click();
  await expect(runs).toContainText(
    'title: The Water, changed since, so kept (the run wrote Our Water over Low Water)',
  );
  await expect(runs).toContainText('genre: ours, as the run wrote it; choral can be put back');
  await runs.getByRole('button', { name: 'Restore 1 value' }).click();
  await app.finished(/ 1 original written/);
  const now = (await app.readFolder(FOLDER)).get(FLAC) as Buffer;
  expect(now.includes('The Water')).toBe(true);
  expect(now.includes('ours')).toBe(false);
  await expect(runs).toContainText('genre: choral, as before the run');
  // The curator's word is said of the item again, as it is once a run is taken back.
  await page.getByRole('button', { name: 'Back to the items' }).click();
  await app.row(/The Water/).click();
  await expect(app.field('genre')).toHaveValue('ours');
});
