// npm run bench: ratios of our work to plain work on the same files, within one run. Nothing here fails a test.
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MIXED, benchWorker, bundle, launch, ratio, largestRenderer, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
const work = await mkdtemp(join(tmpdir(), 'lectorum-bench-'));
process.env.LECTORUM_DEVICES = join(work, 'devices');
const FILES = Number(process.env.BENCH_FILES ?? 2000);
const BIG_BYTES = Number(process.env.BENCH_BIG ?? 1_000_000_000);
const FILM_BYTES = Number(process.env.BENCH_FILM ?? 1e9);

const bundled = (entry, ssr) => bundle(work, entry, ssr);

console.log('\nPlan and rehearsal, 100,000 items\n');
const { benchPlan } = await import(await bundled('tests/bench/plan-bench.ts', true));
const plan = benchPlan();
row('plan / JSON.parse of the same items', ratio(plan.planMs / plan.parseMs), 'at most 10');
row('plans of three players brought up to one edit, ms', plan.editMs.toFixed(1), 'under 10');
row('the same at worst, ms', plan.worstEditMs.toFixed(1), '');
row('one side decided, ms', plan.decisionMs.toFixed(1), 'under 50');
row('five hundred decided in one act, ms', plan.manyDecisionsMs.toFixed(1), 'under 300');
row('plan of all / plan of half', ratio(plan.planMs / plan.halfMs), 'about 2 is linear');

console.log('\nLists: 200 by rule over 100,000 items\n');
const { benchLists } = await import(await bundled('tests/bench/lists-bench.ts', true));
const lists = benchLists();
row('all made, ms', lists.makeMs.toFixed(0), '');
row('all brought up to one edit, ms', lists.editMs.toFixed(1), 'under 50');
row('the same at worst, ms', lists.worstEditMs.toFixed(1), '');
row('one of 20,000 entries by hand moved, ms', lists.moveMs.toFixed(1), 'under 16');

console.log('\nGathering 100,000 items\n');
const { benchGather, benchLongBook, benchLineUps } = await import(
  await bundled('tests/bench/identify-bench.ts', true)
);
const gathered = benchGather();
row('gathering / JSON.parse of the same items', ratio(gathered.allMs / gathered.parseMs), '');
row('gathering of all / of half', ratio(gathered.allMs / gathered.halfMs), 'about 2 is linear');

console.log('\nAn audiobook of 100 tracks\n');
const book = benchLongBook();
row(
  'candidates: the twelve releases of an answer ranked, ms',
  book.rankMs.toFixed(0),
  'with the pairing under 100',
);
row('pairing of the chosen one, ms', book.lineUpMs.toFixed(0), '');

console.log('\nLine-ups of 300 made cases\n');
for (const { kind, sure, sureRight, found, pairs } of benchLineUps(300))
  row(
    `${kind}: ${pairs} pairs, ${((100 * sure) / pairs).toFixed(0)} % sure; of the sure right, of all found`,
    `${((100 * sureRight) / sure).toFixed(1)} / ${((100 * found) / pairs).toFixed(1)}`,
    kind === 'all' ? 'at least 99.5 / 90' : '',
  );

ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(4600);
const { context, page } = await launch(work);
await page.addInitScript(() => {
  window.showDirectoryPicker = async () =>
    (await navigator.storage.getDirectory()).getDirectoryHandle('bench', { create: true });
});
await page.goto(`${address}/home/intake`);
await page.getByRole('heading', { name: 'What has come in?' }).waitFor();
const bench = await benchWorker(page, work);

console.log(`\nTake-in of ${FILES} files\n`);
await bench({ type: 'make', folder: 'bench', count: FILES, repeat: 1 }, MIXED);
await page.evaluate(() => (window.longTasks.length = 0));
const started = Date.now();
await page.getByRole('button', { name: 'Choose a folder' }).click();
await page.waitForFunction(
  () => /files taken in/.test(document.querySelector('footer .last')?.textContent ?? ''),
  null,
  { timeout: 600_000, polling: 100 },
);
const takeIn = Date.now() - started;
const longTasks = await page.evaluate(() => window.longTasks);
const plain = await bench({ type: 'baseline', folder: 'bench' });
row('take-in / one-worker loop over the parsing package', ratio(takeIn / plain), 'at most 0.35');
row(
  'longest task of the page, ms',
  String(Math.round(Math.max(0, ...longTasks))),
  `50 at the most (${longTasks.length} above)`,
);

console.log('\nFiles over 3 MB\n');
await bench({ type: 'make', folder: 'large', count: 40, repeat: 9 }, [MIXED[0]]);
row(
  'bytes read of bytes there',
  `${(100 * (await bench({ type: 'bytes', folder: 'large' }))).toFixed(1)} %`,
  'under 3 %',
);
const copies = [];
for (let i = 0; i < 3; i++)
  copies.push(
    (await bench({ type: 'write', folder: 'large', tags: true })) /
      (await bench({ type: 'write', folder: 'large', tags: false })),
  );
row('writing tags into copies / copying', ratio(copies.sort()[1]), 'at most 1.20');

/** What a task's page needs beside what it had, in bytes. */
async function memoryOf(task, templates) {
  const peak = { before: 0, most: 0 };
  await page.evaluate(() => (window.made = false));
  const sample = setInterval(async () => {
    const rss = await largestRenderer();
    const made = await page.evaluate(() => window.made === true).catch(() => false);
    if (!made) peak.before = Math.max(peak.before, rss);
    else peak.most = Math.max(peak.most, rss);
  }, 250);
  const value = await bench(task, templates);
  clearInterval(sample);
  return { value, megabytes: String(Math.max(0, Math.round((peak.most - peak.before) / 1e6))) };
}

console.log(`\nAn audiobook of ${BIG_BYTES / 1e6} MB\n`);
row(
  'memory of the page while it is rewritten, above what it had, MB',
  (await memoryOf({ type: 'big', bytes: BIG_BYTES }, ["Books/The Lamp Keeper's Almanac.m4b"])).megabytes,
  'does not grow with the file',
);

for (const format of ['matroska', 'mp4']) {
  console.log(`\nA film of ${FILM_BYTES / 1e6} MB in ${format} loses two of three sounds\n`);
  const { value, megabytes } = await memoryOf({ type: 'film', bytes: FILM_BYTES, format }, []);
  row('laid anew / copied', ratio(value), 'at most 1.70');
  row('memory of the page meanwhile, above what it had, MB', megabytes, 'under 300');
}

console.log('\nFingerprints, share of differing bits\n');
const names = ['neap.mp3', 'neap.opus', 'neap.flac', 'stranger.opus'];
for (const name of names)
  await page.route(`**/demo-files/${name}`, async (route) =>
    route.fulfill({ body: await readFile(join(root, 'tests/fixtures/sound', name)) }),
  );
await page.goto(`${address}/home/intake`);
await page.evaluate(async (list) => {
  const folder = await (
    await navigator.storage.getDirectory()
  ).getDirectoryHandle('sounds', { create: true });
  const inside = await folder.getDirectoryHandle('recordings', { create: true });
  for (const name of list) {
    const file = await (await inside.getFileHandle(name, { create: true })).createWritable();
    await file.write(await (await fetch(`/demo-files/${name}`)).blob());
    await file.close();
  }
  window.showDirectoryPicker = async () => folder;
}, names);
await page.getByRole('button', { name: /^Folder/ }).click();
await page.getByText('sounds: 4 files taken in').waitFor({ timeout: 60_000 });
const answer = page.waitForResponse(
  (response) =>
    response.url().endsWith('/reference/search') && /fingerprints/.test(response.request().postData() ?? ''),
  { timeout: 60_000 },
);
await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Identify' }).click();
await page.getByLabel('Narrow by any field').fill('recordings');
await page.getByRole('button', { name: 'Lay out recordings' }).click();
await page.getByLabel('Look up by').selectOption('sound');
await page.getByRole('button', { name: 'Ask' }).click();
const { heard } = await (await answer).json();
names.forEach((name, index) => {
  const [entry, distance] = Object.entries(heard[index]).sort((a, b) => a[1] - b[1])[0] ?? [];
  row(
    `${name} finds ${entry ?? 'nothing within 0.35'}`,
    distance === undefined ? '' : distance.toFixed(3),
    name.startsWith('neap') ? 'ebb-tables-1, at most 0.20' : 'nothing',
  );
});

await context.close();
await rm(work, { recursive: true, force: true });
process.exit(0);
