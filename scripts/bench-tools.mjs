// What the measuring scripts share: bundles of our own code, and lines of figures.
import { readFileSync } from 'node:fs';
import { readFile, readdir } from 'node:fs/promises';
import { chromium } from '@playwright/test';
import { basename, join } from 'node:path';
import { build } from 'vite';
import { root } from './ensure.mjs';

/** Browser settings under which figures are taken. */
const LAUNCH = {
  executablePath: '/usr/bin/chromium',
  viewport: { width: 1280, height: 800 },
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-quic'],
};

/**
 * A page that counts its long tasks in `window.longTasks`. Its profile lies on disk, below the folder `work`: a private
 * one may keep too little for these files.
 */
export async function launch(work) {
  const context = await chromium.launchPersistentContext(join(work, 'profile'), LAUNCH);
  const page = await context.newPage();
  await page.addInitScript(() => {
    window.longTasks = [];
    new PerformanceObserver((list) =>
      window.longTasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({ entryTypes: ['longtask'] });
  });
  return { context, page };
}

export const ratio = (value) => value.toFixed(2);
export const row = (what, value, aim) => console.log(`${what.padEnd(66)}${value.padStart(10)}   ${aim}`);

/** One file of ours with everything it needs, for Node or for a worker, below the folder `work`. */
export async function bundle(work, entry, ssr) {
  const outDir = join(work, basename(entry, '.ts'));
  await build({
    root,
    configFile: false,
    logLevel: 'error',
    resolve: { alias: { $lib: join(root, 'src/lib') } },
    ssr: { noExternal: true },
    build: {
      ssr,
      outDir,
      lib: ssr ? undefined : { entry: join(root, entry), formats: ['es'], fileName: 'bench' },
      rollupOptions: {
        ...(ssr ? { input: join(root, entry) } : {}),
        output: { codeSplitting: false, entryFileNames: 'bench.mjs' },
      },
    },
  });
  return join(outDir, 'bench.mjs');
}

/**
 * Bytes of the largest page's process, as far as they are its own: what it shares with others is parted among them (the
 * proportional set size of Linux).
 */
export async function largestRenderer() {
  let most = 0;
  for (const pid of await readdir('/proc')) {
    if (!/^\d+$/.test(pid)) continue;
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('--type=renderer')) continue;
      const told = readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8');
      most = Math.max(most, Number(/^Pss:\s+(\d+)/m.exec(told)?.[1] ?? 0) * 1024);
    } catch {
      // The process ended in the meantime.
    }
  }
  return most;
}

/** Files of the demo that made ones are like. */
export const MIXED = [
  'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3',
  'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac',
  'Music/Orla Venn/Nine Lamps Burning/01 Who Goes There_.m4a',
  'Music/Skerry House Evenings/01 Dag Holme - Ferry Waltz.mp3',
];

/**
 * A worker of the page that makes files and measures in them. Answers with what runs a task in it; `templates` are
 * paths of the demo.
 */
export async function benchWorker(page, work) {
  const source = await readFile(await bundle(work, 'tests/bench/bench-worker.ts', false), 'utf8');
  await page.evaluate((text) => {
    const url = URL.createObjectURL(new Blob([text], { type: 'text/javascript' }));
    window.bench = (task) =>
      new Promise((resolve, reject) => {
        window.worker ??= new Worker(url, { type: 'module' });
        window.worker.onmessage = ({ data }) => {
          if (data.type === 'done') resolve(data.value);
          else if (data.type === 'made') window.made = true;
          else reject(new Error(data.detail));
        };
        window.worker.postMessage(task);
      });
    window.template = async (path) => [
      path,
      await (await fetch(`/demo-files/${path.split('/').map(encodeURIComponent).join('/')}`)).blob(),
    ];
  }, source);
  return (task, templates = []) =>
    page.evaluate(
      async ([given, paths]) => {
        const blobs = await Promise.all(paths.map(window.template));
        return window.bench({ ...given, templates: blobs, template: blobs[0]?.[1] });
      },
      [task, templates],
    );
}
