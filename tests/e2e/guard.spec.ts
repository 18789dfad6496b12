import { request as ask, type IncomingMessage } from 'node:http';
import { expect, test } from './app';

interface Asked {
  readonly method?: string;
  readonly headers?: Record<string, string>;
  readonly body?: string;
}

/** A request as it goes over the line, with a Host and a path of our choosing. */
function raw(base: string, path: string, { method = 'GET', headers = {}, body }: Asked = {}) {
  const { hostname, port } = new URL(base);
  return new Promise<IncomingMessage>((resolve, reject) => {
    const asked = ask({ hostname, port, path, method, headers }, (answer) => {
      answer.resume();
      resolve(answer);
    });
    asked.once('error', reject);
    asked.end(body);
  });
}

const TYPE = { 'content-type': 'application/octet-stream' };

test('a stand-in answers under its own names only, and changes nothing for other pages', async ({
  app,
  baseURL,
}) => {
  await app.open();
  const base = baseURL as string;
  const own = new URL(base);
  const put = (headers: Record<string, string>) =>
    raw(base, '/devices/attic/files/x.mp3', { method: 'PUT', headers: { ...TYPE, ...headers }, body: 'x' });
  expect((await put({ host: 'tidewrack.example' })).statusCode).toBe(403);
  expect((await put({ origin: 'http://tidewrack.example' })).statusCode).toBe(403);
  expect((await put({ origin: 'http://localhost:1' })).statusCode).toBe(403);
  expect((await put({ 'sec-fetch-site': 'cross-site' })).statusCode).toBe(403);
  for (const path of ['/devices/attic/files', '/disc', '/reference/manner', '/feeds', '/shelf'])
    expect((await raw(base, path, { headers: { host: `tidewrack.example:${own.port}` } })).statusCode).toBe(
      403,
    );
  const put2 = await put({ origin: own.origin });
  expect(put2.statusCode).toBe(201);
  const got = await raw(base, '/devices/attic/files/x.mp3');
  expect(got.headers).toMatchObject({
    'x-content-type-options': 'nosniff',
    'content-disposition': 'attachment',
    'cross-origin-resource-policy': 'same-origin',
    'referrer-policy': 'no-referrer',
  });
  expect((await put({ origin: own.origin })).statusCode).toBe(409);
});

test('what is malformed is told so, and never taken for a stand-in that does not answer', async ({
  app,
  baseURL,
}) => {
  await app.open();
  const base = baseURL as string;
  await raw(base, '/devices/attic/files/a/x.mp3', { method: 'PUT', headers: TYPE, body: 'hello' });
  const json = { 'content-type': 'application/json' };
  const cases: readonly (readonly [string, Asked])[] = [
    ['/devices/attic/files/%zz', {}],
    ['/devices/attic/files/a%00b', {}],
    ['/devices/attic/files/..%2f..%2fetc', {}],
    ['/devices/attic/files/a%5c..%5cb', { method: 'PUT', headers: TYPE, body: 'x' }],
    [`/devices/attic/files/${'x'.repeat(300)}`, { method: 'PUT', headers: TYPE, body: 'x' }],
    ['/devices/attic/files/a', { method: 'PUT', headers: TYPE, body: 'x' }],
    ['/devices/attic/files/a/x.mp3/y', { method: 'PUT', headers: TYPE, body: 'x' }],
    ['/devices/attic/files/a/x.mp3', { method: 'PATCH', headers: json, body: '{' }],
    ['/devices/attic/files/a/x.mp3', { method: 'PATCH', headers: json, body: 'null' }],
    ['/devices/attic/files/a/x.mp3', { method: 'PATCH', headers: json, body: '{"to":7}' }],
    ['/devices/attic/files/a/x.mp3', { method: 'PATCH', headers: json, body: '{"to":"../x"}' }],
    ['/devices/attic/files/a', { method: 'PATCH', headers: json, body: '{"to":"b"}' }],
    ['/devices/attic/files/a', { method: 'DELETE' }],
    ['/devices/attic/files/a/x.mp3', { headers: { range: 'bytes=99-' } }],
    ['/disc', { method: 'PUT', headers: json, body: '[' }],
    ['/disc', { method: 'PUT', headers: json, body: '{"disc":{}}' }],
    ['/reference/manner', { method: 'PUT', headers: json, body: 'null' }],
    ['/reference/search', { method: 'POST', headers: json, body: '"x"' }],
    ['/reference/pictures/x/y', {}],
    ['/shelf/artists/%20', {}],
    ['/feeds/..%2fx', {}],
    ['/demo-files/..%2f..%2fpackage.json', {}],
    ['/disc/tracks/zero', {}],
  ];
  for (const [path, asked] of cases) {
    const { statusCode = 0 } = await raw(base, path, asked);
    expect([path, asked.body, statusCode >= 400 && statusCode < 500 ? '4xx' : statusCode]).toEqual([
      path,
      asked.body,
      '4xx',
    ]);
  }
});
