// npm run bench, second part: a library of 100,000 items in the real browser.
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MIXED, benchWorker, bundle, largestRenderer, launch, ratio, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages } from './ensure.mjs';

ensurePackages();
ensureChromium();
const work = await mkdtemp(join(tmpdir(), 'lectorum-bench-'));
process.env.LECTORUM_DEVICES = join(work, 'devices');
// Attic has room for all of it; the other two show what becomes of a library that is far too large for them.
process.env.LECTORUM_ATTIC_MB = '50000000';
const ITEMS = Number(process.env.BENCH_ITEMS ?? 100_000);
const { bigLibrary } = await import(await bundle(work, 'tests/bench/big-library.ts', true));
const file = join(work, 'library.zip');
await writeFile(file, bigLibrary(ITEMS));

ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(4601);
/** A browser of its own, with a library that has nothing in it yet. */
async function open(profile) {
  const opened = await launch(join(work, profile));
  await opened.page.addInitScript(() => {
    window.painted = () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
    // What goes into the browser's storage, counted as text.
    window.written = 0;
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (value, key) {
      window.written += typeof value === 'string' ? value.length : (JSON.stringify(value)?.length ?? 0);
      return put.call(this, value, key);
    };
    window.showDirectoryPicker = async () =>
      (await navigator.storage.getDirectory()).getDirectoryHandle('bench', { create: true });
  });
  return opened;
}
const { context, page } = await open('large');
const written = async () => {
  const bytes = await page.evaluate(() => {
    const count = window.written;
    window.written = 0;
    return count;
  });
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
};
const longest = async (of = page) => {
  const tasks = await of.evaluate(() => window.longTasks.splice(0));
  return `${Math.round(Math.max(0, ...tasks))} (${tasks.length} above 50)`;
};
const rowsAre = (what) =>
  page.getByRole('group', { name: 'What the rows are' }).getByRole('button', { name: what }).click();
const all = page.getByRole('button', { name: new RegExp(`^All ${ITEMS.toLocaleString('en')}`) });
/** Milliseconds from an act to the next picture, the median of some. */
async function paint(act, settle = 900, turns = 7) {
  const times = [];
  for (let turn = 0; turn < turns; turn++) {
    times.push(
      await page.evaluate(
        async ([body, count]) => {
          const start = performance.now();
          new Function('turn', body)(count);
          await window.painted();
          return performance.now() - start;
        },
        [act, turn],
      ),
    );
    await page.waitForTimeout(settle);
  }
  return times.sort((a, b) => a - b)[turns >> 1].toFixed(0);
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
await rowsAre('Items');
await page
  .getByRole('row', { name: /Song 1\b/ })
  .first()
  .click();
await page.locator('aside input').first().waitFor();
await longest();
const enter = `input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));`;
await written();
row(
  'edit of one item: to paint, ms',
  await paint(typing('aside input', '"Title " + turn') + enter),
  'under 50',
);
row('written to storage for seven of them', await written(), 'under 20 kB each');
const fresh = [];
for (let turn = 0; turn < 7; turn++) {
  fresh.push(
    await page.evaluate(
      async ([body, count]) => {
        const start = performance.now();
        new Function('turn', body)(count);
        const told = () => document.querySelector('aside')?.textContent?.includes(`Fresh ${count}.`);
        while (!told()) {
          if (performance.now() - start > 60_000)
            throw new Error(`it never came: ${document.querySelector('aside')?.textContent}`);
          await new Promise((resolve) => setTimeout(resolve, 2));
        }
        return performance.now() - start;
      },
      [typing('aside input', '"Fresh " + turn') + enter, turn],
    ),
  );
  await page.waitForTimeout(500);
}
row('the same: its path and findings fresh, ms', fresh.sort((a, b) => a - b)[3].toFixed(0), 'under 300');
row('undo: to paint, ms', await paint(pressing(`key: 'z', ctrlKey: true`)), 'under 50');
row(
  'a letter in "Narrow": to paint, ms',
  await paint(typing('input[type=search]', '"song " + turn')),
  'under 60',
);
row(
  'a query of three parts: to paint, ms',
  await paint(
    typing('input[type=search]', '"genre is folk and year under " + (1980 + turn) + " and not track is 7"'),
  ),
  'under 100',
);
await page.getByLabel('Narrow by any field').fill('');
const sort = `
  const heads = document.querySelectorAll('[role=columnheader] button.sort');
  heads[1].click();`;
// Three times by the same column, and items are as they are by themselves again.
row('order by a column: to paint, ms', await paint(sort, 4000, 9), 'under 100');
await rowsAre('Releases');
await page.getByRole('grid', { name: 'Releases by what they lack' }).waitFor();
await page.waitForTimeout(3000);
await page
  .getByRole('button', { name: /^Open / })
  .first()
  .click();
await page.getByRole('grid').first().getByRole('row').nth(2).click();
await page.waitForTimeout(1500);
row(
  'releases with what they lack, edit of one item: to paint, ms',
  await paint(typing('aside input', '"Title of " + turn') + enter),
  'under 50',
);
const grouping = `
  const select = document.querySelector('select[aria-label="Group by"]');
  select.value = ['artist', 'year', 'folder', 'genre', 'release'][turn % 5];
  select.dispatchEvent(new Event('change', { bubbles: true }));`;
row('another grouping: to paint, ms', await paint(grouping), 'under 100');
const station = `document.querySelectorAll('nav[aria-label="Stages"] a')[[0, 1, 2, 3][turn % 4]].click();`;
row('another station: to paint, ms', await paint(station, 1500, 9), 'under 100');
row('longest task of the page in all of these, ms', await longest(), '');

await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Describe' }).click();
await rowsAre('Items');
await page.getByLabel('Group by', { exact: true }).first().selectOption('none');
await page.getByRole('grid').first().waitFor();
// Rows of another grouping come in slices, which is measured above.
await page.waitForTimeout(5000);
/** Milliseconds of a frame at the 95th percentile, by the browser's own clock of frames, while what scrolls furthest is scrolled fast. */
const frameOf = async () => {
  const scroller = [...document.querySelectorAll('*')].find(
    (one) => one.scrollHeight > one.clientHeight + 10_000 && getComputedStyle(one).overflowY !== 'visible',
  );
  const times = [];
  scroller.scrollTop = 0;
  let last = await new Promise(requestAnimationFrame);
  for (let turn = 0; turn < 180; turn++) {
    scroller.scrollTop += 1500;
    const now = await new Promise(requestAnimationFrame);
    times.push(now - last);
    last = now;
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)];
};
row('scrolling fast, the first time: frame at p95, ms', (await page.evaluate(frameOf)).toFixed(1), '');
const frames = [];
for (let turn = 0; turn < 3; turn++) frames.push(await page.evaluate(frameOf));
const frame = frames.sort((a, b) => a - b)[1];
row('scrolling fast, after that: frame at p95, ms', frame.toFixed(1), 'under 17');
const blank = await context.newPage();
await blank.setContent(
  '<div style="height:700px;overflow:auto"><div style="height:4000000px">an empty page</div></div>',
);
const blankFrame = await blank.evaluate(frameOf);
row('the same of an empty page', blankFrame.toFixed(1), '');
row('ratio of both', ratio(frame / blankFrame), 'about 1');
await blank.close();
await longest();

/** Selects what is shown by a query from the first row to the last. */
async function selectAll(query) {
  await page.getByLabel('Narrow by any field').fill(query);
  await page.waitForTimeout(1500);
  await page.getByRole('grid').first().focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+End');
  await page.waitForTimeout(1500);
}
/** Selects what is shown by a query, and gives it another title. */
async function editAll(what, query, limit) {
  await selectAll(query);
  const selected = await page.locator('aside h2').first().textContent();
  row(
    `a letter in a field of ${what}: to paint, ms`,
    await paint(typing('aside input', '"letter " + turn')),
    'under 50',
  );
  await longest();
  await written();
  const edited = await page.evaluate(
    async (body) => {
      const start = performance.now();
      new Function('turn', body)(0);
      await window.painted();
      return performance.now() - start;
    },
    typing('aside input', '"Of many"') + enter,
  );
  row(`edit of ${what} (${selected?.trim()}): to paint, ms`, edited.toFixed(0), limit);
  row('longest task until it is kept, ms', await page.waitForTimeout(15_000).then(longest), '');
  row('written to storage', await written(), '');
}
// Of 100,000 made items, 5,421.
const THOUSANDS = 'track is 7 and year under 1999';
await editAll('thousands', THOUSANDS, 'under 100 for 5,500');
await editAll('all', '', 'under 400');
const undo = pressing(`key: 'z', ctrlKey: true`);
row('undo of it: to paint, ms', await paint(undo, 15_000, 1), 'under 400');
await selectAll(THOUSANDS);
row('undo of thousands: to paint, ms', await paint(undo, 15_000, 1), 'under 50 for 5,000');
await page.getByLabel('Narrow by any field').fill('');

/** Opens the library again, and waits until every player is rehearsed for; tells when, in seconds. */
async function rehearsedAgain() {
  const begun = Date.now();
  await page.reload();
  await page.getByRole('grid').first().getByRole('row').nth(5).waitFor({ timeout: 120_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Players' }).click();
  await page.getByText(/dry run \d\d:\d\d/).waitFor({ timeout: 120_000 });
  await rehearsing.waitFor({ state: 'detached', timeout: 120_000 });
  return ((Date.now() - begun) / 1000).toFixed(1);
}
const rehearsing = page.getByRole('radio', { name: /rehearsing/ }).first();
// At rest the library's last rehearsals are kept; an edit just before makes all of them be made anew.
await page.waitForTimeout(40_000);
const reloaded = Date.now();
await page.reload();
await page.getByRole('grid').first().getByRole('row').nth(5).waitFor({ timeout: 120_000 });
row('reload: to rows, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 1.5');
await all.waitFor({ timeout: 120_000 });
row('reload: to all rows, s', ((Date.now() - reloaded) / 1000).toFixed(1), '');
await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Players' }).click();
await page.getByText(/dry run \d\d:\d\d/).waitFor({ timeout: 120_000 });
row('reload: to the rehearsal of one player, s', ((Date.now() - reloaded) / 1000).toFixed(1), '');
await rehearsing.waitFor({ state: 'detached', timeout: 120_000 });
row('reload: to all three, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 5');
const devtools = await context.newCDPSession(page);
await devtools.send('HeapProfiler.collectGarbage');
const heap = await page.evaluate(() => performance.memory.usedJSHeapSize / 1e6);
row('heap of the page, collected, MB', heap.toFixed(0), 'under 150');
// Workers give back what they no longer use when they have been at rest for a while.
await page.waitForTimeout(60_000);
row('its process at rest, workers included, MB', ((await largestRenderer()) / 1e6).toFixed(0), 'under 600');

await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Describe' }).click();
await rowsAre('Items');
await page.getByRole('grid').first().getByRole('row').nth(5).click();
await page.locator('aside input').first().waitFor();
await page.evaluate((body) => new Function('turn', body)(0), typing('aside input', '"Just before"') + enter);
await page.waitForTimeout(2000);
row('reload after an edit: to all three, s', await rehearsedAgain(), '');

/** Takes a folder of made files in, and again: how long the second time takes, in seconds, and what it holds up. */
async function sameFolder(of) {
  await of.goto(`${address}/home/intake`);
  const choose = of.getByRole('button', { name: /^(Choose a folder|Folder)/ }).first();
  await choose.waitFor();
  await of.waitForTimeout(12_000);
  const bench = await benchWorker(of, work);
  await bench({ type: 'make', folder: 'bench', count: FOLDER, repeat: 1 }, MIXED);
  const takeIn = async () => {
    const said = () => document.querySelector('footer .last')?.textContent ?? '';
    const before = await of.evaluate(said);
    await longest(of);
    const begun = Date.now();
    await choose.click();
    await of.waitForFunction(
      (last) => {
        const text = document.querySelector('footer .last')?.textContent ?? '';
        return text !== last && /taken in|nothing new/i.test(text);
      },
      before,
      { timeout: 600_000, polling: 50 },
    );
    return [((Date.now() - begun) / 1000).toFixed(1), await longest(of)];
  };
  await takeIn();
  await of.waitForTimeout(8000);
  return takeIn();
}
const FOLDER = Number(process.env.BENCH_FOLDER ?? 2000);
const [seconds, tasks] = await sameFolder(page);
row(`the same folder of ${FOLDER} again, s`, seconds, 'as in an empty library');
row('longest task meanwhile, ms', tasks, '');
const empty = await open('empty');
const [emptySeconds, emptyTasks] = await sameFolder(empty.page);
row('the same in an empty library, s', emptySeconds, '');
row('longest task meanwhile, ms', emptyTasks, '');

await empty.context.close();
await context.close();
await rm(work, { recursive: true, force: true });
process.exit(0);
