// What the measuring scripts share: bundles of our own code, and lines of figures.
import { readFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
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

/** Resident bytes of the browser's renderer processes. */
export async function renderers() {
  let total = 0;
  for (const pid of await readdir('/proc')) {
    if (!/^\d+$/.test(pid)) continue;
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('--type=renderer')) continue;
      total += Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) * 1024;
    } catch {
      // The process ended in the meantime.
    }
  }
  return total;
}
