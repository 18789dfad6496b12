import { unzipSync } from 'fflate';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { HOLD_FOLDER } from '../../src/lib/core/plan';
import { MemoryStore, type Store } from '../../src/lib/core/run';
import { DeviceStore } from '../../src/lib/io/stores/device-store';
import { ZipStore } from '../../src/lib/io/stores/zip-store';
import { deviceFetch } from '../helpers/device-fetch';

let disk: string;
beforeEach(() => {
  disk = mkdtempSync(join(tmpdir(), 'attic-'));
  process.env.LECTORUM_DEVICES = disk;
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => deviceFetch(url, init));
});
afterEach(() => {
  vi.unstubAllGlobals();
  rmSync(disk, { recursive: true });
});

interface Kit {
  readonly store: Store<unknown>;
  readonly content: (text: string) => unknown;
}
const KITS: readonly (readonly [string, () => Kit])[] = [
  ['memory', () => ({ store: new MemoryStore(), content: (text) => new TextEncoder().encode(text) })],
  ['a device over HTTP', () => ({ store: new DeviceStore('attic'), content: (text) => new Blob([text]) })],
];

describe.each(KITS)('what every store does: %s', (_name, makeKit) => {
  let kit: Kit;
  beforeEach(() => (kit = makeKit()));
  const paths = async () => (await kit.store.list()).map(({ path }) => path).sort();
  const textOf = async (path: string) => {
    const source = await kit.store.read(path);
    return new TextDecoder().decode(await source.read(0, source.size));
  };

  test('writes, lists, finds and reads back', async () => {
    expect(await kit.store.write('a/ü #1?.mp3', kit.content('hello'))).toMatchObject({ size: 5 });
    expect(await paths()).toEqual(['a/ü #1?.mp3']);
    expect(await kit.store.find('a/ü #1?.mp3')).toMatchObject({ size: 5 });
    expect(await kit.store.find('a/other')).toBeNull();
    expect(await textOf('a/ü #1?.mp3')).toBe('hello');
  });
  test('reads by ranges', async () => {
    await kit.store.write('x', kit.content('0123456789'));
    const source = await kit.store.read('x');
    expect(new TextDecoder().decode(await source.read(2, 5))).toBe('234');
    expect(await source.read(4, 4)).toHaveLength(0);
  });
  test('never writes or moves over a file', async () => {
    await kit.store.write('x', kit.content('old'));
    await kit.store.write('y', kit.content('other'));
    await expect(kit.store.write('x', kit.content('new'))).rejects.toMatchObject({ code: 'exists' });
    await expect(kit.store.move('y', 'x')).rejects.toMatchObject({ code: 'exists' });
    expect(await textOf('x')).toBe('old');
  });
  test('says what is gone', async () => {
    await expect(kit.store.remove('x')).rejects.toMatchObject({ code: 'gone' });
    await expect(kit.store.move('x', 'y')).rejects.toMatchObject({ code: 'gone' });
    await expect(kit.store.read('x')).rejects.toMatchObject({ code: 'gone' });
  });
  test('moves into folders that are not there yet, and what is held is not listed', async () => {
    await kit.store.write('x', kit.content('1'));
    await kit.store.move('x', `${HOLD_FOLDER}/run/a/b/x`);
    expect(await paths()).toEqual([]);
    expect(await kit.store.find(`${HOLD_FOLDER}/run/a/b/x`)).not.toBeNull();
  });
  test('tells folders from files, and from what is not there', async () => {
    await kit.store.write('a/b/x', kit.content('1'));
    expect(await Promise.all(['a', 'a/b', 'a/b/x', 'c'].map((path) => kit.store.hasFolder(path)))).toEqual([
      true,
      true,
      false,
      false,
    ]);
    await kit.store.makeFolder('c/d');
    expect(await kit.store.hasFolder('c/d')).toBe(true);
  });
  test('takes the digest of what was sent', async () => {
    const { digest } = await kit.store.write('x', kit.content('hello'));
    const found = await kit.store.find('x');
    if (found?.digest) expect(digest).toBe(found.digest);
    expect(digest).not.toBe((await kit.store.write('y', kit.content('hellO'))).digest);
  });
  test('removes a folder only when it is empty', async () => {
    await kit.store.write('a/x', kit.content('1'));
    await kit.store.removeEmptyFolder('a');
    expect(await paths()).toEqual(['a/x']);
    await kit.store.remove('a/x');
    await kit.store.removeEmptyFolder('a');
    await kit.store.removeEmptyFolder('never there');
  });
});

describe('a device over HTTP, when it is not well', () => {
  test('no answer is out of reach', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('network')));
    await expect(new DeviceStore('attic').list()).rejects.toMatchObject({ code: 'unreachable' });
  });
  test('a full disk is full, a fault of its own is out of reach', async () => {
    const answers = (status: number) =>
      vi.stubGlobal('fetch', async () => new Response('{"message":"x"}', { status }));
    answers(507);
    await expect(new DeviceStore('attic').write('x', new Blob(['1']))).rejects.toMatchObject({
      code: 'full',
      message: 'x',
    });
    answers(500);
    await expect(new DeviceStore('attic').write('x', new Blob(['1']))).rejects.toMatchObject({
      code: 'unreachable',
    });
    answers(400);
    await expect(new DeviceStore('attic').write('x', new Blob(['1']))).rejects.toMatchObject({
      code: 'refused',
    });
  });
  test('an answer of another shape is not trusted', async () => {
    vi.stubGlobal('fetch', async () => new Response('{"files":[{"path":1}]}'));
    await expect(new DeviceStore('attic').list()).rejects.toThrow();
    vi.stubGlobal('fetch', async () => new Response('{"nodes":[{"kind":"nonsense"}],"unplaced":[]}'));
    await expect(new DeviceStore('attic').scan()).rejects.toThrow();
  });
});

describe('a ZIP', () => {
  function zipInMemory() {
    const chunks: Uint8Array[] = [];
    const target = new WritableStream<Uint8Array>({ write: (chunk) => void chunks.push(chunk) });
    return { chunks, store: new ZipStore(target as FileSystemWritableFileStream) };
  }

  test('holds what was written, and reads it back before it is closed', async () => {
    const { chunks, store } = zipInMemory();
    await store.write('a/1.txt', new Blob(['one']));
    await store.write('ø.txt', new Blob([new Uint8Array(300_000)]));
    await expect(store.write('a/1.txt', new Blob(['again']))).rejects.toMatchObject({ code: 'exists' });
    expect((await store.find('a/1.txt'))?.size).toBe(3);
    await store.close();
    const entries = unzipSync(Buffer.concat(chunks));
    expect(Object.keys(entries)).toEqual(['a/1.txt', 'ø.txt']);
    expect(new TextDecoder().decode(entries['a/1.txt'])).toBe('one');
    expect(entries['ø.txt']).toHaveLength(300_000);
  });

  test('what waits for its place is in the ZIP only once it is moved there, and is taken back alone', async () => {
    const { chunks, store } = zipInMemory();
    const waits = store.holding.stage('run', 'a/1.txt');
    await store.write(waits, new Blob(['one']));
    await store.write(store.holding.stage('run', 'a/2.txt'), new Blob(['two']));
    expect((await store.find(waits))?.size).toBe(3);
    expect(await store.find('a/1.txt')).toBeNull();
    await store.move(waits, 'a/1.txt');
    expect(await store.find(waits)).toBeNull();
    await expect(store.remove('a/1.txt')).rejects.toMatchObject({ code: 'refused' });
    await store.close();
    expect(Object.keys(unzipSync(Buffer.concat(chunks)))).toEqual(['a/1.txt']);
  });

  test('a disk that runs full stops the run', async () => {
    const target = new WritableStream<Uint8Array>({
      write: () => {
        throw new DOMException('full', 'QuotaExceededError');
      },
    });
    const store = new ZipStore(target as FileSystemWritableFileStream);
    await expect(store.write('a', new Blob(['x']))).rejects.toMatchObject({ code: 'full' });
    await expect(store.close()).rejects.toMatchObject({ code: 'full' });
  });
});
