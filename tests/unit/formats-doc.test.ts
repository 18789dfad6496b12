import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { FIELDS } from '../../src/lib/core/items';
import { ID3_MAPS } from '../../src/lib/formats/id3';
import { MATROSKA_MAP } from '../../src/lib/formats/matroska';
import { MP4_MAP } from '../../src/lib/formats/mp4';
import type { TagMap } from '../../src/lib/formats';
import { VORBIS_MAP } from '../../src/lib/formats/vorbis-comment';

const MAPS: readonly TagMap[] = [ID3_MAPS[2], ID3_MAPS[3], ID3_MAPS[4], VORBIS_MAP, MP4_MAP, MATROSKA_MAP];

/** Native names of a field in a map; the first is written. */
function namesOf({ rows }: TagMap, field: string): string {
  const row = rows.find((one) => one.field === field || one.of === field);
  if (!row) return '';
  if (row.of === field) return row.totals ? row.totals.join(', ') : `${row.names[0]} behind /`;
  return [...row.names, ...(row.precise ?? [])].join(', ');
}

test('the page on formats lists every field with its native names, as the tag maps have them', () => {
  const page = readFileSync(new URL('../../docs/formats.md', import.meta.url), 'utf8').replace(/ +/g, ' ');
  const missing = FIELDS.map(({ name, label }) =>
    `| ${label} | ${MAPS.map((map) => namesOf(map, name)).join(' | ')} |`.replace(/ +/g, ' '),
  ).filter((line) => !page.includes(line));
  expect(missing.join('\n')).toBe('');
});
