import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import {
  listFiles,
  moveFile,
  receiveFile,
  removeFile,
  scanDisk,
  findFile,
  removeEmptyFolder,
  makeFolder,
  readFile as readStored,
} from '../../src/lib/server/attic';
import { DEMO } from '../helpers/demo';

let disk: string;
beforeEach(() => {
  disk = mkdtempSync(join(tmpdir(), 'attic-'));
  process.env.LECTORUM_ATTIC = disk;
});
afterEach(() => rmSync(disk, { recursive: true }));

const put = async (path: string, content: string | Uint8Array, expected: number | null = null) =>
  receiveFile(path, new Blob([content as BlobPart]).stream(), expected);
const demo = async (path: string) => new Uint8Array(await readFile(join(DEMO, path)));
const KELP = 'Music/The Tidewrack Choir/Salt Ledger/02 Kelp Road.flac';
const VIDEO = 'Music Videos/The Tidewrack Choir - Low Water.mp4';

test('a file is received with its size and SHA-256, listed, moved and removed', async () => {
  const digest = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
  expect(await put('a/b.txt', 'abc')).toEqual({ path: 'a/b.txt', size: 3, digest });
  expect(await listFiles()).toEqual([{ path: 'a/b.txt', size: 3, digest }]);
  await moveFile('a/b.txt', 'c/d.txt');
  expect(await findFile('c/d.txt')).toEqual({ path: 'c/d.txt', size: 3, digest });
  await removeFile('c/d.txt');
  await removeEmptyFolder('c');
  expect(readdirSync(disk)).toEqual(['a']);
});

test('a file that comes short leaves nothing behind', async () => {
  await expect(put('a.mp3', 'abc', 10)).rejects.toMatchObject({ status: 400 });
  expect(readdirSync(disk)).toEqual([]);
});

test('nothing is written over, moved over or found that is not there', async () => {
  await put('a', '1');
  await put('b', '2');
  await expect(put('a', '3')).rejects.toMatchObject({ status: 409 });
  await expect(moveFile('b', 'a')).rejects.toMatchObject({ status: 409 });
  await expect(removeFile('x')).rejects.toMatchObject({ status: 404 });
});

test('of many that want one name at once, one gets it', async () => {
  const puts = await Promise.allSettled(Array.from({ length: 12 }, (_, n) => put('a/one', `${n}`)));
  expect(puts.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  await Promise.all(Array.from({ length: 12 }, (_, n) => put(`from/${n}`, `${n}`)));
  const moves = await Promise.allSettled(
    Array.from({ length: 12 }, (_, n) => moveFile(`from/${n}`, 'to/one')),
  );
  expect(moves.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  const parted = await Promise.allSettled(Array.from({ length: 12 }, (_, n) => moveFile('a/one', `to/${n}`)));
  expect(parted.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  expect(await listFiles()).toHaveLength(13);
  for (const outcome of [...puts, ...moves, ...parted])
    if (outcome.status === 'rejected') expect([404, 409]).toContain(outcome.reason.status);
});

test('links are not followed, to read, write, move or list', async () => {
  const outside = mkdtempSync(join(tmpdir(), 'outside-'));
  writeFileSync(join(outside, 'secret.mp3'), 'secret');
  mkdirSync(join(disk, 'Music'));
  symlinkSync(outside, join(disk, 'Music/linked'));
  symlinkSync(join(outside, 'secret.mp3'), join(disk, 'Music/file.mp3'));
  await put('own.mp3', 'own');
  for (const act of [
    () => findFile('Music/linked/secret.mp3'),
    () => findFile('Music/file.mp3'),
    () => readStored('Music/file.mp3', 0, 3),
    () => put('Music/linked/new.mp3', 'x'),
    () => put('Music/file.mp3', 'x'),
    () => moveFile('own.mp3', 'Music/linked/own.mp3'),
    () => moveFile('Music/linked/secret.mp3', 'got.mp3'),
    () => removeFile('Music/linked/secret.mp3'),
    () => removeFile('Music/file.mp3'),
    () => makeFolder('Music/linked/folder'),
  ])
    await expect(act()).rejects.toMatchObject({ status: 403 });
  expect((await listFiles()).map(({ path }) => path)).toEqual(['own.mp3']);
  expect(readdirSync(outside)).toEqual(['secret.mp3']);
  expect(readFileSync(join(outside, 'secret.mp3'), 'utf8')).toBe('secret');
  rmSync(outside, { recursive: true });
});

test('a folder is not moved, removed or read as a file, and no file stands where a folder is', async () => {
  await put('a/b/c', '1');
  for (const act of [
    () => findFile('a/b'),
    () => moveFile('a/b', 'd'),
    () => removeFile('a/b'),
    () => findFile('a/b/c/d'),
  ])
    await expect(act()).rejects.toMatchObject({ status: 404 });
  for (const act of [() => put('a/b', 'x'), () => put('a/b/c/d', 'x'), () => makeFolder('a/b/c')])
    await expect(act()).rejects.toMatchObject({ status: 409 });
});

test.each(['../out', 'a/../../out', '/etc/passwd', 'a//b', 'a\\..\\b', `${'x'.repeat(300)}`])(
  'the path %s is refused',
  async (path) => {
    await expect(put(path, 'x')).rejects.toMatchObject({ status: 400 });
  },
);

describe('the scan reads the real bytes', () => {
  test('a song stands on the shelf that its own tags say, whatever its path says', async () => {
    await put('Music/Somebody Else/Nothing/99 x.flac', await demo(KELP));
    await put('Music/Somebody Else/Nothing/cover.jpg', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0));
    expect((await scanDisk()).shelves).toEqual([
      {
        kind: 'song',
        title: 'Salt Ledger',
        maker: 'The Tidewrack Choir',
        year: 2019,
        picture: 'Music/Somebody Else/Nothing/cover.jpg',
        items: [
          {
            path: 'Music/Somebody Else/Nothing/99 x.flac',
            title: 'Kelp Road',
            artist: 'The Tidewrack Choir',
            track: 2,
            disc: null,
          },
        ],
      },
    ]);
  });

  test('a cover that is no JPEG is not shown', async () => {
    await put('Music/a/x.flac', await demo(KELP));
    await put('Music/a/cover.jpg', 'not a picture');
    expect((await scanDisk()).shelves[0]?.picture).toBeNull();
  });

  test('a video needs folder, file and sidecar of one name', async () => {
    const bytes = await demo(VIDEO);
    const good = '<musicVideo><title>T</title><artist>A</artist></musicVideo>';
    await put('Music Videos/One/One.mp4', bytes);
    await put('Music Videos/One/One.xml', good);
    await put('Music Videos/Two/Other.mp4', bytes);
    await put('Music Videos/Three/Three.mp4', bytes);
    await put('Music Videos/Four/Four.mp4', bytes);
    await put('Music Videos/Four/Four.xml', '<broken');
    const { shelves, unplaced } = await scanDisk();
    expect(shelves.map(({ maker, items }) => [maker, items.map(({ path }) => path)])).toEqual([
      ['A', ['Music Videos/One/One.mp4']],
    ]);
    expect(new Map(unplaced.map(({ path, reason }) => [path, reason.split(':')[0]]))).toEqual(
      new Map([
        ['Music Videos/Two/Other.mp4', 'its folder has another name than the video'],
        ['Music Videos/Three/Three.mp4', 'no sidecar named Three.xml'],
        ['Music Videos/Four/Four.mp4', 'its sidecar is no XML'],
      ]),
    );
  });

  test('what is in no folder of its own, or cannot be read, is told', async () => {
    await put('Elsewhere/a.flac', await demo(KELP));
    await put('Music/x/broken.flac', 'not a flac file');
    await put('.lectorum-held/run/Music/x.flac', await demo(KELP));
    const { shelves, unplaced } = await scanDisk();
    expect(shelves).toEqual([]);
    expect(unplaced.map(({ path }) => path).sort()).toEqual(['Elsewhere/a.flac', 'Music/x/broken.flac']);
  });
});
