// npm run bench, fourth part: the script that a first visit to each board loads, as it is sent (Brotli).
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launch, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages } from './ensure.mjs';

ensurePackages();
ensureChromium();
const work = await mkdtemp(join(tmpdir(), 'lectorum-bench-'));
process.env.LECTORUM_DEVICES = join(work, 'devices');

const { serve } = await import('./serve.mjs');
const address = await serve(4602);

/** Kilobytes of script that a page with nothing in its cache loads: of the page itself, and of its workers. */
async function loaded(path, library) {
  const { context, page } = await launch(join(work, `${library}-${path}`));
  const sizes = { page: 0, workers: 0 };
  const pending = [];
  context.on('response', (response) => {
    const url = new URL(response.url());
    if (!url.pathname.endsWith('.js')) return;
    const own = url.pathname.includes('/workers/') ? 'workers' : 'page';
    pending.push(
      response
        .request()
        .sizes()
        .then(({ responseBodySize }) => (sizes[own] += responseBodySize)),
    );
  });
  await page.goto(`${address}/${library}/${path}`);
  await page.getByRole('navigation', { name: 'Stages' }).waitFor();
  await page.waitForTimeout(6000);
  await Promise.all(pending);
  await context.close();
  return sizes;
}

console.log('\nScript of a first visit, kB: all / of workers\n');
for (const library of ['home', 'demo'])
  for (const board of ['intake', 'identify', 'describe', 'prepare', 'lists', 'players']) {
    const { page, workers } = await loaded(board, library);
    const told = `${((page + workers) / 1000).toFixed(0)} / ${(workers / 1000).toFixed(0)}`;
    row(`${board}, ${library === 'home' ? 'an empty library' : 'the demo'}`, told, 'under 250');
  }
await rm(work, { recursive: true, force: true });
process.exit(0);
