// What the measuring scripts share: bundles of our own code, and lines of figures.
import { basename, join } from 'node:path';
import { build } from 'vite';
import { root } from './ensure.mjs';

/** Browser settings under which figures are taken. */
export const LAUNCH = {
  executablePath: '/usr/bin/chromium',
  viewport: { width: 1280, height: 800 },
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-quic'],
};

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
