import AxeBuilder from '@axe-core/playwright';
import { filesOn } from '../helpers/answers';
import { ALBUM, expect, test, type App } from './app';

const namesIn = async (app: App, folder: string) => [...(await app.readFolder(folder)).keys()].sort();

/** Two songs, and the board that says where they play. */
async function songsTaken(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM.slice(3, 5));
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Prepare').click();
}

/** Has the next folder that is asked for be this one. */
const offer = ({ page }: App, folder: string) =>
  page.evaluate((name) => {
    window.showDirectoryPicker = async () =>
      (await navigator.storage.getDirectory()).getDirectoryHandle(name, { create: true });
  }, folder);

test('twins are kept in a folder of the curator’s, which stays theirs: moved there, run from there, and back', async ({
  app,
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await songsTaken(app);
  await app.fillFolder([{ path: 'letter.txt', bytes: [72, 105] }], 'loft');
  const grid = page.getByRole('grid', { name: 'What plays where' });
  const cell = (player: string) => grid.getByRole('img', { name: new RegExp(`^${player}:`) });
  await page.getByRole('main').getByRole('button', { name: 'Make 2 twins for Pocket' }).click();
  await app.finished(/2 twins made and checked$/);
  expect(await namesIn(app, 'twins')).toHaveLength(2);

  // What there is moves, and what is made from now on lies there, too.
  await offer(app, 'loft');
  await page.getByRole('button', { name: /^Twin storage/ }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText(/^2 twins, .* in the browser\.$/)).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await sheet.getByRole('button', { name: 'Choose a folder' }).click();
  await app.finished(/Twins are stored in the folder loft/);
  await sheet.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('main').getByRole('button', { name: 'Make 2 twins for Galley' }).click();
  await app.finished(/2 twins made and checked$/);
  expect(await namesIn(app, 'twins')).toEqual([]);
  const inLoft = await namesIn(app, 'loft');
  expect(inLoft.filter((name) => name.endsWith('.mp3'))).toHaveLength(2);
  expect(inLoft.filter((name) => name.endsWith('.mp4'))).toHaveLength(2);
  expect(inLoft).toContain('letter.txt');

  // After a reload its permission has ended: nothing is taken for lost.
  await page.addInitScript(() => {
    let isAllowed = false;
    const named = (handle: FileSystemDirectoryHandle) => handle.name === 'loft' && !isAllowed;
    Object.assign(FileSystemDirectoryHandle.prototype, {
      queryPermission(this: FileSystemDirectoryHandle) {
        return Promise.resolve(named(this) ? 'prompt' : 'granted');
      },
      requestPermission() {
        isAllowed = true;
        return Promise.resolve('granted');
      },
    });
  });
  await page.reload();
  await expect(cell('Pocket')).toHaveAccessibleName('Pocket: 2 twins ready');
  await page.getByRole('button', { name: /^Twin storage.*needs permission$/ }).click();
  await expect(sheet.getByRole('button', { name: 'Choose another folder' })).toBeDisabled();
  await sheet.getByRole('button', { name: 'Allow access to loft' }).click();
  await app.finished(/Twins are stored in the folder loft/);
  await sheet.getByRole('button', { name: 'Close' }).click();
  await expect(cell('Pocket')).toHaveAccessibleName('Pocket: 2 twins ready');
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Galley, / }).check();
  await app.run();
  await app.finished(/none failed/);
  expect((await filesOn(request, 'galley')).filter(({ path }) => path.endsWith('.mp3'))).toHaveLength(2);

  // Another folder takes them over; then the browser does, and nothing of them is left behind.
  await app.station('Prepare').click();
  await offer(app, 'attic-disk');
  await page.getByRole('button', { name: /^Twin storage/ }).click();
  await sheet.getByRole('button', { name: 'Choose another folder' }).click();
  await app.finished(/Twins are stored in the folder attic-disk/);
  expect(await namesIn(app, 'loft')).toEqual(['letter.txt']);
  expect(await namesIn(app, 'attic-disk')).toHaveLength(4);
  await sheet.getByRole('button', { name: 'Store in the browser' }).click();
  await app.finished(/Twins are stored in the browser/);
  await sheet.getByRole('button', { name: 'Close' }).click();
  expect(await namesIn(app, 'attic-disk')).toEqual([]);
  expect(await namesIn(app, 'twins')).toHaveLength(4);
  await page.reload();
  await expect(cell('Pocket')).toHaveAccessibleName('Pocket: 2 twins ready');
});

test('a twin whose file is gone from the folder is made anew, and one that is not needed any more goes from there', async ({
  app,
  page,
}) => {
  test.setTimeout(120_000);
  await songsTaken(app);
  await offer(app, 'loft');
  await page.getByRole('button', { name: /^Twin storage/ }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Choose a folder' }).click();
  await app.finished(/Twins are stored in the folder loft/);
  await sheet.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('main').getByRole('button', { name: 'Make 2 twins for Pocket' }).click();
  await app.finished(/2 twins made and checked$/);
  const cell = page.getByRole('grid', { name: 'What plays where' }).getByRole('img', { name: /^Pocket:/ });
  // A folder that is away has lost nothing.
  await page.addInitScript(() => {
    const keys = FileSystemDirectoryHandle.prototype.keys;
    Object.assign(FileSystemDirectoryHandle.prototype, {
      keys(this: FileSystemDirectoryHandle) {
        const isAway = this.name === 'loft' && localStorage.getItem('away') === 'yes';
        return isAway
          ? { next: () => Promise.reject(new DOMException('gone', 'NotFoundError')) }
          : keys.call(this);
      },
    });
  });
  await page.evaluate(() => localStorage.setItem('away', 'yes'));
  await page.reload();
  await expect(cell).toHaveAccessibleName('Pocket: 2 twins ready');
  await page.getByRole('button', { name: /^Twin storage.*folder is away$/ }).click();
  await sheet.getByRole('button', { name: 'Look again' }).click();
  await expect(sheet.getByRole('alert')).toHaveText(/is missing; connect its disk/);
  await page.evaluate(() => localStorage.removeItem('away'));
  await sheet.getByRole('button', { name: 'Look again' }).click();
  await app.finished(/Twins are stored in the folder loft/);
  await sheet.getByRole('button', { name: 'Close' }).click();
  const [first] = await namesIn(app, 'loft');
  await page.evaluate(async (name) => {
    const root = await navigator.storage.getDirectory();
    await (await root.getDirectoryHandle('loft')).removeEntry(name as string);
  }, first);
  await page.reload();
  await expect(cell).toHaveAccessibleName('Pocket: 1 twin ready; 1 twin to make');
  await page.getByRole('main').getByRole('button', { name: 'Make 1 twin for Pocket' }).click();
  await app.finished(/1 twin made and checked$/);

  await app.station('Intake').click();
  await app.row(/Low Water/).click();
  await page.keyboard.press('Delete');
  await app.station('Prepare').click();
  await page.getByRole('button', { name: /^Delete unused twins/ }).click();
  await app.finished(/freed: 1 unused twin deleted/);
  await expect.poll(() => namesIn(app, 'loft')).toHaveLength(1);
});
