import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

/** Tests in which something stands for a module, or for what browsers have: they need modules that nobody loaded before. */
const stand = ['src', 'tests/unit', 'tests/hard']
  .flatMap((folder) => readdirSync(folder, { recursive: true }).map((name) => join(folder, String(name))))
  .filter(
    (path) => path.endsWith('.test.ts') && /vi\.mock\(|fake-indexeddb\/auto/.test(readFileSync(path, 'utf8')),
  );

export default defineConfig({
  plugins: [tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  test: {
    environment: 'node',
    // A limit that no busy machine reaches; what is to be fast is measured by the bench.
    testTimeout: 240_000,
    hookTimeout: 240_000,
    // Left to itself it keeps one core free for whoever watches: of two that is half.
    maxWorkers: '100%',
    projects: [
      {
        extends: true,
        test: {
          name: 'plain',
          include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts', 'tests/hard/**/*.test.ts'],
          exclude: stand,
          // To load all modules anew for each file took a third of the time.
          isolate: false,
        },
      },
      { extends: true, test: { name: 'stand-ins', include: stand } },
    ],
  },
});
