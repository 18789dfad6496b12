import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, keepsRange, memorySource } from '$lib/core/bytes';
import type { TrackEdit } from '$lib/core/items';
import { element, numberBytes, numberElement, sizeBytes, textElement, voidOf } from '../ebml';
import type { TagChanges } from '../format';
import { clusterRanges, readMatroskaFacts } from './facts';
import { ID } from './ids';
import { readSegment } from './segment';
import { readNative, rewrite } from './writer';

/** Long enough that tags which give way make room. */
const MAREN = 'Maren '.repeat(30).trim();

const track = (id: number, type: number, ...more: Uint8Array[]) =>
  element(ID.trackEntry, numberElement(ID.trackNumber, id), numberElement(ID.trackType, type), ...more);
const PARTS = {
  info: () => element(ID.info, numberElement(ID.timestampScale, 1_000_000), textElement(ID.title, 'Ebb')),
  tracks: () =>
    element(
      ID.tracks,
      track(1, 1, element(ID.codec, ascii('V_VP9'))),
      track(2, 2, textElement(ID.trackName, 'Old'), element(ID.language, ascii('nob'))),
      track(3, 2),
    ),
  tags: () =>
    element(
      ID.tags,
      element(
        ID.tag,
        element(ID.targets),
        element(ID.simpleTag, textElement(ID.tagName, 'ARTIST'), textElement(ID.tagString, MAREN)),
      ),
    ),
  room: (length: number) => voidOf(length),
} as const;

/** A file whose seek head says where each part lies, with room behind it for as many entries more. */
function file(parts: readonly Uint8Array[], seekRoom = 0): Uint8Array {
  const seekIds = [ID.info, ID.tracks, ID.tags];
  const headOf = (positions: ReadonlyMap<number, number>) =>
    element(
      ID.seekHead,
      ...seekIds.map((id) =>
        element(
          ID.seek,
          element(ID.seekId, numberBytes(id)),
          // Two bytes each, so that where they point does not depend on what they say.
          element(
            ID.seekPosition,
            Uint8Array.of((positions.get(id) ?? 0) >> 8, (positions.get(id) ?? 0) & 0xff),
          ),
        ),
      ),
    );
  const room = seekRoom > 0 ? [voidOf(seekRoom)] : [];
  const positions = new Map<number, number>();
  let at = concat([headOf(positions), ...room]).length;
  for (const part of parts) {
    for (const id of seekIds)
      if (
        Buffer.from(part)
          .subarray(0, 4)
          .equals(Buffer.from(numberBytes(id)))
      )
        positions.set(id, at);
    at += part.length;
  }
  const clusters = [1, 2].map((byte) => element(ID.cluster, element(0xa3, new Uint8Array(300).fill(byte))));
  const body = concat([headOf(positions), ...room, ...parts, ...clusters]);
  const header = element(ID.ebml, textElement(ID.docType, 'matroska'));
  return concat([header, numberBytes(ID.segment), sizeBytes(body.length, 8), body]);
}

async function write(bytes: Uint8Array, changes: Partial<TagChanges>): Promise<Uint8Array> {
  const source = memorySource(bytes);
  const { spans, payload } = await rewrite(source, { fields: {}, ...changes });
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(source, spans);
}

const clusters = async (bytes: Uint8Array) => {
  const out: string[] = [];
  for await (const { start, end } of clusterRanges(memorySource(bytes))) out.push(`${start}-${end}`);
  return out;
};

/** All that it says, where tracks stand before its sound; no cluster moved. */
async function said(written: Uint8Array, before: Uint8Array) {
  expect(await clusters(written)).toEqual(await clusters(before));
  const { head, elements, seeks, segment } = await readSegment(memorySource(written));
  const own = elements.get(ID.tracks);
  expect(head).toContain(own);
  expect(seeks.find(({ id }) => id === ID.tracks)?.position).toBe((own?.start ?? 0) - segment.content);
  const { tracks, title, tags } = await readMatroskaFacts(memorySource(written));
  return {
    tracks: tracks.map(({ id, name, language }) => [id, name, language]),
    title,
    tags: tags.map(({ name, value }) => `${name} ${value}`),
  };
}

const EDITS: readonly TrackEdit[] = [
  { id: 2, name: 'The keeper remarks, at length and twice over', language: 'en' },
  { id: 3, language: null },
];
const AFTER = {
  tracks: [
    [1, '', 'eng'],
    [2, 'The keeper remarks, at length and twice over', 'en'],
    [3, '', null],
  ],
  title: 'Ebb',
  tags: [`ARTIST ${MAREN}`],
};

describe('names and languages of tracks', () => {
  const { info, tracks, tags, room } = PARTS;
  test.each([
    ['with room behind them', file([info(), tracks(), room(200), tags()])],
    ['with room before them', file([room(300), info(), tracks(), tags()])],
    ['with a little room behind the seek head', file([room(140), info(), tracks(), tags(), room(20)])],
    ['with tags behind them, which give way', file([info(), tracks(), tags()], 60)],
    ['first of all', file([tracks(), info(), tags()], 60)],
  ])('are written %s', async (_, bytes) => {
    const written = await write(bytes, { tracks: EDITS });
    expect(await said(written, bytes)).toEqual(AFTER);
    const native = await readNative(memorySource(written));
    expect(native?.tracks?.[1]).toMatchObject({ name: AFTER.tracks[1]?.[1], language: 'en' });
    // Said again, nothing moves any more.
    expect(await said(await write(written, { tracks: EDITS }), bytes)).toEqual(AFTER);
  });

  test('are refused where what holds them is not all elements: a wrong size may take the sound in', async () => {
    const own = concat([track(1, 1), track(2, 2), track(3, 2)]);
    const broken = concat([own, Uint8Array.of(0, 0, 0)]);
    const refused = write(file([info(), element(ID.tracks, broken), tags()], 60), { tracks: EDITS });
    await expect(refused).rejects.toMatchObject({ code: 'damaged' });
    await write(file([info(), element(ID.tracks, own), tags()], 60), { tracks: EDITS });
  });

  test('go along with other changes', async () => {
    const bytes = file([info(), tracks(), tags()], 60);
    const written = await write(bytes, {
      tracks: EDITS,
      fields: { title: 'Flood', artist: ['Orla', 'Dag'] },
    });
    const { title, tags: all, tracks: own } = await said(written, bytes);
    expect(own).toEqual(AFTER.tracks);
    expect(title).toBe('Flood');
    expect(all.filter((one) => one.startsWith('ARTIST'))).toEqual(['ARTIST Orla', 'ARTIST Dag']);
  });

  test('are refused where there is no room before the sound', async () => {
    await expect(write(file([info(), tracks()]), { tracks: EDITS })).rejects.toMatchObject({
      code: 'tooLarge',
    });
  });

  test('need no seek head where all stays before the sound', async () => {
    const clusterBytes = element(ID.cluster, element(0xa3, new Uint8Array(300).fill(1)));
    const body = concat([info(), tracks(), tags(), room(100), clusterBytes]);
    const header = element(ID.ebml, textElement(ID.docType, 'matroska'));
    const bytes = concat([header, numberBytes(ID.segment), sizeBytes(body.length, 8), body]);
    const written = await write(bytes, { tracks: EDITS });
    expect(await clusters(written)).toEqual(await clusters(bytes));
    const { tracks: own, tags: all } = await readMatroskaFacts(memorySource(written));
    expect(own.map(({ id, name, language }) => [id, name, language])).toEqual(AFTER.tracks);
    expect(all).toHaveLength(1);
  });

  test('are taken away', async () => {
    const bytes = file([info(), tracks(), room(40), tags()]);
    const { tracks: own } = await said(await write(bytes, { tracks: [{ id: 2, name: '' }] }), bytes);
    expect(own[1]).toEqual([2, '', 'nob']);
  });

  test.each([
    ['en', 'en'],
    ['pt-BR', 'pt-BR'],
    ['gd', 'gd'],
    ['nob', 'nob'],
    ['x-kelp', 'x-kelp'],
    [null, null],
  ])('the language %s is read back', async (language, back) => {
    const bytes = file([info(), tracks(), room(200), tags()]);
    const { tracks: own } = await said(await write(bytes, { tracks: [{ id: 3, language }] }), bytes);
    expect(own[2]).toEqual([3, '', back]);
  });

  test('whatever is said, all of the rest stays', async () => {
    const edit = fc.record(
      {
        id: fc.constantFrom(1, 2, 3),
        name: fc.string({ unit: 'grapheme', maxLength: 80 }).map((text) => text.replaceAll('\0', '').trim()),
        language: fc.option(fc.constantFrom('en', 'nob', 'pt-BR')),
      },
      { requiredKeys: ['id'] },
    );
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(edit, { selector: ({ id }) => id, maxLength: 3 }),
        fc.nat(400),
        fc.nat(400),
        async (edits, before, behind) => {
          const bytes = file([room(before + 2), info(), tracks(), room(behind + 2), tags()], 30);
          const written = await write(bytes, { tracks: edits }).catch(() => null);
          // Without enough room before the sound it is refused.
          if (!written) return;
          const { tracks: own, title, tags: all } = await said(written, bytes);
          expect([title, all]).toEqual([AFTER.title, AFTER.tags]);
          for (const { id, name, language } of edits) {
            if (name !== undefined) expect(own[id - 1]?.[1]).toBe(name);
            if (language !== undefined) expect(own[id - 1]?.[2]).toBe(language);
          }
        },
      ),
      { seed: 11, numRuns: 500 },
    );
  });
});
