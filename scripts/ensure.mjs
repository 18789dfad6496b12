// Installs what is missing, so that one command works on a fresh machine.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..');
const run = (command, args) => execFileSync(command, args, { cwd: root, stdio: 'inherit' });

/** The packages of the lock file, unless they are there already. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules/.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(stamp) && statSync(stamp).mtimeMs >= statSync(lock).mtimeMs) return;
  run('npm', ['ci', '--no-audit', '--no-fund']);
}

/** Debian's Chromium, for the browser tests and the pictures. */
export function ensureChromium() {
  if (existsSync('/usr/bin/chromium')) return;
  const isDebian =
    existsSync('/etc/debian_version') && readFileSync('/etc/debian_version', 'utf8').length > 0;
  if (!isDebian) throw new Error('Chromium is missing: install it as /usr/bin/chromium');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    run(command, rest);
  };
  apt('update');
  apt('install', '-y', '--no-install-recommends', 'chromium', 'fonts-noto-core');
}

/** A build that is newer than what it is made of. */
export function ensureBuild() {
  const result = spawnSync('npx', ['vite', 'build'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
  });
  if (result.status !== 0) throw new Error(`the build failed\n${result.stdout}${result.stderr}`);
}
