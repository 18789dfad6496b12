import { defineConfig } from '@playwright/test';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SERVERS, devicesOf, portOf } from './tests/e2e/servers';

process.env.LECTORUM_BUILD ??= 'build-test';
// Each worker process reads this file again; only the first one makes the folder.
process.env.LECTORUM_DEVICES ??= mkdtempSync(join(tmpdir(), 'lectorum-devices-'));

export default defineConfig({
  testDir: 'tests/e2e',
  workers: SERVERS,
  // By single tests: with whole files, one worker idles while the other has a long one left.
  fullyParallel: true,
  // Limits that no busy machine reaches.
  timeout: 360_000,
  // A machine that stands still for half a minute fails whichever test is under way: twice is no accident.
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 60_000 },
  reporter: process.env.CI ? 'line' : 'list',
  use: {
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
  webServer: Array.from({ length: SERVERS }, (_, server) => ({
    command: 'node scripts/serve.mjs',
    port: portOf(server),
    env: { PORT: String(portOf(server)), LECTORUM_DEVICES: devicesOf(server) },
    reuseExistingServer: false,
  })),
});
