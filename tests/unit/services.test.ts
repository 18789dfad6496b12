import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { fetchBounded, fetchJson, fetchUpTo } from '../../src/lib/io/bounded-fetch';
import { DiscClient } from '../../src/lib/io/disc-client';
import { ReferenceClient } from '../../src/lib/io/reference-client';
import { ShelfClient, sha256, type ShelfTrack } from '../../src/lib/io/shelf-client';

let server: Server;
let base: string;
let answer: (request: IncomingMessage, response: ServerResponse) => void;
const seen: IncomingMessage[] = [];

beforeAll(async () => {
  server = createServer((request, response) => {
    seen.push(request);
    answer(request, response);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());
beforeEach(() => {
  seen.length = 0;
});

const send = (body: unknown, status = 200) => {
  answer = (_request, response) => {
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(JSON.stringify(body));
  };
};
const codeOf = (asked: Promise<unknown>) =>
  asked.then(
    () => 'answered',
    (error: unknown) => (error as { code?: string }).code,
  );

describe('an answer of a service', () => {
  test('comes whole, as JSON where it is some', async () => {
    send({ a: 1 });
    expect(await fetchJson(base)).toEqual({ a: 1 });
    answer = (_request, response) => response.end('no json');
    expect(await codeOf(fetchJson(base))).toBe('malformed');
  });

  test('is given up when it grows too large, or used as far as it goes', async () => {
    answer = (_request, response) => {
      const more = () => {
        while (response.write('x'.repeat(10_000)));
        response.once('drain', more);
      };
      more();
    };
    expect(await codeOf(fetchBounded(base, {}, { mostBytes: 100_000 }))).toBe('tooLarge');
    const { bytes, cutOff } = await fetchUpTo(base, 100_000);
    expect(cutOff).toBe(true);
    expect(bytes.length).toBeGreaterThan(100_000);
    expect(bytes.length).toBeLessThan(1_000_000);
  });

  test('is given up when it takes too long, is refused, or the line breaks', async () => {
    answer = () => undefined;
    expect(await codeOf(fetchBounded(base, {}, { patience: 50 }))).toBe('tooSlow');
    send({ message: 'not now' }, 503);
    await expect(fetchBounded(base)).rejects.toThrow('status 503: not now');
    answer = (_request, response) => {
      response.writeHead(200, { 'content-length': '1000' });
      response.write('some');
      setTimeout(() => response.destroy(), 20);
    };
    expect(await codeOf(fetchBounded(base))).toBe('unreachable');
    expect(await codeOf(fetchBounded('http://127.0.0.1:1'))).toBe('unreachable');
  });

  test('is given up when the curator cancels', async () => {
    answer = () => undefined;
    const stop = new AbortController();
    const asked = codeOf(fetchBounded(base, {}, { signal: stop.signal }));
    stop.abort();
    expect(await asked).toBe('cancelled');
  });
});

describe('the reference’s client', () => {
  test('keeps what is well-formed, and what was heard for each fingerprint', async () => {
    send({ releases: [{ id: 'x' }], heard: [{ e1: 0.1, e2: 'far', e3: 7 }] });
    const found = await new ReferenceClient(base).lookUp({ type: 'album', fingerprints: ['a', 'b'] });
    expect(found).toEqual({ releases: [], dropped: 1, heard: [{ e1: 0.1 }, {}] });
  });

  test('an answer that is none says so', async () => {
    send({ something: 'else' });
    expect(await codeOf(new ReferenceClient(base).lookUp({ type: 'album' }))).toBe('malformed');
  });

  test('lyrics that are not there are none, and no error', async () => {
    send({}, 404);
    expect(await new ReferenceClient(base).lyrics('x')).toBeNull();
    send({ lyrics: 'Haul' });
    expect(await new ReferenceClient(base).lyrics('x')).toBe('Haul');
  });
});

describe('the shelf’s client', () => {
  const track = (bytes: number): ShelfTrack => ({
    id: 't',
    number: 1,
    title: 'T',
    offered: true,
    artist: 'A',
    album: null,
    year: null,
    tracks: null,
    extension: 'mp3',
    bytes,
    sha256: null,
  });
  const whole = Uint8Array.from({ length: 600_000 }, (_, at) => at % 251);
  const serveRanges = (upTo = whole.length) => {
    answer = (request, response) => {
      const [, from, to] = /bytes=(\d+)-(\d+)/.exec(request.headers.range ?? '') ?? [];
      response.writeHead(206);
      response.end(whole.subarray(Number(from), Math.min(upTo, Number(to) + 1)));
    };
  };
  async function fetchAll(from: number, bytes = whole.length) {
    const pieces: Uint8Array[] = [];
    for await (const piece of new ShelfClient(base).fetchFrom(
      track(bytes),
      from,
      new AbortController().signal,
    ))
      pieces.push(piece);
    return Buffer.concat(pieces);
  }

  test('fetches piece by piece, and only what is missing', async () => {
    serveRanges();
    expect((await fetchAll(0)).equals(Buffer.from(whole))).toBe(true);
    expect(seen).toHaveLength(3);
    seen.length = 0;
    expect((await fetchAll(599_000)).equals(Buffer.from(whole.subarray(599_000)))).toBe(true);
    expect(seen.map(({ headers }) => headers.range)).toEqual(['bytes=599000-599999']);
  });

  test('a shelf that sends less than it said ends in an error that says how much came', async () => {
    serveRanges(300_000);
    await expect(fetchAll(0)).rejects.toThrow('the shelf sent 300000 of 600000 bytes and no more');
  });

  test('one that sends more than was asked for cannot spill over', async () => {
    answer = (_request, response) => {
      response.writeHead(206);
      response.end(whole);
    };
    expect(await fetchAll(0, 1000)).toHaveLength(1000);
  });

  test('one that knows no ranges, or refuses, says so', async () => {
    answer = (_request, response) => response.end(whole);
    await expect(fetchAll(0)).rejects.toThrow('status 200 instead of a part');
  });

  test.each(['/elsewhere', 'x', '/shelf/../secrets', '/shelf/tracks/a/b'])(
    '%s is no address of it',
    async (address) => {
      const fetching = vi.spyOn(globalThis, 'fetch');
      expect(await codeOf(new ShelfClient('/shelf').describe(address))).toBe('refused');
      expect(fetching).not.toHaveBeenCalled();
      fetching.mockRestore();
    },
  );

  test('a digest is that of the bytes', async () =>
    expect(await sha256(new Blob(['abc']))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    ));
});

describe('the drive’s client', () => {
  const track = { number: 1, lengthSeconds: 10, bytes: 1000 };

  test('what is no drive says so', async () => {
    send({ tracks: 'many' });
    expect(await codeOf(new DiscClient(base).state())).toBe('malformed');
  });

  test('a track is read to its end, told as it comes', async () => {
    answer = (_request, response) => response.end(Buffer.alloc(1000));
    let told = 0;
    const blob = await new DiscClient(base).read(
      track,
      new AbortController().signal,
      (count) => (told += count),
    );
    expect([blob.size, told]).toEqual([1000, 1000]);
  });

  test('one that breaks off says how far it could be read', async () => {
    answer = (_request, response) => {
      response.writeHead(200, { 'content-length': '1000' });
      response.write(Buffer.alloc(450));
      setTimeout(() => response.destroy(), 30);
    };
    await expect(
      new DiscClient(base).read(track, new AbortController().signal, () => undefined),
    ).rejects.toThrow('it could be read to 45 %');
  });

  test('one that is short without breaking off is not taken for whole', async () => {
    answer = (_request, response) => response.end(Buffer.alloc(999));
    expect(
      await codeOf(new DiscClient(base).read(track, new AbortController().signal, () => undefined)),
    ).toBe('unreachable');
  });
});
