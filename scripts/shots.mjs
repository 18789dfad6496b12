// npm run shots: one current picture of each main view, made from the demo data, into docs/screenshots.
import { chromium } from '@playwright/test';
import { mkdir, mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { layOutDevices } from './demo/devices.mjs';
import { ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

// A demo that runs from this checkout keeps its own build.
process.env.LECTORUM_BUILD ??= 'build-test';
ensurePackages();
ensureChromium();
process.env.LECTORUM_DEVICES = await mkdtemp(join(tmpdir(), 'lectorum-shots-'));
layOutDevices(process.env.LECTORUM_DEVICES);
ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(4700);
const out = join(root, 'docs/screenshots');
await mkdir(out, { recursive: true });

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
const shoot = async (name) => {
  // Fonts and pictures settle after the last change.
  await page.evaluate(() => document.fonts.ready);
  await page.waitForLoadState('networkidle');
  await page.screenshot({ path: join(out, `${name}.png`) });
  console.log(`docs/screenshots/${name}.png`);
};
const station = (name) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name }).click();
const finished = (text) =>
  page.getByRole('contentinfo').getByRole('status').filter({ hasText: text }).waitFor({ timeout: 60_000 });
const row = (name) => page.getByRole('grid').getByRole('row', { name }).first().click();

await page.goto(`${address}/home/intake`);
await page.getByRole('heading', { name: 'Take in your files' }).waitFor();
await shoot('first-visit');

await page.goto(`${address}/demo/intake`);
await finished('taken in');
// Only rows on screen exist.
await page.getByLabel('Narrow by any field').fill('Orla Venn - Harbour');
await row(/Orla Venn - Harbour Bell/);
await page.getByLabel('Narrow by any field').fill('');
await page
  .getByRole('button', { name: /^Run|Nothing/ })
  .or(page.getByText('Likely music video'))
  .first()
  .waitFor();
await shoot('intake');

const source = (name) =>
  page.getByRole('toolbar', { name: 'Take in from' }).getByRole('button', { name }).click();
await source(/^Feeds/);
for (const feed of ['tide-tables', 'slack-water']) {
  await page.getByLabel('address', { exact: true }).fill(`/feeds/${feed}`);
  await page.getByRole('button', { name: 'Follow', exact: true }).click();
  await page.getByRole('region', { name: feed === 'slack-water' ? 'Slack Water' : 'Tide Tables' }).waitFor();
}
await shoot('feeds');
await page.getByRole('button', { name: 'Back to the arrivals' }).click();

await station('Identify');
await page.getByRole('button', { name: 'Compare FERRY_INSP_S1_D2' }).click();
await page.getByRole('radio', { name: /as aired, season 1, 7 to 14/ }).click();
await page.getByText('2 cross').waitFor();
await page.getByRole('option', { name: /^title_03/ }).click();
await shoot('identify');

await station('Describe');
await row(/Salt Ledger.*splits/);
await page.getByRole('img', { name: 'Front of the release' }).first().waitFor();
await page.getByRole('button', { name: /^Join/ }).waitFor();
await shoot('describe');
await page.getByRole('button', { name: 'Values', exact: true }).click();
await page.getByRole('checkbox', { name: 'folk', exact: true }).check();
await page.getByRole('combobox', { name: 'Narrow by any field' }).focus();
await page.keyboard.type('year under 2022 and ');
await page.keyboard.type('alb');
await page.getByRole('listbox', { name: 'Suggestions' }).getByRole('option').first().waitFor();
await shoot('values');
await page.getByRole('combobox', { name: 'Narrow by any field' }).fill('');
await page.getByRole('button', { name: 'Back to the items' }).click();
/** Opens what is worked on of one item in place of the ledger. */
async function openOf(item, surface) {
  await page.getByRole('group', { name: 'What the rows are' }).getByRole('button', { name: 'Items' }).click();
  await page.getByLabel('Narrow by any field').fill(item);
  await row(new RegExp(item));
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: surface, exact: true }).click();
}
const main = page.getByRole('main');
await openOf('Lamp Keeper', 'Chapters');
await main.getByRole('button', { name: 'Show loudness' }).click();
await main.getByLabel(/suggest chapters/).check();
await main.getByLabel('Seconds of silence, at least').fill('0.4');
await main.getByRole('button', { name: /^Take all \d/ }).waitFor();
await main.getByRole('textbox', { name: 'Title of chapter 2' }).click();
await shoot('chapters');
await main.getByRole('button', { name: 'Done' }).click();
await page
  .getByRole('group', { name: 'What the rows are' })
  .getByRole('button', { name: 'Releases' })
  .click();
await page.getByLabel('Narrow by any field').fill('');

await station('Prepare');
await page
  .getByRole('grid', { name: 'What plays where' })
  .getByRole('row', { name: /Quiet Engines/ })
  .click();
await page
  .getByRole('main')
  .getByRole('button', { name: /twins for Galley/ })
  .click();
await page
  .getByRole('progressbar', { name: /^Making/ })
  .first()
  .waitFor();
await page
  .getByText(/^ *([3-9]\d)%/)
  .first()
  .waitFor();
await shoot('prepare');
await page.getByRole('region', { name: 'Making twins' }).getByRole('button', { name: 'Cancel' }).click();

await station('Lists');
await page.getByRole('button', { name: /^For the ferry/ }).click();
await page
  .getByRole('grid', { name: 'Entries of For the ferry' })
  .getByRole('row', { name: /Low Water/ })
  .click();
await page.getByRole('complementary', { name: 'Card' }).getByText('by hand').waitFor();
await shoot('lists');

await station('Players');
await page.getByRole('list', { name: 'Findings' }).getByRole('listitem').first().waitFor();
await shoot('players');
await page.getByRole('button', { name: 'Use the dark theme' }).click();
await shoot('players-lamp');
await page.getByRole('button', { name: 'Use the light theme' }).click();

await page.getByRole('button', { name: 'Join 2' }).click();
await page.getByRole('button', { name: 'Join 1 song' }).click();
await page.getByText('Salt Ledger would be split').waitFor({ state: 'detached' });
await page.getByRole('button', { name: /^Run \d+ steps/ }).click();
await finished('run finished');
await page.getByRole('region', { name: 'Proof' }).waitFor();
await shoot('proof');

// Pocket, on which hands have been at work since the last sync.
await page.getByRole('radio', { name: /^Pocket/ }).check();
await page.getByRole('button', { name: '1 file changed here and on Pocket' }).click();
await page.getByRole('row', { name: /title/ }).waitFor();
await shoot('sync');
await page.getByRole('button', { name: 'Show rulebook' }).click();
await page.getByRole('dialog').waitFor();
await shoot('rulebook');
await page.keyboard.press('Escape');

await browser.close();
process.exit(0);
