import { defineConfig } from '@playwright/test';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PORT = Number(process.env.LECTORUM_TEST_PORT ?? 4391);
process.env.LECTORUM_BUILD ??= 'build-test';
// Each worker process reads this file again; only the first one makes the folder.
process.env.LECTORUM_DEVICES ??= mkdtempSync(join(tmpdir(), 'lectorum-devices-'));

export default defineConfig({
  testDir: 'tests/e2e',
  // The tests share one Attic, and the machine has two cores.
  workers: 1,
  timeout: 90_000,
  // A machine that stands still for half a minute fails whichever test is under way: twice is no accident.
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 15_000 },
  reporter: process.env.CI ? 'line' : 'list',
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: 'node scripts/serve.mjs',
    port: PORT,
    env: {
      PORT: String(PORT),
      LECTORUM_DEVICES: process.env.LECTORUM_DEVICES,
      LECTORUM_BUILD: process.env.LECTORUM_BUILD,
    },
    reuseExistingServer: false,
  },
});
