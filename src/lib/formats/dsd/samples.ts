import type { ByteSource } from '$lib/core/bytes';
import { DsdDecimator, decimationOf } from '$lib/core/sound';
import { FormatError } from '../format';

/** How samples of one bit are written. */
export interface DsdSound {
  readonly channels: number;
  /** Hertz of its bits. */
  readonly sampleRate: number;
  /** Bits of each channel. */
  readonly samples: number;
  /** Bytes of a channel that lie together, before those of the next. */
  readonly block: number;
  /** Of a byte, the lowest bit is the first in time. */
  readonly lowestFirst: boolean;
  /** Where the samples lie. */
  readonly start: number;
  readonly end: number;
}

/** Bytes of each channel that are read at once. */
const AT_ONCE = 131_072;

/**
 * The sound in samples between -1 and 1, some at a time, at the rate that `decimationOf` tells of.
 * @throws {FormatError} where DSD has no such rate
 */
export async function* dsdSamples(
  source: ByteSource,
  sound: DsdSound,
): AsyncGenerator<readonly Float32Array[]> {
  const { channels, sampleRate, block, lowestFirst, start, end } = sound;
  const decimation = decimationOf(sampleRate);
  if (!decimation) throw new FormatError('notThisFormat', `DSD of ${sampleRate} Hz is not read here`);
  const decimators = Array.from(
    { length: channels },
    () => new DsdDecimator(sampleRate, decimation.by, lowestFirst),
  );
  const frame = block * channels;
  const atOnce = Math.max(1, Math.floor(AT_ONCE / block)) * frame;
  // The last block is filled up with what is no sound.
  let left = Math.ceil(sound.samples / 8);
  for (let at = start; at < Math.min(end, source.size) && left > 0; at += atOnce) {
    const bytes = await source.read(at, Math.min(end, source.size, at + atOnce));
    const count = Math.min(left, Math.floor(bytes.length / frame) * block);
    if (count === 0) break;
    left -= count;
    yield decimators.map((one, channel) => one.feed(ofChannel(bytes, channel, count, sound)));
  }
  yield decimators.map((one) => one.end());
}

function ofChannel(
  bytes: Uint8Array,
  channel: number,
  count: number,
  { channels, block }: DsdSound,
): Uint8Array {
  const own = new Uint8Array(count);
  if (block === 1) {
    for (let at = 0, from = channel; at < count; at++, from += channels) own[at] = bytes[from]!;
    return own;
  }
  for (let at = 0; at < count; at += block) {
    const from = at * channels + channel * block;
    own.set(bytes.subarray(from, from + Math.min(block, count - at)), at);
  }
  return own;
}
