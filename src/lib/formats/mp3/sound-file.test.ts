import { readAscii, readU16, readU32 } from '$lib/core/bytes';
import { expect, test } from 'vitest';
import { MemorySink } from '../../../../tests/helpers/memory-sink';
import { readFrameHeader } from './frames';
import { Mp3File } from './sound-file';

/** A frame of MPEG-1 Layer III at 44,100 Hz, of silence. @param index of its bit rate */
function frame(index: number): Uint8Array<ArrayBuffer> {
  const head = Uint8Array.of(0xff, 0xfb, index << 4, 0x44);
  const bytes = new Uint8Array(readFrameHeader(head, 0)!.bytes);
  bytes.set(head);
  return bytes;
}

/** Where in the file each hundredth of the sound begins, of 256 parts, as the header says it. */
const placesIn = (bytes: Uint8Array) => bytes.subarray(36 + 16, 36 + 116);

test.each([40, 20_000])(
  'a variable rate says of %i frames where each part of the sound begins',
  async (count) => {
    const sink = new MemorySink();
    const file = new Mp3File(sink, true);
    // Twice as many bits in the second half.
    for (let index = 0; index < count; index++) await file.add(frame(index < count / 2 ? 5 : 9));
    const size = await file.finish(count * 1152 - 1105);
    const { bytes } = sink;
    expect(readAscii(bytes, 36, 4)).toBe('Xing');
    expect([readU32(bytes, 44), readU32(bytes, 48)]).toEqual([count, size]);
    const places = placesIn(bytes);
    expect([...places]).toEqual([...places].sort((a, b) => a - b));
    // A third of all bytes lies in the first half, about: the rates are 64 and 128 kbit/s.
    expect(places[50]! / 256).toBeCloseTo(1 / 3, count > 100 ? 2 : 1);
    expect(places[75]! / 256).toBeCloseTo(2 / 3, count > 100 ? 2 : 1);
    // The encoder's delay, and what fills the last frame.
    const [before, behind] = [readU16(bytes, 36 + 141) >> 4, readU16(bytes, 36 + 142) & 0xfff];
    expect([before, behind]).toEqual([576, 529]);
  },
);

test('one rate throughout is told as that', async () => {
  const sink = new MemorySink();
  const file = new Mp3File(sink);
  for (let index = 0; index < 300; index++) await file.add(frame(9));
  await file.finish(300 * 1152 - 576);
  expect(readAscii(sink.bytes, 36, 4)).toBe('Info');
  expect(placesIn(sink.bytes)[50]! / 256).toBeCloseTo(0.5, 1);
  expect(sink.bytes[36 + 140]).toBe(128);
});
