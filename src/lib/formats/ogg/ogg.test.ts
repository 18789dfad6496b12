import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, keepsRange, memorySource, readU32le, u32le } from '$lib/core/bytes';
import { parseVorbisComment, vorbisCommentBytes } from '../vorbis-comment';
import { crcBeforeZeros, crcOf } from './crc';
import { headerPages, readPage } from './pages';
import { readNative, rewrite } from './writer';

const SERIAL = 77;

/** A page with this body, which holds whole packets alone. */
function page(sequence: number, packets: readonly Uint8Array[], serial = SERIAL, flags = 0): Uint8Array {
  const [made] = headerPages(packets, serial, sequence, 1);
  const bytes = (made as Uint8Array).slice();
  bytes[5] = flags;
  return closed(bytes);
}

/** With the checksum that it is to have. */
function closed(bytes: Uint8Array): Uint8Array {
  bytes.set(u32le(0), 22);
  bytes.set(u32le(crcOf(bytes)), 22);
  return bytes;
}

const HEAD = concat([ascii('OpusHead'), new Uint8Array(11).fill(1)]);
const tags = (tail = new Uint8Array(0), ...entries: string[]) =>
  concat([
    ascii('OpusTags'),
    vorbisCommentBytes({
      vendor: ascii('somebody'),
      entries: entries.map((one) => new TextEncoder().encode(one)),
    }),
    tail,
  ]);
const sound = (index: number) => new Uint8Array(400 + index).fill(index);
const opus = (comments = tags(), sounds = 5) =>
  concat([
    page(0, [HEAD], SERIAL, 2),
    page(1, [comments]),
    ...Array.from({ length: sounds }, (_, index) =>
      page(2 + index, [sound(index)], SERIAL, index === 4 ? 4 : 0),
    ),
  ]);

/** Every page of a file: its stream, its number, and whether its checksum holds. */
async function pagesOf(bytes: Uint8Array) {
  const source = memorySource(bytes);
  const pages: { serial: number; sequence: number; isWhole: boolean; body: Uint8Array }[] = [];
  for (let at = 0; at < bytes.length;) {
    const one = await readPage(source, at);
    if (!one) throw new Error(`no page at ${at}`);
    const copy = bytes.slice(at, one.end);
    const said = readU32le(copy, 22);
    closed(copy);
    pages.push({
      serial: one.serial,
      sequence: one.sequence,
      isWhole: readU32le(copy, 22) === said,
      body: bytes.slice(one.body, one.end),
    });
    at = one.end;
  }
  return pages;
}

async function write(file: Uint8Array, changes: Parameters<typeof rewrite>[1]) {
  const source = memorySource(file);
  const { spans, payload } = await rewrite(source, changes);
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(source, spans);
}

describe('checksums', () => {
  test('the one of a standard page holds', () => {
    // Of nine digits, by the polynomial, from zero, nothing reflected or turned.
    expect(crcOf(ascii('123456789'))).toBe(0x89a1897f);
  });
  test('what zeros do to one is told without going over them', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 40 }), fc.nat(70_000), (bytes, zeros) => {
        expect(crcBeforeZeros(crcOf(bytes), zeros)).toBe(crcOf(new Uint8Array(zeros), crcOf(bytes)));
      }),
      { seed: 3, numRuns: 60 },
    );
  });
});

describe('pages', () => {
  test('a small change leaves the pages behind it as they were', async () => {
    const file = opus(tags(undefined, 'TITLE=Old'));
    const written = await write(file, { fields: { title: 'A title that is longer than the one before it' } });
    const [before, after] = [await pagesOf(file), await pagesOf(written)];
    expect(after.every(({ isWhole }) => isWhole)).toBe(true);
    expect(after.slice(2)).toEqual(before.slice(2));
  });

  test('with more pages in front all others are counted anew, and keep their bodies', async () => {
    const lyrics = 'Haul away. '.repeat(20_000);
    const file = opus();
    const written = await write(file, { fields: { lyrics } });
    const pages = await pagesOf(written);
    expect(pages.map(({ sequence }) => sequence)).toEqual(pages.map((_, index) => index));
    expect(pages.every(({ isWhole }) => isWhole)).toBe(true);
    expect(pages.slice(-5).map(({ body }) => body)).toEqual([0, 1, 2, 3, 4].map(sound));
    expect((await readNative(memorySource(written)))?.fields.lyrics).toBe(lyrics);
    const back = await write(written, { fields: { lyrics: null } });
    expect(Buffer.from(back).equals(Buffer.from(await write(file, { fields: {} })))).toBe(true);
  });

  test('any packets lie in as many pages as asked for, where they can', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.nat(1200).map((size) => new Uint8Array(size)),
          { minLength: 1, maxLength: 4 },
        ),
        fc.nat(12),
        (packets, wanted) => {
          const segments = packets.reduce((sum, { length }) => sum + Math.floor(length / 255) + 1, 0);
          const pages = headerPages(packets, 1, 1, wanted);
          expect(pages.length).toBe(wanted >= 1 && wanted <= segments ? wanted : Math.ceil(segments / 255));
          const lacing = pages.reduce((sum, one) => sum + (one[26] as number), 0);
          expect(lacing).toBe(segments);
        },
      ),
      { seed: 4 },
    );
  });

  test('another stream behind the first stays as it is', async () => {
    const second = concat([page(0, [HEAD], 99, 2), page(1, [tags()], 99), page(2, [sound(1)], 99, 4)]);
    const written = await write(concat([opus(), second]), { fields: { lyrics: 'x'.repeat(90_000) } });
    expect(Buffer.from(written.subarray(-second.length)).equals(Buffer.from(second))).toBe(true);
  });

  test('streams that begin together, sound on a header page and pages that break off are refused', async () => {
    const mixed = concat([page(0, [HEAD], SERIAL, 2), page(0, [HEAD], 99, 2), page(1, [tags()])]);
    await expect(write(mixed, { fields: {} })).rejects.toMatchObject({ code: 'damaged' });
    const shared = concat([page(0, [HEAD], SERIAL, 2), page(1, [tags(), sound(1)]), page(2, [sound(2)])]);
    await expect(write(shared, { fields: { title: 'x' } })).rejects.toMatchObject({ code: 'damaged' });
    const torn = concat([opus(), ascii('no page at all')]);
    await expect(write(torn, { fields: { lyrics: 'x'.repeat(90_000) } })).rejects.toMatchObject({
      code: 'damaged',
    });
    // Nothing behind the comments moves: nobody has to know what it is.
    const same = await write(torn, { fields: { title: 'x' } });
    expect(new TextDecoder().decode(same.subarray(-14))).toBe('no page at all');
  });
});

describe('what stands behind the comments of Opus', () => {
  const bodyOf = async (file: Uint8Array) =>
    (await pagesOf(await write(file, { fields: { title: 'x' } })))[1]?.body;
  test('stays where its lowest bit says so, and goes where it is mere room', async () => {
    const tail = Uint8Array.of(3, 9, 9);
    expect((await bodyOf(opus(tags(tail))))?.slice(-3)).toEqual(tail);
    const body = (await bodyOf(opus(tags(new Uint8Array(300))))) as Uint8Array;
    expect(vorbisCommentBytes(parseVorbisComment(body.subarray(8)))).toEqual(body.slice(8));
  });
});
