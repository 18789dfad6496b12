import { expect, test } from 'vitest';
import { u16, u32 } from '$lib/core/bytes';
import { makeBox } from './boxes';
import { soundOf } from './sound-entry';

/** An entry that says two channels of 22,050 Hz, with these boxes in it. */
const entry = (version: number, ...boxes: readonly Uint8Array[]) =>
  makeBox(
    'mp4a',
    new Uint8Array(8),
    u16(version),
    new Uint8Array(6),
    u16(2),
    u16(16),
    new Uint8Array(4),
    u16(22_050),
    u16(0),
    new Uint8Array([0, 16, 36][version] ?? 0),
    ...boxes,
  );

/** A descriptor of a stream of this kind, its lengths in one byte, or in four as some programs write them. */
function descriptors(kind: number, config: readonly number[], flags: readonly number[], wide = false) {
  const sized = (tag: number, content: readonly number[]) =>
    wide ? [tag, 0x80, 0x80, 0x80, content.length, ...content] : [tag, content.length, ...content];
  const zeros = Array.from({ length: 12 }, () => 0);
  const decoder = sized(4, [kind, ...zeros, ...sized(5, config)]);
  return makeBox('esds', u32(0), Uint8Array.from(sized(3, [0, 1, ...flags, ...decoder])));
}

/** Bits as bytes, filled up with zeros. */
const bytesOf = (bits: string) =>
  (bits.replaceAll(' ', '').match(/.{1,8}/g) ?? []).map((byte) => Number.parseInt(byte.padEnd(8, '0'), 2));

test.each([
  ['one channel', '00010 0111 0001', { channels: 1, sampleRate: 22_050 }],
  [
    'a rate of its own',
    `00010 1111 ${(37_800).toString(2).padStart(24, '0')} 0010`,
    { channels: 2, sampleRate: 37_800 },
  ],
  ['a later object', '11111 000101 0011 0111', { channels: 8, sampleRate: 48_000 }],
  ['more samples by its bands', '00101 0111 0010 0100 00010', { channels: 2, sampleRate: 44_100 }],
  ['stereo out of one channel', '11101 0111 0001 0100 00010', { channels: 2, sampleRate: 44_100 }],
  ['channels that stand elsewhere', '00010 0111 0000', { channels: 2, sampleRate: 22_050 }],
])('AAC: %s', (_, bits, wanted) => {
  for (const box of [
    descriptors(0x40, bytesOf(bits), [0]),
    descriptors(0x67, bytesOf(bits), [0xe0, 9, 9, 2, 65, 66, 9, 9], true),
  ]) {
    expect(soundOf(entry(0, box), 0)).toEqual(wanted);
    expect(soundOf(entry(1, makeBox('wave', makeBox('frma', u32(0)), box)), 0)).toEqual(wanted);
    expect(soundOf(entry(2, box), 0)).toEqual(wanted);
  }
});

test('what says nothing to understand leaves what the entry says', () => {
  const own = { channels: 2, sampleRate: 22_050 };
  expect(soundOf(entry(0), 0)).toEqual(own);
  // MPEG-1 layer III in MP4.
  expect(soundOf(entry(0, descriptors(0x6b, [0x12, 0x08], [0])), 0)).toEqual(own);
  for (const type of ['esds', 'alac', 'dOps', 'dfLa', 'dac3', 'dec3'])
    expect(soundOf(entry(0, makeBox(type)), 0)).toEqual(own);
});
