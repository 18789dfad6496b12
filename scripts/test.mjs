// npm test: installs what is missing, then units, types, lint and browser tests; closes with one line of sums.
import { spawn } from 'node:child_process';
import { ensureChromium, ensurePackages, root } from './ensure.mjs';

// A demo that runs from this checkout keeps its own build.
process.env.LECTORUM_BUILD ??= 'build-test';
// Browser tests make their own.
delete process.env.LECTORUM_DEVICES;
ensurePackages();
ensureChromium();

/** Runs a command and answers with its status and text; what it prints is shown as it comes, or at its end. */
function run(name, command, args, { atEnd = false } = {}) {
  return new Promise((resolve) => {
    if (!atEnd) console.log(`\n== ${name}`);
    const child = spawn(command, args, {
      cwd: root,
      env: { ...process.env, CI: 'true', FORCE_COLOR: '0' },
    });
    let text = '';
    for (const stream of [child.stdout, child.stderr]) {
      stream.on('data', (chunk) => {
        text += chunk;
        if (!atEnd) process.stdout.write(chunk);
      });
    }
    child.on('close', (status) => {
      if (atEnd) console.log(`\n== ${name}\n${text}`);
      resolve({ name, status, text });
    });
  });
}

/** The number before a word in a runner's closing lines. */
const count = (text, pattern) => Number([...text.matchAll(pattern)].at(-1)?.[1] ?? 0);

let passed = 0;
let failed = 0;
/** What the checks printed that failed: said once more at the end, where a log that is cut still has it. */
const complaints = [];
/** A check without tests of its own counts as one. */
function sum({ name, status, text }, passes, fails) {
  const good = passes ? count(text, passes) : Number(status === 0);
  const bad = fails ? count(text, fails) : Number(status !== 0);
  passed += good;
  failed += bad;
  if (status !== 0 && bad === 0) failed++;
  if (status !== 0) complaints.push(`== ${name}, once more\n${text.split('\n').slice(-60).join('\n')}`);
  console.log(`-- ${name}: ${status === 0 ? 'good' : 'FAILED'}`);
}

await run('sync', 'npx', ['svelte-kit', 'sync']);
/** Checks that keep one core busy, one after the other. */
async function inTurn(...checks) {
  const done = [];
  for (const [name, ...args] of checks) done.push(await run(name, 'npx', args, { atEnd: true }));
  return done;
}
const checks = await Promise.all([
  inTurn(
    ['types', 'svelte-check', '--tsconfig', './tsconfig.json', '--fail-on-warnings'],
    ['unused', 'knip'],
    ['build', 'vite', 'build'],
  ),
  inTurn(['lint', 'eslint', '.'], ['format', 'prettier', '--check', '.']),
]);
for (const check of checks.flat()) sum(check);
sum(await run('units', 'npx', ['vitest', 'run']), /Tests\s.*?(\d+) passed/g, /Tests\s+(\d+) failed/g);
sum(await run('browser', 'npx', ['playwright', 'test']), /(\d+) passed \(/g, /(\d+) failed/g);

for (const complaint of complaints) console.log(`\n${complaint}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
