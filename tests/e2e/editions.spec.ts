import AxeBuilder from '@axe-core/playwright';
import { ALBUM, expect, test, type App } from './app';

const HOME = 'Music/The Tidewrack Choir';

/** The same album twice: as it is, and what a folder calls a remaster. */
async function twice(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(ALBUM.filter((path) => !path.includes('Harbour Clerk')));
  await app.fillFolder(
    ALBUM.filter((path) => /Gulls|Kelp|Low Water/.test(path)).map((from) => ({
      from,
      path: from.replace('Salt Ledger', 'Salt Ledger (Vinyl)'),
    })),
  );
  await app.takeInFolder();
  await app.finished(/7 files taken in/);
}

test('two editions of one album are noticed in one finding, and both go once one is marked', async ({
  app,
  page,
}) => {
  await twice(app);
  await app.station('Players').click();
  const finding = app.finding(/Two editions of Salt Ledger/);
  await expect(finding).toContainText('3 titles would be listed twice');
  await finding.getByRole('button', { name: 'Mark the second [Vinyl]' }).click();
  await expect(app.finding(/Two editions/)).toHaveCount(0);
  await app.run();
  await app.finished(/none failed/);
  await expect(page.getByRole('main')).toContainText('Salt Ledger [Vinyl]');
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('Attic shows all 7 as rehearsed');
  await app.undo();
  await expect(finding).toBeVisible();
});

test('versions of a release are listed with what tells them apart, and marked by keyboard', async ({
  app,
  page,
}) => {
  await twice(app);
  await app.describeItems();
  await page.getByRole('button', { name: 'Editions', exact: true }).press('Enter');
  const list = page.getByRole('list', { name: 'Releases in several versions' });
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await expect(list).toContainText('3 of the same name and length');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  const mark = list.getByLabel(`Edition of Salt Ledger in ${HOME}/Salt Ledger (Vinyl), FLAC`, {
    exact: false,
  });
  await expect(mark).toHaveValue('Vinyl');
  await mark.fill('from vinyl');
  await mark.press('Enter');
  await app.finished(/Salt Ledger: 3 items marked from vinyl/);
  await page.getByRole('button', { name: 'Back to the items' }).click();
  await app.row(/Kelp Road/).click();
  await page.keyboard.press('Control+a');
  await expect(app.field('edition')).toBeVisible();
});
