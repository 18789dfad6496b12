import { zlibSync } from 'fflate';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, memorySource, u16, u32, u32le } from '../../src/lib/core/bytes';
import { cleanFields, type Edits, type Fields, type FormatId } from '../../src/lib/core/items';
import { WRITABLE } from '../../src/lib/formats';
import { findBox, makeBox, parseBoxes } from '../../src/lib/formats/mp4';
import { readMedia } from '../../src/lib/formats/reading';
import { checkWritten } from '../../src/lib/workers/run-effects';
import { DEMO } from '../helpers/demo';
import { hasMutagen, mutagenTags, withFile } from '../helpers/foreign-readers';

/* Tags as standards allow them and few programs write them. */

const SONG = 'Drop/07 Slack Before Storm (take 2).mp3';
const FLAC = 'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac';
const M4A = 'Music/Orla Venn/Nine Lamps Burning/02 Harbour Bell_ A Watch Song.m4a';
const demo = async (path: string) => new Uint8Array(await readFile(join(DEMO, path)));
const read = async (bytes: Uint8Array, path: string) => readMedia(memorySource(bytes), path);

const synced = (n: number) => Uint8Array.of((n >>> 21) & 0x7f, (n >>> 14) & 0x7f, (n >>> 7) & 0x7f, n & 0x7f);
const latin = (text: string) => concat([Uint8Array.of(0), ascii(text)]);
const frame3 = (id: string, data: Uint8Array, flags = 0) =>
  concat([ascii(id), u32(data.length), u16(flags), data]);
const frame4 = (id: string, data: Uint8Array, flags = 0) =>
  concat([ascii(id), synced(data.length), u16(flags), data]);
const tag = (version: number, flags: number, ...parts: Uint8Array[]) => {
  const body = concat(parts);
  return concat([ascii('ID3'), Uint8Array.of(version, 0, flags), synced(body.length), body]);
};
const id3v1 = (title: string, artist: string, album: string, year: string, track: number, genre: number) => {
  const out = new Uint8Array(128);
  out.set(ascii('TAG'));
  [title, artist, album].forEach((text, index) => out.set(ascii(text), 3 + index * 30));
  out.set(ascii(year), 93);
  out.set([0, track, genre], 125);
  return out;
};
/** An APEv2 tag with one text, footer only. */
const ape = (name: string, value: string) => {
  const item = concat([u32le(value.length), u32le(0), ascii(`${name}\0${value}`)]);
  return concat([
    item,
    ascii('APETAGEX'),
    u32le(2000),
    u32le(item.length + 32),
    u32le(1),
    u32le(0),
    new Uint8Array(8),
  ]);
};

/** A copy with changed tags, made and checked as a run does it. */
async function copied(bytes: Uint8Array, path: string, format: FormatId, typed: Edits): Promise<Uint8Array> {
  const edits = cleanFields(typed);
  const before = await read(bytes, path);
  const expect = { ...before.file.fields, ...edits } as Fields;
  const writer = await WRITABLE.get(format)?.load();
  if (!writer) throw new Error(format);
  const source = memorySource(bytes);
  const { spans } = await writer.rewrite(source, { fields: edits, all: expect });
  const written = await joinSpans(source, spans);
  const step = {
    type: 'copy',
    path,
    original: { source: 's', path, size: bytes.length },
    recipe: { type: 'retag', format, changes: { fields: edits }, expect, kind: null, id3: null },
  };
  const storage = {
    handles: { find: async () => null },
    files: { find: async () => new Blob([bytes as BlobPart]) },
  };
  await checkWritten(step as never, memorySource(written), storage as never);
  return written;
}

describe('ID3', () => {
  test.each([
    ['2.3 with an extended header', tag(3, 0x40, u32(6), new Uint8Array(6), frame3('TIT2', latin('Ebb')))],
    [
      '2.4 with an extended header',
      tag(4, 0x40, synced(6), Uint8Array.of(1, 0), frame4('TIT2', latin('Ebb'))),
    ],
    [
      '2.3 with a compressed frame',
      tag(3, 0, frame3('TIT2', concat([u32(4), zlibSync(latin('Ebb'))]), 0x0080)),
    ],
    [
      '2.4 with a compressed frame',
      tag(4, 0, frame4('TIT2', concat([synced(4), zlibSync(latin('Ebb'))]), 0x0009)),
    ],
    ['behind a frame with an odd id', tag(3, 0, frame3('x#1 ', latin('?')), frame3('TIT2', latin('Ebb')))],
    [
      'before a second tag',
      concat([tag(3, 0, frame3('TIT2', latin('Ebb'))), tag(3, 0, frame3('TIT2', latin('Flow')))]),
    ],
  ])('%s is read, and kept when another field is written', async (_what, head) => {
    const bytes = concat([head, await demo(SONG)]);
    expect((await read(bytes, SONG)).file.fields.title).toBe('Ebb');
    const written = await copied(bytes, SONG, 'mp3', { album: 'Tides' });
    expect((await read(written, SONG)).file.fields).toMatchObject({ title: 'Ebb', album: 'Tides' });
  });

  test('a frame with an odd id is carried over', async () => {
    const bytes = concat([
      tag(3, 0, frame3('x#1 ', latin('kept')), frame3('TIT2', latin('Ebb'))),
      await demo(SONG),
    ]);
    const written = await copied(bytes, SONG, 'mp3', { title: 'Flow' });
    expect(Buffer.from(written.subarray(0, 200)).toString('latin1')).toContain('x#1 ');
  });

  test('an old short tag’s texts go into the new one, so that no reader loses them', async () => {
    const sound = await demo(SONG);
    const bytes = concat([sound, id3v1('Ebb', 'Orla Venn', 'Tides', '1999', 7, 17)]);
    const wanted = { artist: ['Orla Venn'], album: 'Tides', date: '1999', track: 7, genre: ['Rock'] };
    expect((await read(bytes, SONG)).file.fields).toMatchObject({ title: 'Ebb', ...wanted });
    const written = await copied(bytes, SONG, 'mp3', { title: 'Flow' });
    expect((await read(written, SONG)).file.fields).toMatchObject({ title: 'Flow', ...wanted });
    if (!hasMutagen) return;
    const foreign = Object.values(withFile(written, 'mp3', mutagenTags)).join('\n');
    for (const value of ['Flow', 'Orla Venn', 'Tides', '1999', '7', 'Rock']) expect(foreign).toContain(value);
  });

  test('a tag of APE’s sort gives its texts to the new one', async () => {
    const bytes = concat([await demo(SONG), ape('Album', 'Tides')]);
    const written = await copied(bytes, SONG, 'mp3', { title: 'Flow' });
    expect((await read(written, SONG)).file.fields).toMatchObject({ title: 'Flow', album: 'Tides' });
  });

  test('an APE tag behind a full one does not keep a copy from being made', async () => {
    const bytes = concat([tag(3, 0, frame3('TIT2', latin('Ebb'))), await demo(SONG), ape('Title', 'Other')]);
    const written = await copied(bytes, SONG, 'mp3', { artist: ['Orla Venn'] });
    expect((await read(written, SONG)).file.fields).toMatchObject({ title: 'Ebb', artist: ['Orla Venn'] });
  });

  test('a frame of ID3v2.2 that would pass 16 MB is refused by name', async () => {
    const bytes = concat([
      tag(2, 0, concat([ascii('TT2'), Uint8Array.of(0, 0, 4), latin('Ebb')])),
      await demo(SONG),
    ]);
    const writer = await WRITABLE.get('mp3')?.load();
    const picture = { mime: 'image/jpeg', width: 1, height: 1, bytes: new Uint8Array(0x1000000) };
    await expect(
      writer?.rewrite(memorySource(bytes), { fields: {}, pictures: new Map([['front', picture]]) }),
    ).rejects.toMatchObject({
      code: 'tooLarge',
    });
  });
});

describe('values that only look like something else', () => {
  const VALUES: readonly Edits[] = [
    { show: 'https://slack.example/water' },
    { narrator: ['Ines / Dag; Maren'] },
    { description: 'a/b/c ; d' },
    { genre: ['17'] },
    { genre: ['(17)'] },
    { genre: ['0'] },
    { genre: ['(('] },
    { genre: ['(RX) and more; (4)'] },
    { artist: ['AC/DC; (2)'] },
    { title: '  blanks  ', album: '\ufeffmark' },
  ];
  const heads = [2, 3, 4].map(
    (version) =>
      [
        `ID3v2.${version}`,
        version === 2
          ? tag(2, 0, concat([ascii('TT2'), Uint8Array.of(0, 0, 4), latin('Ebb')]))
          : tag(version, 0, frame3('TIT2', latin('Ebb'))),
      ] as const,
  );
  describe.each(heads)('in %s', (_name, head) => {
    test.each(VALUES)('%j is written and read back', async (edits) => {
      await copied(concat([head, await demo(SONG)]), SONG, 'mp3', edits);
    });
  });
  test.each(VALUES)('%j in FLAC and MP4', async (edits) => {
    await copied(await demo(FLAC), FLAC, 'flac', edits);
    await copied(await demo(M4A), M4A, 'mp4', edits);
  });
});

test('a FLAC with an old short tag behind it is copied with its edits', async () => {
  const bytes = concat([await demo(FLAC), id3v1('Other', 'Other', 'Other', '1900', 1, 1)]);
  const written = await copied(bytes, FLAC, 'flac', { title: 'Flow' });
  expect((await read(written, FLAC)).file.fields).toMatchObject({ title: 'Flow', album: 'Salt Ledger' });
});

test('a FLAC’s second narrator is read', async () => {
  const written = await copied(await demo(FLAC), FLAC, 'flac', { narrator: ['Ines Marrable; Dag Holme'] });
  expect(
    Buffer.from(written)
      .toString('latin1')
      .match(/NARRATOR=/g),
  ).toHaveLength(2);
  expect((await read(written, FLAC)).file.fields.narrator).toEqual(['Ines Marrable', 'Dag Holme']);
});

test('MP4: a track number above 255, and a list of items closed by zeros', async () => {
  const bytes = await demo(M4A);
  const numbered = await copied(bytes, M4A, 'mp4', { track: 300, tracks: 999, disc: 256 });
  expect((await read(numbered, M4A)).file.fields).toMatchObject({ track: 300, tracks: 999, disc: 256 });
  const top = parseBoxes(bytes);
  const moov = findBox(top, 'moov');
  if (!moov) throw new Error('no moov');
  const children = parseBoxes(bytes, moov.content, moov.end).map((box) => {
    const raw = bytes.subarray(box.start, box.end);
    return box.type === 'udta' ? makeBox('udta', bytes.subarray(box.content, box.end), u32(0)) : raw;
  });
  const changed = makeBox('moov', ...children);
  // The samples move by four bytes, which is nothing to a reader of tags.
  const closed = concat([bytes.subarray(0, moov.start), changed, bytes.subarray(moov.end)]);
  const { title, album } = (await read(bytes, M4A)).file.fields;
  expect((await read(closed, M4A)).file.fields).toMatchObject({ title, album });
  expect((await read(await copied(closed, M4A, 'mp4', { title: 'Flow' }), M4A)).file.fields).toMatchObject({
    title: 'Flow',
    album,
  });
});

test('AIFF’s own texts are read', async () => {
  const path = 'Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff';
  const bytes = await demo(path);
  const chunk = (id: string, text: string) =>
    concat([ascii(id), u32(text.length), ascii(text), new Uint8Array(text.length % 2)]);
  const chunks: Uint8Array[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = new DataView(bytes.buffer, bytes.byteOffset).getUint32(at + 4);
    const id = Buffer.from(bytes.subarray(at, at + 4)).toString('latin1');
    const end = at + 8 + size + (size % 2);
    if (id === 'COMM' || id === 'SSND') chunks.push(bytes.subarray(at, end));
    at = end;
  }
  const body = concat([
    ascii('AIFF'),
    chunk('NAME', 'Cold'),
    chunk('AUTH', 'Halyard'),
    chunk('ANNO', 'by the quay'),
    ...chunks,
  ]);
  const {
    file: { fields },
  } = await read(concat([ascii('FORM'), u32(body.length), body]), path);
  expect(fields).toMatchObject({ title: 'Cold', artist: ['Halyard'], description: 'by the quay' });
});
