import { describe, expect, test } from 'vitest';
import { guarded, isStandIn, readJson, refusalOf } from '../../src/lib/server/guard';

const OWN = new URL('http://localhost:4173/devices/attic/files/x');
const asked = (method: string, headers: Record<string, string>) =>
  refusalOf({ method, headers: new Headers(headers) } as Request, OWN);

describe('who may ask a stand-in', () => {
  test.each([
    [
      'its own page',
      { host: 'localhost:4173', origin: 'http://localhost:4173', 'sec-fetch-site': 'same-origin' },
    ],
    ['its page under the number of the machine', { host: '127.0.0.1:4173', origin: 'http://127.0.0.1:4173' }],
    ['a program that is no browser', { host: '[::1]:4173' }],
  ])('%s may change and read', (_who, headers) => {
    expect(asked('PUT', headers)).toBeNull();
    expect(asked('GET', headers)).toBeNull();
  });

  test.each([
    ['a page of another server of this machine', { host: 'localhost:4173', origin: 'http://localhost:3000' }],
    ['a page beside it under another name', { host: 'localhost:4173', origin: 'http://127.0.0.1:4173' }],
    ['a page elsewhere', { host: 'localhost:4173', origin: 'https://tidewrack.example' }],
    ['a page that hides where it is', { host: 'localhost:4173', origin: 'null' }],
    ['a page that leaves its origin out', { host: 'localhost:4173', 'sec-fetch-site': 'cross-site' }],
    ['a page of the same site', { host: 'localhost:4173', 'sec-fetch-site': 'same-site' }],
  ])('%s may not change anything', (_who, headers) => {
    for (const method of ['PUT', 'PATCH', 'DELETE', 'POST'])
      expect(asked(method, headers)).toMatch(/another page/);
  });

  test.each([
    'tidewrack.example:4173',
    'localhost:80',
    'localhost.tidewrack.example:4173',
    'localhost:4173@tidewrack.example',
    '',
    'a b',
  ])('a name that points here from elsewhere (%j) gets nothing', (host) => {
    expect(asked('GET', { host })).toMatch(/not asked under a name/);
    expect(asked('PUT', { host, origin: `http://${host}` })).toMatch(/not asked under a name/);
  });
});

test('stand-ins are told from pages by their paths', () => {
  expect(['/devices/attic/files', '/disc', '/reference/search', '/demo-files/a b.mp3'].every(isStandIn)).toBe(
    true,
  );
  expect(['/', '/demo/intake', '/atticus', '/feedsmith', '/_app/x.js'].some(isStandIn)).toBe(false);
});

test('what a stand-in hands out is never run or shown, and tells other pages nothing', async () => {
  const answer = guarded(new Response('<script>', { status: 201, headers: { 'content-type': 'text/html' } }));
  expect(Object.fromEntries(answer.headers)).toMatchObject({
    'x-content-type-options': 'nosniff',
    'content-disposition': 'attachment',
    'cross-origin-resource-policy': 'same-origin',
    'referrer-policy': 'no-referrer',
  });
  expect([answer.status, await answer.text()]).toEqual([201, '<script>']);
});

test.each(['', '{', 'null', '7', '"x"'])('a body of %j is no object', async (body) => {
  expect(await readJson(new Request('http://x', { method: 'POST', body }))).toBeNull();
});
