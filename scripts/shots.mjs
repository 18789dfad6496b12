// npm run shots: one current picture of each main view, made from the demo data, into docs/screenshots.
import { chromium } from '@playwright/test';
import { mkdir, mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
process.env.LECTORUM_ATTIC = await mkdtemp(join(tmpdir(), 'lectorum-shots-'));
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
await page.getByRole('heading', { name: 'What has come in?' }).waitFor();
await shoot('first-visit');

await page.goto(`${address}/demo/intake`);
await finished('taken in');
await row(/Orla Venn - Harbour Bell/);
await page
  .getByRole('button', { name: /^Run|Nothing/ })
  .or(page.getByText('Likely music video'))
  .first()
  .waitFor();
await shoot('intake');

await station('Describe');
await row(/^.*Salt Ledger.*7 items/);
await page.getByRole('img', { name: 'Front of the release' }).first().waitFor();
await page.getByRole('button', { name: /^Join/ }).waitFor();
await shoot('describe');

await station('Players');
await page.getByRole('list', { name: 'Findings' }).getByRole('listitem').first().waitFor();
await shoot('players');
await page.getByRole('button', { name: 'Use the dark theme' }).click();
await shoot('players-lamp');
await page.getByRole('button', { name: 'Use the light theme' }).click();

await page.getByRole('button', { name: 'Join 2' }).click();
await page.getByRole('button', { name: 'Join it' }).click();
await page.getByText('Salt Ledger would stand').waitFor({ state: 'detached' });
await page.getByRole('button', { name: /^Run \d+ steps/ }).click();
await finished('run finished');
await page.getByRole('region', { name: 'Proof' }).waitFor();
await shoot('proof');

await browser.close();
process.exit(0);
