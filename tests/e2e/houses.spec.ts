import type { APIRequestContext } from '@playwright/test';
import { ALBUM, expect, otherBrowser, test, type App } from './app';
import { filesOn } from '../helpers/answers';

/* Several browsers of one house run into one player. */

async function everyFile(request: APIRequestContext): Promise<ReadonlyMap<string, string>> {
  const files = await filesOn(request, 'attic');
  return new Map(files.map(({ path, digest }) => [path, digest]));
}

async function albumAtPlayers(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.station('Players').click();
}

test('a second browser knows its files on a player, and tells those of the first', async ({
  app,
  browser,
  request,
}) => {
  await albumAtPlayers(app);
  await app.run();
  await app.finished(/none failed/);
  const before = await everyFile(request);
  expect(before.size).toBeGreaterThan(5);

  const other = await otherBrowser(browser, app);
  await albumAtPlayers(other);
  // Byte for byte what it would write: no place is taken, and a run only notes that.
  await expect(other.page.getByRole('button', { name: /^Run \d+ steps?/ })).toBeEnabled();
  await expect(other.finding(/occupied by files/)).toHaveCount(0);
  await expect(other.finding(/another library/)).toHaveCount(0);
  await other.run();
  await other.finished(/none failed/);
  expect(await everyFile(request)).toEqual(before);
  await expect(other.page.getByRole('button', { name: 'Nothing to run' })).toBeDisabled();

  // What the first says otherwise from now on is its own, and the other is asked.
  await app.describeItems();
  await app.row(/Kelp Road/).click();
  await app.field('composer').fill('Marra Quill');
  await app.field('composer').press('Enter');
  await app.station('Players').click();
  await app.run();
  await expect(app.page.getByRole('button', { name: 'Nothing to run' })).toBeDisabled();
  const after = await everyFile(request);
  await other.page.getByRole('button', { name: 'Rehearse again' }).click();
  const told = other.finding('1 file changed on Attic since our run');
  await expect(told).toContainText('the run of another library');
  expect(await everyFile(request)).toEqual(after);
  await other.page.context().close();
});
