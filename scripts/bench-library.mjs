// npm run bench, second part: a library of 100,000 items in the real browser.
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bundle, launch, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages } from './ensure.mjs';

ensurePackages();
ensureChromium();
const work = await mkdtemp(join(tmpdir(), 'lectorum-bench-'));
process.env.LECTORUM_ATTIC = join(work, 'attic');
const ITEMS = Number(process.env.BENCH_ITEMS ?? 100_000);
const { bigLibrary } = await import(await bundle(work, 'tests/bench/big-library.ts', true));
const file = join(work, 'library.zip');
await writeFile(file, bigLibrary(ITEMS));

ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(4601);
const { context, page } = await launch(work);
const longest = async () => {
  const tasks = await page.evaluate(() => window.longTasks.splice(0));
  return `${Math.round(Math.max(0, ...tasks))} (${tasks.length} above 50)`;
};
const all = page.getByRole('button', { name: new RegExp(`^All ${ITEMS.toLocaleString('en')}`) });
/** Milliseconds from an act to the next picture, the median of some. */
async function paint(act, settle = 900) {
  const times = [];
  for (let turn = 0; turn < 7; turn++) {
    times.push(
      await page.evaluate(
        async ([body, count]) => {
          const start = performance.now();
          new Function('turn', body)(count);
          await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
          return performance.now() - start;
        },
        [act, turn],
      ),
    );
    await page.waitForTimeout(settle);
  }
  return times.sort((a, b) => a - b)[3].toFixed(0);
}
const typing = (selector, value) => `
  const input = document.querySelector('${selector}');
  input.focus();
  input.value = ${value};
  input.dispatchEvent(new Event('input', { bubbles: true }));`;
const pressing = (init) =>
  `document.querySelector('[role=grid]').dispatchEvent(new KeyboardEvent('keydown', { bubbles: true, ${init} }));`;

console.log(`\nA library of ${ITEMS.toLocaleString('en')} items in the browser\n`);
await page.goto(`${address}/home/intake`);
await page.getByRole('heading', { name: 'What has come in?' }).waitFor();
await page.keyboard.press('Control+k');
await page.getByRole('dialog').getByRole('combobox').fill('read a library');
const chooser = page.waitForEvent('filechooser');
await page.getByRole('option', { name: /Read a library/ }).click();
await longest();
const started = Date.now();
await (await chooser).setFiles(file);
await page
  .getByRole('contentinfo')
  .getByRole('status')
  .filter({ hasText: /read in|items/ })
  .waitFor({ timeout: 300_000 });
await all.waitFor({ timeout: 300_000 });
row('reading the library file in, s', ((Date.now() - started) / 1000).toFixed(1), '');
row('longest task of the page meanwhile, ms', await longest(), 'under 50');
await page.waitForTimeout(20_000);
await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Describe' }).click();
await page
  .getByRole('row', { name: /Song 1\b/ })
  .first()
  .click();
await longest();
const enter = `input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));`;
row(
  'edit of one item: to paint, ms',
  await paint(typing('aside input', '"Title " + turn') + enter),
  'under 50',
);
row('undo: to paint, ms', await paint(pressing(`key: 'z', ctrlKey: true`)), 'under 50');
row(
  'a letter in "Narrow": to paint, ms',
  await paint(typing('input[type=search]', '"song " + turn')),
  'under 60',
);
await page.getByLabel('Narrow by any field').fill('');
const grouping = `
  const select = document.querySelector('select[aria-label="Group by"]');
  select.value = ['artist', 'year', 'folder', 'genre', 'release'][turn % 5];
  select.dispatchEvent(new Event('change', { bubbles: true }));`;
row('another grouping: to paint, ms', await paint(grouping), 'under 100');
row('longest task of the page in all of these, ms', await longest(), '');
const reloaded = Date.now();
await page.reload();
await all.waitFor({ timeout: 120_000 });
row('reload: to rows, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 1.5');
const heap = await page.evaluate(() => performance.memory.usedJSHeapSize / 1e6);
row('heap of the page, MB', heap.toFixed(0), 'under 150');

await context.close();
await rm(work, { recursive: true, force: true });
process.exit(0);
