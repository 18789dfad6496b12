import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { findDevice, type Device } from '../../src/lib/server/devices';
import { DeviceStore } from '../../src/lib/io/stores/device-store';
import * as mannerRoute from '../../src/routes/devices/[device]/manner/+server';
import { DEMO } from '../helpers/demo';
import { deviceFetch } from '../helpers/device-fetch';

let home: string;
let disk: string;
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'devices-'));
  disk = join(home, 'attic');
  mkdirSync(disk);
  process.env.LECTORUM_DEVICES = home;
});
afterEach(() => rmSync(home, { recursive: true }));

const device = (id: string) => findDevice(id) as Device;
const attic = device('attic');
const putOn = async (
  id: string,
  path: string,
  content: string | Uint8Array,
  expected: number | null = null,
) => device(id).disk.receive(path, new Blob([content as BlobPart]).stream(), expected);
const put = (path: string, content: string | Uint8Array, expected: number | null = null) =>
  putOn('attic', path, content, expected);
const demo = async (path: string) => new Uint8Array(await readFile(join(DEMO, path)));
const KELP = 'Music/The Tidewrack Choir/Salt Ledger/02 Kelp Road.flac';
const VIDEO = 'Music Videos/The Tidewrack Choir - Low Water.mp4';

test('a file is received with its size and SHA-256, listed, moved and removed', async () => {
  const digest = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
  expect(await put('a/b.txt', 'abc')).toEqual({ path: 'a/b.txt', size: 3, digest });
  expect(await attic.disk.list()).toEqual([{ path: 'a/b.txt', size: 3, digest }]);
  await attic.disk.move('a/b.txt', 'c/d.txt');
  expect(await attic.disk.find('c/d.txt')).toEqual({ path: 'c/d.txt', size: 3, digest });
  await attic.disk.remove('c/d.txt');
  await attic.disk.removeEmptyFolder('c');
  expect(readdirSync(disk)).toEqual(['a']);
});

test('files that are removed while their folder is listed are left out', async () => {
  for (let turn = 0; turn < 100; turn++) {
    mkdirSync(join(disk, 'a'), { recursive: true });
    writeFileSync(join(disk, 'a/stays'), 'abc');
    writeFileSync(join(disk, 'a/goes'), 'abc');
    const [inFolder, all] = await Promise.all([
      attic.disk.listFolder('a'),
      attic.disk.list(),
      rm(join(disk, 'a/goes')),
    ]);
    for (const files of [inFolder, all]) expect(files.map(({ path }) => path)).toContain('a/stays');
  }
});

test('a file that comes short leaves nothing behind', async () => {
  await expect(put('a.mp3', 'abc', 10)).rejects.toMatchObject({ status: 400 });
  expect(readdirSync(disk)).toEqual([]);
});

test('nothing is written over, moved over or found that is not there', async () => {
  await put('a', '1');
  await put('b', '2');
  await expect(put('a', '3')).rejects.toMatchObject({ status: 409 });
  await expect(attic.disk.move('b', 'a')).rejects.toMatchObject({ status: 409 });
  await expect(attic.disk.remove('x')).rejects.toMatchObject({ status: 404 });
});

test('files that come side by side do not take each other’s place to arrive at away', async () => {
  const three = Array.from({ length: 3 }, async (_, lane) => {
    for (let n = 0; n < 300; n++) await put(`lane ${lane}/${n}`, `${n}`);
  });
  await Promise.all(three);
  expect(await attic.disk.list()).toHaveLength(900);
});

test('of many that want one name at once, one gets it', async () => {
  const puts = await Promise.allSettled(Array.from({ length: 12 }, (_, n) => put('a/one', `${n}`)));
  expect(puts.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  await Promise.all(Array.from({ length: 12 }, (_, n) => put(`from/${n}`, `${n}`)));
  const moves = await Promise.allSettled(
    Array.from({ length: 12 }, (_, n) => attic.disk.move(`from/${n}`, 'to/one')),
  );
  expect(moves.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  const parted = await Promise.allSettled(
    Array.from({ length: 12 }, (_, n) => attic.disk.move('a/one', `to/${n}`)),
  );
  expect(parted.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  expect(await attic.disk.list()).toHaveLength(13);
  for (const outcome of [...puts, ...moves, ...parted])
    if (outcome.status === 'rejected') expect([404, 409]).toContain(outcome.reason.status);
});

test.each(['galley', 'pocket'])(
  'of many on %s whose names are alike but for letter case at once, one gets in, by one folder',
  async (id) => {
    const paths = ['Songs/Tide.mp3', 'songs/tide.mp3', 'SONGS/TIDE.mp3', 'Songs/tIDE.mp3'];
    const came = await Promise.allSettled(paths.map((path) => putOn(id, path, 'abc')));
    expect(came.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect(await device(id).disk.list()).toHaveLength(1);
    await Promise.allSettled(['tide', 'TIDE'].map((name) => device(id).disk.makeFolder(`sONGS/${name}`)));
    await putOn(id, 'Other.mp3', 'abc');
    const moved = await Promise.allSettled([
      device(id).disk.move('other.mp3', 'Songs/New.mp3'),
      putOn(id, 'songs/nEW.mp3', 'abc'),
    ]);
    expect(moved.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect(readdirSync(join(home, id)).filter((name) => /^songs$/i.test(name))).toHaveLength(1);
  },
);

test('links are not followed, to read, write, move or list', async () => {
  const outside = mkdtempSync(join(tmpdir(), 'outside-'));
  writeFileSync(join(outside, 'secret.mp3'), 'secret');
  mkdirSync(join(disk, 'Music'));
  symlinkSync(outside, join(disk, 'Music/linked'));
  symlinkSync(join(outside, 'secret.mp3'), join(disk, 'Music/file.mp3'));
  await put('own.mp3', 'own');
  for (const act of [
    () => attic.disk.find('Music/linked/secret.mp3'),
    () => attic.disk.find('Music/file.mp3'),
    () => attic.disk.read('Music/file.mp3', 0, 3),
    () => put('Music/linked/new.mp3', 'x'),
    () => put('Music/file.mp3', 'x'),
    () => attic.disk.move('own.mp3', 'Music/linked/own.mp3'),
    () => attic.disk.move('Music/linked/secret.mp3', 'got.mp3'),
    () => attic.disk.remove('Music/linked/secret.mp3'),
    () => attic.disk.remove('Music/file.mp3'),
    () => attic.disk.makeFolder('Music/linked/folder'),
  ])
    await expect(act()).rejects.toMatchObject({ status: 403 });
  expect((await attic.disk.list()).map(({ path }) => path)).toEqual(['own.mp3']);
  expect(readdirSync(outside)).toEqual(['secret.mp3']);
  expect(readFileSync(join(outside, 'secret.mp3'), 'utf8')).toBe('secret');
  rmSync(outside, { recursive: true });
});

test('a folder is not moved, removed or read as a file, and no file stands where a folder is', async () => {
  await put('a/b/c', '1');
  for (const act of [
    () => attic.disk.find('a/b'),
    () => attic.disk.move('a/b', 'd'),
    () => attic.disk.remove('a/b'),
    () => attic.disk.find('a/b/c/d'),
  ])
    await expect(act()).rejects.toMatchObject({ status: 404 });
  for (const act of [() => put('a/b', 'x'), () => put('a/b/c/d', 'x'), () => attic.disk.makeFolder('a/b/c')])
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
    await put('Music/Somebody Else/Nothing/sleeve.jpg', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0));
    const picture = 'Music/Somebody Else/Nothing/sleeve.jpg';
    const song = { title: 'Kelp Road', artist: 'The Tidewrack Choir', track: 2, disc: null };
    expect((await attic.scan()).nodes).toEqual([
      {
        kind: 'song',
        facts: { title: 'Salt Ledger', maker: 'The Tidewrack Choir', year: 2019, picture },
        path: null,
        nodes: [{ kind: 'song', path: 'Music/Somebody Else/Nothing/99 x.flac', facts: song, nodes: [] }],
      },
    ]);
  });

  test('a cover that is no JPEG is not shown', async () => {
    await put('Music/a/x.flac', await demo(KELP));
    await put('Music/a/sleeve.jpg', 'not a picture');
    expect((await attic.scan()).nodes[0]?.facts.picture).toBeNull();
  });

  test('a video needs folder, file and sidecar of one name', async () => {
    const bytes = await demo(VIDEO);
    const good = '<clip><by>A</by><name>T</name></clip>';
    await put('Music Videos/One/One.mp4', bytes);
    await put('Music Videos/One/One.slip', good);
    await put('Music Videos/Two/Other.mp4', bytes);
    await put('Music Videos/Three/Three.mp4', bytes);
    await put('Music Videos/Four/Four.mp4', bytes);
    await put('Music Videos/Four/Four.slip', '<broken');
    const { nodes, unplaced } = await attic.scan();
    expect(nodes.map(({ facts, nodes: inner }) => [facts.maker, inner.map(({ path }) => path)])).toEqual([
      ['A', ['Music Videos/One/One.mp4']],
    ]);
    expect(new Map(unplaced.map(({ path, reason }) => [path, reason.split(':')[0]]))).toEqual(
      new Map([
        ['Music Videos/Two/Other.mp4', 'its folder has another name than the video'],
        ['Music Videos/Three/Three.mp4', 'no sidecar named Three.slip'],
        ['Music Videos/Four/Four.mp4', 'its sidecar is no XML'],
      ]),
    );
  });

  test('what is in no folder of its own, or cannot be read, is told', async () => {
    await put('Elsewhere/a.flac', await demo(KELP));
    await put('Music/x/broken.flac', 'not a flac file');
    await put('.lectorum-held/run/Music/x.flac', await demo(KELP));
    const { nodes, unplaced } = await attic.scan();
    expect(nodes).toEqual([]);
    expect(unplaced.map(({ path }) => path).sort()).toEqual(['Elsewhere/a.flac', 'Music/x/broken.flac']);
  });
});

describe('what disks refuse, each by its own file system', () => {
  test('Galley: letters, ends and names of devices; two spellings are one name', async () => {
    for (const bad of ['a?/b.mp3', 'a./b.mp3', 'a/con.mp3', `${'x'.repeat(240)}/${'y'.repeat(20)}`])
      await expect(putOn('galley', bad, 'x')).rejects.toMatchObject({ status: 400 });
    await putOn('galley', 'Sea/Salt/01.mp3', '1');
    await putOn('galley', 'SEA/salt/02.mp3', '2');
    await expect(putOn('galley', 'sea/SALT/01.MP3', '3')).rejects.toMatchObject({ status: 409 });
    const { disk: fat } = device('galley');
    expect((await fat.list()).map(({ path }) => path).sort()).toEqual(['Sea/Salt/01.mp3', 'Sea/Salt/02.mp3']);
    expect(await fat.find('sea/salt/01.mp3')).toMatchObject({ path: 'Sea/Salt/01.mp3' });
  });

  test('Pocket counts bytes of names', async () => {
    await putOn('pocket', `${'ü'.repeat(127)}`, '1');
    await expect(putOn('pocket', `${'ü'.repeat(128)}`, '1')).rejects.toMatchObject({ status: 400 });
    await expect(putOn('pocket', 'a:b', '1')).rejects.toMatchObject({ status: 400 });
  });

  test('a disk runs full, told before or found while it comes, and has room again', async () => {
    const { disk: card } = device('pocket');
    const { room, others } = await card.room();
    const free = room - others;
    await expect(putOn('pocket', 'too-large', 'x', free + 1)).rejects.toMatchObject({ status: 507 });
    await putOn('pocket', 'Music/a', 'x'.repeat(1000));
    expect((await card.room()).used).toBe(1000);
    await card.remove('Music/a');
    expect((await card.room()).used).toBe(0);
    card.isFull = true;
    await expect(putOn('pocket', 'Music/b', 'x')).rejects.toMatchObject({ status: 507 });
    card.isFull = false;
    await putOn('pocket', 'Music/b', 'x');
    expect((await card.list()).map(({ path }) => path)).toEqual(['Music/b']);
  });

  test('what was coming when the power went is never listed, and takes no room', async () => {
    mkdirSync(join(home, 'galley/.arriving'), { recursive: true });
    writeFileSync(join(home, 'galley/.arriving/1-2'), 'half of a song');
    const { disk: fat } = device('galley');
    expect(await fat.list()).toEqual([]);
    expect((await fat.room()).used).toBe(0);
    expect(readdirSync(join(home, 'galley/.arriving'))).toEqual([]);
  });
});

describe('Galley shows folders', () => {
  const MP3 = 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3';

  test('a top folder, an album in it, tracks in that, by their names alone', async () => {
    await putOn('galley', 'Sea/Salt/01 Any.mp3', await demo(MP3));
    await putOn('galley', 'Sea/top.jpg', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0));
    await putOn('galley', 'Sea/Salt/front.jpg', 'no picture');
    await putOn('galley', 'Sea/loose.mp3', await demo(MP3));
    await putOn('galley', 'Sea/Salt/deep/er.mp3', await demo(MP3));
    await putOn('galley', 'Sea/Salt/02 Kelp.flac', await demo(KELP));
    await putOn('galley', 'Sea/Salt/03 lies.mp3', 'not a song');
    const { nodes, unplaced } = await device('galley').scan();
    const track = { kind: 'song', path: 'Sea/Salt/01 Any.mp3', facts: { title: '01 Any' }, nodes: [] };
    const album = { kind: 'song', path: null, facts: { title: 'Salt', picture: null }, nodes: [track] };
    const facts = { title: 'Sea', picture: 'Sea/top.jpg' };
    expect(nodes).toEqual([{ kind: 'song', path: null, facts, nodes: [album] }]);
    expect(unplaced.map(({ path }) => path).sort()).toEqual([
      'Sea/Salt/02 Kelp.flac',
      'Sea/Salt/03 lies.mp3',
      'Sea/Salt/deep/er.mp3',
      'Sea/loose.mp3',
    ]);
  });
});

describe('Pocket shows what its tags say', () => {
  test('albums by their makers; nothing that it does not play', async () => {
    const base = 'Music/The Tidewrack Choir/Fathom Songs';
    await putOn('pocket', 'Music/x.mp3', await demo(`${base}/1 - Sounding Line.mp3`));
    await putOn('pocket', 'Music/y.m4a', await demo('Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a'));
    await putOn('pocket', 'Music/z.flac', await demo(KELP));
    await putOn('pocket', 'Elsewhere/x.mp3', await demo(`${base}/2 - Undertow, Understood.mp3`));
    await putOn('pocket', 'Ringtones/long.mp3', await demo(`${base}/3 - Nine Fathoms.mp3`));
    const { nodes, unplaced } = await device('pocket').scan();
    expect(nodes.map(({ facts, nodes: inner }) => [facts.title, facts.maker, inner.length])).toEqual(
      expect.arrayContaining([
        ['Fathom Songs', 'The Tidewrack Choir', 1],
        ['Nine Lamps Burning', 'Orla Venn', 1],
      ]),
    );
    expect(new Map(unplaced.map(({ path, reason }) => [path, reason]))).toEqual(
      new Map([
        ['Music/z.flac', 'Pocket does not play this format'],
        ['Elsewhere/x.mp3', 'no folder that Pocket looks into'],
        ['Ringtones/long.mp3', 'longer than 30 seconds'],
      ]),
    );
  });
});

describe('how a device behaves, as it is told', () => {
  const tell = async (body: object) => {
    const request = new Request('http://house/devices/galley/manner', {
      method: 'PUT',
      body: JSON.stringify(body),
    });
    return mannerRoute.PUT({ request, params: { device: 'galley' } } as never);
  };
  const store = new DeviceStore('galley');
  beforeEach(() => vi.stubGlobal('fetch', deviceFetch));
  afterEach(async () => {
    await tell({});
    vi.unstubAllGlobals();
  });

  test('away, it answers nothing; there again, it has all that it had', async () => {
    await store.write('Sea/Salt/a.mp3', new Blob(['1']));
    await tell({ away: true });
    await expect(store.list()).rejects.toMatchObject({ code: 'unreachable' });
    await expect(store.room()).rejects.toMatchObject({ code: 'unreachable' });
    await tell({});
    expect((await store.list()).map(({ path }) => path)).toEqual(['Sea/Salt/a.mp3']);
  });

  test('failing, it is read and not changed; full, it says so', async () => {
    await tell({ failing: true });
    await expect(store.write('a', new Blob(['1']))).rejects.toMatchObject({ code: 'unreachable' });
    expect(await store.list()).toEqual([]);
    await tell({ full: true });
    await expect(store.write('a', new Blob(['1']))).rejects.toMatchObject({ code: 'full' });
    expect(await store.room()).toEqual({ room: 500_000_000, used: 0, others: 0 });
  });

  test('stalling, it answers late', async () => {
    await tell({ stallMs: 60 });
    const before = performance.now();
    await store.list();
    expect(performance.now() - before).toBeGreaterThan(50);
  });

  test('it is told nothing else', async () => {
    for (const wrong of [{ away: 'yes' }, { stallMs: -1 }, { stallMs: 1e9 }])
      await expect(tell(wrong)).rejects.toMatchObject({ status: 400 });
    expect((await deviceFetch('/devices/nobody/files')).status).toBe(404);
  });
});
