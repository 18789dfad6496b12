import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { PHASES } from './phases';

test('the order of the phases is written down as it is', () => {
  const text = readFileSync(new URL('../README.md', import.meta.url), 'utf8');
  const rows = text
    .split('\n')
    .filter((line) => line.startsWith('|'))
    .map((line) =>
      line
        .split('|')
        .slice(1, -1)
        .map((cell) => cell.trim()),
    );
  const from = rows.findIndex(([name]) => name === 'phase');
  const written = rows.slice(from + 2);
  expect(written).toEqual(PHASES.map(({ name, reads, writes, opens }) => [name, reads, writes, opens]));
});
