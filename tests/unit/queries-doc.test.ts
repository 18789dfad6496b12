import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { PLAIN, QUERY_NAMES, parseQuery, testOf, type Asked } from '../../src/lib/core/query';
import { EMPTY_FIELDS, type ArrivalId, type ItemId } from '../../src/lib/core/items';

const page = readFileSync(new URL('../../docs/queries.md', import.meta.url), 'utf8');

test('the page on queries lists everything that they can name, and how it is compared', () => {
  const lines = page.replace(/ +/g, ' ');
  const missing = QUERY_NAMES.map(
    ({ name, type, means }) => `| ${name} | ${type} |${means === '' ? '' : ` ${means}`} |`,
  ).filter((line) => !lines.includes(line));
  expect(missing.join('\n')).toBe('');
});

test('every example on it can be read', () => {
  const examples = [...page.matchAll(/^ {4}(\S.*)$/gm)].map(([, text = '']) => text);
  expect(examples.length).toBeGreaterThan(5);
  const asked: Asked = {
    id: 'a' as ItemId,
    arrival: 'first' as ArrivalId,
    modified: 0,
    fields: EMPTY_FIELDS,
    path: 'a.mp3',
    kind: null,
    format: 'mp3',
    size: 1,
    soundBytes: undefined,
    durationSeconds: null,
    streams: [],
    pictures: 0,
    chapters: 0,
    timedLines: 0,
    isEdited: false,
  };
  for (const text of examples) {
    const parsed = parseQuery(text);
    expect([text, parsed.type]).toEqual([text, 'query']);
    if (parsed.type === 'query') expect(typeof testOf(parsed.query, PLAIN)(asked)).toBe('boolean');
  }
});
