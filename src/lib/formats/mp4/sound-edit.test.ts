import { ascii, concat, memorySource, u32 } from '$lib/core/bytes';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findPath, makeBox, parseBoxes } from './boxes';
import { readSoundSpan, writeSoundSpans } from './sound-edit';

const TIMESCALE = 57_600;
const zeros = (count: number) => new Uint8Array(count);
const time = (isLong: boolean, value: number) => (isLong ? concat([u32(0), u32(value)]) : u32(value));

/** A movie of one sound that says of itself what an encoder's packets last. */
function movie(isLong: boolean, late: number, lasts: number, primed: number): Uint8Array {
  const version = Uint8Array.of(isLong ? 1 : 0, 0, 0, 0);
  const wide = isLong ? 8 : 4;
  const head = (before: number) => concat([version, zeros(before)]);
  const rate = Uint8Array.of(0, 1, 0, 0);
  const edit = (duration: number, media: Uint8Array) => concat([time(isLong, duration), media, rate]);
  const nothing = new Uint8Array(wide).fill(255);
  const edits = [
    ...(late > 0 ? [edit(late * TIMESCALE, nothing)] : []),
    edit(lasts * TIMESCALE, time(isLong, late > 0 ? 0 : primed)),
  ];
  return makeBox(
    'moov',
    makeBox('mvhd', head(wide * 2), u32(TIMESCALE), time(isLong, lasts * TIMESCALE), zeros(80)),
    makeBox(
      'trak',
      makeBox('tkhd', head(wide * 2 + 8), time(isLong, lasts * TIMESCALE), zeros(60)),
      makeBox('edts', makeBox('elst', version, u32(edits.length), ...edits)),
      makeBox(
        'mdia',
        makeBox('mdhd', head(wide * 2), u32(8000), time(isLong, 0), zeros(4)),
        makeBox('hdlr', zeros(8), ascii('soun'), zeros(12)),
      ),
    ),
  );
}

const file = (moov: Uint8Array) => memorySource(concat([makeBox('ftyp', ascii('isom'), zeros(4)), moov]));

describe('when a sound plays', () => {
  it('is read back as it was written, with times of 32 and of 64 bits, from the beginning on or later', async () => {
    const tenths = fc.integer({ min: 2, max: 36_000 }).map((value) => value / 10);
    await fc.assert(
      fc.asyncProperty(fc.boolean(), fc.boolean(), tenths, tenths, async (isLong, isLate, start, lasts) => {
        const span = { start: isLate ? start : 0, end: (isLate ? start : 0) + lasts };
        const moov = movie(isLong, isLate ? start - 0.128 : 0, lasts + 0.3, 1024);
        writeSoundSpans(moov, [span]);
        const read = await readSoundSpan(file(moov));
        expect(read?.start).toBeCloseTo(span.start, 4);
        expect(read?.end).toBeCloseTo(span.end, 4);
        const [whole] = parseBoxes(moov);
        const list = findPath(moov, whole!, 'trak', 'edts', 'elst')!;
        // What the encoder put before it is 1,024 samples either way.
        expect([...moov.subarray(list.end - 8, list.end)]).toEqual([0, 0, 4, 0, 0, 1, 0, 0]);
      }),
    );
  });

  it('is not told of a sound that nothing was said of, and changes nothing there', async () => {
    const moov = movie(false, 0, 3, 0);
    const before = moov.slice();
    writeSoundSpans(moov, []);
    expect(moov).toEqual(before);
    expect(await readSoundSpan(file(moov))).toEqual({ start: 0, end: 3 });
  });
});
