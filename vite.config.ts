import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  test: {
    include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts', 'tests/hard/**/*.test.ts'],
    environment: 'node',
    testTimeout: 30_000,
    // Left to itself it keeps one core free for whoever watches: of two that is half.
    maxWorkers: '100%',
  },
});
