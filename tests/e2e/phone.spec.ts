import AxeBuilder from '@axe-core/playwright';
import { pathsOn } from '../helpers/answers';
import { expect, test, type App } from './app';

test.use({ viewport: { width: 390, height: 800 }, hasTouch: true });

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${ALBUM}/1 - Sounding Line.mp3`,
  `${ALBUM}/2 - Undertow, Understood.mp3`,
  'Podcasts/Slack Water/slack-water-031.mp3',
];

type Board = Parameters<App['station']>[0];

/** Goes to a board by the menu that the strip is on a phone. */
async function goTo(app: App, board: Board): Promise<void> {
  await app.page.locator('button[aria-controls=stages]').click();
  await app.station(board).click();
  await expect(app.page.getByRole('main', { name: `${board.toLowerCase()} board` })).not.toBeEmpty();
}

const card = (app: App) => app.page.getByRole('complementary', { name: 'Card' });
const openCard = (app: App) => card(app).getByRole('button', { name: 'Unfold the card' }).click();
const closeCard = (app: App) => card(app).getByRole('button', { name: 'Fold the card' }).click();

test('the main way on a phone: taken in, confirmed, a gap filled, run', async ({ app, page, request }) => {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);

  await test.step('the kind is confirmed in the sheet', async () => {
    await app.row(/031/).click();
    await expect(card(app)).toContainText('Ropes and Herring');
    await openCard(app);
    await card(app)
      .getByRole('button', { name: /^podcast episode/ })
      .click();
    await expect(card(app)).toContainText('Settled: podcast episode');
    await closeCard(app);
  });

  await test.step('a field is filled', async () => {
    await goTo(app, 'Describe');
    await page
      .getByRole('group', { name: 'What the rows are' })
      .getByRole('button', { name: 'Items' })
      .click();
    await app.row(/Ropes and Herring/).click();
    await openCard(app);
    await app.field('show').fill('Slack Water');
    await app.field('show').press('Enter');
    await closeCard(app);
  });

  await test.step('it runs', async () => {
    await goTo(app, 'Players');
    await page.getByRole('radio', { name: /^Pocket/ }).check();
    await openCard(app);
    await app.run();
    await app.finished(/Pocket run finished: \d+ steps, none failed/);
    expect((await pathsOn(request, 'pocket')).some((path) => path.includes('Sounding Line'))).toBe(true);
  });
});

test('every board fits, and axe finds nothing on it', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  for (const board of ['Identify', 'Describe', 'Prepare', 'Lists', 'Players', 'Intake'] as const)
    await test.step(board, async () => {
      await goTo(app, board);
      // The page itself never scrolls sideways: what needs width does so in itself.
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
      expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
      await openCard(app);
      expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
      await closeCard(app);
    });
});
