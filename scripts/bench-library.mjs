// npm run bench, second part: a library of 100,000 items in the real browser.
import { existsSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { installClock, seen } from './bench-clock.mjs';
import { MIXED, benchWorker, bundle, largestRenderer, launch, ratio, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages } from './ensure.mjs';

ensurePackages();
ensureChromium();
// With a folder in BENCH_KEEP the library is read in there once, and later runs begin with what the browser kept.
const kept = process.env.BENCH_KEEP;
const isKept = kept !== undefined && existsSync(join(kept, 'large'));
const work = kept ?? (await mkdtemp(join(tmpdir(), 'lectorum-bench-')));
process.env.LECTORUM_DEVICES = join(work, 'devices');
// Attic has room for all of it; the other two show what becomes of a library that is far too large for them.
process.env.LECTORUM_ATTIC_MB = '50000000';
const ITEMS = Number(process.env.BENCH_ITEMS ?? 100_000);
const { bigLibrary } = await import(await bundle(work, 'tests/bench/big-library.ts', true));
const file = join(work, 'library.zip');
if (!isKept) await writeFile(file, bigLibrary(ITEMS));

ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(4601);
/** A browser of its own, with a library that has nothing in it yet. */
async function open(profile) {
  const opened = await launch(join(work, profile));
  await opened.page.addInitScript(installClock);
  await opened.page.addInitScript(() => {
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
const stage = (name) => page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name }).click();
const rowsAre = (what) =>
  page.getByRole('group', { name: 'What the rows are' }).getByRole('button', { name: what }).click();
const all = page.getByRole('button', { name: new RegExp(`^All ${ITEMS.toLocaleString('en')}`) });
const narrow = page.getByLabel('Narrow by any field');

/** A line of the bench: rows, everything, longest task; each from the event to the frame in which it is seen. */
async function line(what, aim, act, options = {}) {
  const { rows, all: whole, longest: task } = await seen(page, act, options);
  const told = `${rows.toFixed(0)} / ${whole.toFixed(0)} / ${task.toFixed(0)}`;
  console.log(`${what.padEnd(56)}${told.padStart(20)}   ${aim}`);
}

/** Reads the library file in, as a person does. */
async function readIn() {
  await page.keyboard.press('Control+k');
  await page.getByRole('dialog').getByRole('combobox').fill('read a library');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('option', { name: /Read a library/ }).click();
  await longest();
  const started = Date.now();
  await (await chooser).setFiles(file);
  await page.getByRole('grid').first().getByRole('row').nth(3).waitFor({ timeout: 300_000 });
  row('reading the library file in: to rows, s', ((Date.now() - started) / 1000).toFixed(1), 'under 3');
  await all.waitFor({ timeout: 300_000 });
  row('the same: to all, s', ((Date.now() - started) / 1000).toFixed(1), 'under 15');
  await page
    .getByRole('contentinfo')
    .getByRole('status')
    .filter({ hasText: /read in|items/ })
    .waitFor({ timeout: 300_000 });
  row('the same: to the word in the dock, s', ((Date.now() - started) / 1000).toFixed(1), 'under 15');
  row('longest task of the page meanwhile, ms', await longest(), 'under 50');
}

console.log(`\nA library of ${ITEMS.toLocaleString('en')} items in the browser\n`);
await page.goto(`${address}/home/intake`);
if (!isKept) await page.getByRole('heading', { name: 'Take in your files' }).waitFor();
if (isKept) await all.waitFor({ timeout: 300_000 });
else await readIn();
await page.waitForTimeout(30_000);

console.log('\nMilliseconds from the event to rows / to everything / longest task between\n');
await stage('Describe');
await rowsAre('Items');
await page.getByRole('row', { name: /\d/ }).nth(8).click();
await page.locator('aside input').first().waitFor();
await page.waitForTimeout(3000);

await narrow.focus();
for (const letter of ['q', 'x']) {
  await line(`narrow: the first letter, ${letter}`, '100 / 300', () => narrow.press(letter), {
    turns: 1,
  });
  await line('narrow: emptied again', '100 / 300', () => narrow.press('Backspace'), { turns: 1 });
}
for (const word of ['harbour', 'orla venn'])
  for (const letter of word) {
    if (letter === word[1] || letter === word.at(-1))
      await line(`narrow: ${word}, as far as its ${letter}`, '100 / 300', () => narrow.press(letter), {
        turns: 1,
      });
    else await narrow.press(letter);
    if (letter === word.at(-1)) {
      await narrow.fill('');
      await page.waitForTimeout(2000);
    }
  }
const query = 'genre is folk and year under 1990 and not track is 7';
await narrow.fill(query.slice(0, -1));
await page.waitForTimeout(2000);
await line('a query of three parts', '150', () => narrow.press('7'), { turns: 1 });
await line('the same with a year more', '150', async (turn) =>
  narrow.fill(`genre is folk and year under ${1980 + turn} and not track is 7`),
);
await narrow.fill('');
await page.waitForTimeout(2000);

const head = (name) => page.getByRole('columnheader', { name }).getByRole('button').first();
for (const name of [/^title/i, /^artist/i, /^album/i]) {
  if ((await head(name).count()) === 0) continue;
  // Twice, and a third time for the order that items have by themselves.
  for (const how of ['', ', downwards', ' no more'])
    await line(
      `order by ${String(name).replace(/\W|i$/g, '')}${how}`,
      '100 / 300',
      () => head(name).click(),
      { turns: 1 },
    );
}
const group = page.getByLabel('Grouped by', { exact: true }).first();
for (const level of ['genre', 'artist', 'year', 'folder', 'decade', 'release'])
  await line(`group by ${level}`, '100 / 300', () => group.selectOption(level), { turns: 1 });
await line('the same again, one after the other', '100 / 300', (turn) =>
  group.selectOption(['genre', 'artist', 'year', 'genre', 'release'][turn]),
);
const kinds = page.getByRole('region', { name: 'Scope' }).getByRole('button');
await line('one kind alone', '100 / 300', () => kinds.nth(2).click(), { turns: 1 });
await line('all kinds', '100 / 300', () => kinds.nth(0).click(), { turns: 1 });
await rowsAre('Releases');
await page.waitForTimeout(2000);
await line('releases, by how full they are', '100 / 300', () => head(/full|complete/i).click(), { turns: 2 });
await rowsAre('Items');
await group.selectOption('none');
await page.waitForTimeout(2000);

const title = page.locator('aside').getByLabel('title', { exact: true }).first();
async function typeTitle(text) {
  await title.fill(text);
}
await page.getByRole('row', { name: /\d/ }).nth(4).click();
await title.waitFor();
await written();
{
  const times = { rows: [], all: [], longest: [] };
  for (let turn = 0; turn < 5; turn++) {
    await typeTitle(`Amber Anchor ${turn}`);
    const told = await seen(page, () => title.press('Enter'), { turns: 1 });
    for (const key of Object.keys(times)) times[key].push(told[key]);
  }
  const middle = (values) => values.sort((a, b) => a - b)[2].toFixed(0);
  row(
    'edit of one item',
    `${middle(times.rows)} / ${middle(times.all)} / ${Math.max(...times.longest).toFixed(0)}`,
    '50; all with path and findings',
  );
}
row('written to storage for five of them', await written(), 'under 20 kB each');
await page.getByRole('grid').first().focus();
await line('undo of it', '50', () => page.keyboard.press('Control+z'));

/** Selects what is shown from the first row to the last. */
async function selectAll(text) {
  await narrow.fill(text);
  await page.waitForTimeout(2000);
  await page.getByRole('grid').first().focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+End');
  await page.waitForTimeout(3000);
  return (await page.locator('aside h2').first().textContent())?.trim();
}
await narrow.fill('');
await page.waitForTimeout(2000);
await page.getByRole('grid').first().focus();
await page.keyboard.press('Home');
await page.waitForTimeout(1000);
await line('the card of everything', '200', () => page.keyboard.press('Shift+End'), {
  turns: 1,
  quiet: 3000,
});
// Some thousands of them.
const THOUSANDS = 'track is 7 and year under 2015';
for (const [text, aim] of [
  [THOUSANDS, '150'],
  ['', ''],
]) {
  const selected = await selectAll(text);
  await line(`a letter in a field of ${selected}`, '50', () => title.press('m'), { turns: 3, quiet: 800 });
  await typeTitle('Of many');
  await written();
  await longest();
  await line(`edit of ${selected}`, aim, () => title.press('Enter'), { turns: 1, quiet: 6000 });
  await page.waitForTimeout(15_000);
  row('longest task until it is kept, ms', await longest(), '');
  row('written to storage', await written(), '');
  await page.getByRole('grid').first().focus();
  await line('undo of it', aim, () => page.keyboard.press('Control+z'), { turns: 1, quiet: 6000 });
  await page.waitForTimeout(15_000);
}
await narrow.fill('');
await page.waitForTimeout(3000);
await page.getByRole('row', { name: /\d/ }).nth(4).click();
await page.waitForTimeout(8000);

const stages = ['Intake', 'Identify', 'Describe', 'Prepare', 'Lists', 'Players'];
for (const turn of [1, 2])
  for (const name of stages)
    await line(`station ${name}${turn === 2 ? ', again' : ''}`, '150, no task above 100', () => stage(name), {
      turns: 1,
      quiet: 2500,
    });

// The jukebox has no room for all of it, and plays one format alone: there is always something to leave out.
await line('another player', '300', () => page.getByRole('radio', { name: /^Galley/ }).click(), {
  turns: 1,
  quiet: 6000,
});
const decide = page
  .getByRole('main')
  .getByRole('button', { name: /^Leave .* out$/ })
  .first();
await decide.waitFor({ timeout: 60_000 });
await line('a decision on it', '300', () => decide.click(), { turns: 1, quiet: 8000 });

await stage('Describe');
await rowsAre('Items');
await page.getByRole('grid').first().waitFor();
await page.waitForTimeout(5000);
/** Milliseconds of a frame at the 95th percentile while the wheel is flung over a list, by the browser's clock of frames. */
async function fling(of) {
  const box = await of.getByRole('grid').first().boundingBox();
  await of.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await of.evaluate(() => {
    window.frames_ = [];
    let last = null;
    const tick = (now) => {
      if (last !== null) window.frames_.push(now - last);
      last = now;
      window.flinging = requestAnimationFrame(tick);
    };
    window.flinging = requestAnimationFrame(tick);
  });
  for (let turn = 0; turn < 120; turn++) {
    await of.mouse.wheel(0, 2400);
    await of.waitForTimeout(8);
  }
  return of.evaluate(() => {
    cancelAnimationFrame(window.flinging);
    const times = window.frames_.sort((a, b) => a - b);
    return times[Math.floor(times.length * 0.95)];
  });
}
await fling(page);
const flings = [];
for (let turn = 0; turn < 3; turn++) flings.push(await fling(page));
const frame = flings.sort((a, b) => a - b)[1];
row('wheel flung: frame at p95, ms', frame.toFixed(1), 'under 25');
const blank = await context.newPage();
await blank.setContent(
  '<div role="grid" style="height:700px;overflow:auto"><div style="height:4000000px">an empty page</div></div>',
);
const blankFrame = await fling(blank);
row('the same of an empty page', blankFrame.toFixed(1), '');
row('ratio of both', ratio(frame / blankFrame), 'about 1');
await blank.close();

/** Opens the library again, and waits until every player is rehearsed for; tells when, in seconds. */
const rehearsing = page.getByRole('radio', { name: /rehearsing/ }).first();
async function rehearsedAgain() {
  const begun = Date.now();
  await page.reload();
  await page.getByRole('grid').first().getByRole('row').nth(5).waitFor({ timeout: 120_000 });
  await stage('Players');
  await page.getByText(/dry run \d\d:\d\d/).waitFor({ timeout: 120_000 });
  await rehearsing.waitFor({ state: 'detached', timeout: 120_000 });
  return ((Date.now() - begun) / 1000).toFixed(1);
}
// At rest the library's last rehearsals are kept; an edit just before makes all of them be made anew.
await page.waitForTimeout(40_000);
const reloaded = Date.now();
await page.reload();
await page.getByRole('grid').first().getByRole('row').nth(5).waitFor({ timeout: 120_000 });
row('reload: to rows, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 1.5');
await all.waitFor({ timeout: 120_000 });
row('reload: to all rows, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 5');
await stage('Players');
await page.getByText(/dry run \d\d:\d\d/).waitFor({ timeout: 120_000 });
row('reload: to the rehearsal of one player, s', ((Date.now() - reloaded) / 1000).toFixed(1), '');
await rehearsing.waitFor({ state: 'detached', timeout: 120_000 });
row('reload: to all three, s', ((Date.now() - reloaded) / 1000).toFixed(1), 'under 5');
const devtools = await context.newCDPSession(page);
await devtools.send('HeapProfiler.collectGarbage');
const heap = await page.evaluate(() => performance.memory.usedJSHeapSize / 1e6);
row('heap of the page, collected, MB', heap.toFixed(0), '');
// Workers give back what they no longer use when they have been at rest for a while.
await page.waitForTimeout(60_000);
row('its process at rest, workers included, MB', ((await largestRenderer()) / 1e6).toFixed(0), '');

await stage('Describe');
await rowsAre('Items');
await page.getByRole('grid').first().getByRole('row').nth(5).click();
await title.waitFor();
await typeTitle('Just before');
await title.press('Enter');
await page.waitForTimeout(2000);
row('reload after an edit: to all three, s', await rehearsedAgain(), '');

/** The same folder taken in twice: beside a large library, and into an empty one. */
async function again() {
  const [seconds, tasks] = await sameFolder(page);
  row(`the same folder of ${FOLDER} again, s`, seconds, 'as in an empty library');
  row('longest task meanwhile, ms', tasks, '');
  const empty = await open('empty');
  const [emptySeconds, emptyTasks] = await sameFolder(empty.page);
  row('the same in an empty library, s', emptySeconds, '');
  row('longest task meanwhile, ms', emptyTasks, '');

  await empty.context.close();
}

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
// A library that is kept for later runs takes no more in.
if (kept === undefined) await again();
await context.close();
if (kept === undefined) await rm(work, { recursive: true, force: true });
process.exit(0);
