// npm run hard: the hard trials at full size. `npm test` runs the same trials on a seeded part.
import { spawn } from 'node:child_process';
import { ensurePackages, root } from './ensure.mjs';

ensurePackages();
const began = Date.now();
const lines = [];
const child = spawn('npx', ['vitest', 'run', 'tests/hard'], {
  cwd: root,
  env: { ...process.env, LECTORUM_HARD: 'full', FORCE_COLOR: '0' },
  stdio: ['ignore', 'pipe', 'inherit'],
});
let rest = '';
let text = '';
child.stdout.setEncoding('utf8');
child.stdout.on('data', (chunk) => {
  process.stdout.write(chunk);
  text += chunk;
  const parts = (rest + chunk).split('\n');
  rest = parts.pop() ?? '';
  lines.push(...parts.filter((line) => line.startsWith('trial: ')));
});
child.on('close', (status) => {
  const failed = Number(/Tests\s+(\d+) failed/.exec(text)?.[1] ?? (status === 0 ? 0 : 1));
  const passed = Number(/Tests\s.*?(\d+) passed/.exec(text)?.[1] ?? 0);
  console.log(`\nHard trials at full size, ${Math.round((Date.now() - began) / 1000)} s`);
  for (const line of lines.sort()) console.log(`  ${line.slice('trial: '.length)}`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(status ?? 1);
});
