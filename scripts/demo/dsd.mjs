// DSD files of made-up sound, which no program of Debian's writes.

/** Hertz of the bits. */
const DSD64 = 2_822_400;

/**
 * Bits of one channel, the first in time highest: a modulator of the second order.
 * @param {(seconds: number) => number} sound between -0.5 and 0.5
 * @param {number} seconds
 */
export function modulate(sound, seconds) {
  const bytes = new Uint8Array(Math.floor((seconds * DSD64) / 8));
  let [first, second] = [0, 0];
  for (let at = 0; at < bytes.length * 8; at++) {
    const pushed = second >= 0 ? 1 : -1;
    first += sound(at / DSD64) - pushed;
    second += first - 2 * pushed;
    if (pushed > 0) bytes[at >> 3] |= 128 >> (at & 7);
  }
  return bytes;
}

/** @param {bigint | number} value @param {boolean} little */
const u64 = (value, little) => {
  const bytes = new Uint8Array(8);
  new DataView(bytes.buffer).setBigUint64(0, BigInt(value), little);
  return bytes;
};
/** @param {number} value @param {boolean} little */
const u32 = (value, little) => {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setUint32(0, value, little);
  return bytes;
};
/** @param {string} text */
const ascii = (text) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
/** @param {readonly Uint8Array[]} parts */
const concat = (parts) => {
  const all = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
};

/** @param {number} byte */
const reversed = (byte) => {
  let out = 0;
  for (let bit = 0; bit < 8; bit++) if (byte & (1 << bit)) out |= 128 >> bit;
  return out;
};

/**
 * A DSF (DSF File Format Specification 1.01).
 * @param {readonly Uint8Array[]} channels as `modulate` gives them
 * @param {Uint8Array} tag of ID3v2
 */
export function dsfFile(channels, tag = new Uint8Array(0)) {
  const block = 4096;
  const length = channels[0]?.length ?? 0;
  const blocks = Math.ceil(length / block);
  const data = new Uint8Array(blocks * block * channels.length);
  channels.forEach((bytes, channel) => {
    for (let at = 0; at < length; at++) {
      const of = Math.floor(at / block);
      data[(of * channels.length + channel) * block + (at % block)] = reversed(bytes[at] ?? 0);
    }
  });
  const format = concat([
    ...[ascii('fmt '), u64(52, true), u32(1, true), u32(0, true), u32(channels.length, true)],
    ...[u32(channels.length, true), u32(DSD64, true), u32(1, true)],
    ...[u64(length * 8, true), u32(block, true), u32(0, true)],
  ]);
  const end = 28 + 52 + 12 + data.length;
  return concat([
    ...[ascii('DSD '), u64(28, true), u64(end + tag.length, true), u64(tag.length > 0 ? end : 0, true)],
    ...[format, ascii('data'), u64(12 + data.length, true), data, tag],
  ]);
}

/**
 * A DFF (DSDIFF File Format Specification 1.5).
 * @param {readonly Uint8Array[]} channels as `modulate` gives them
 * @param {Uint8Array} tag of ID3v2
 */
export function dffFile(channels, tag = new Uint8Array(0)) {
  /** @param {string} id @param {readonly Uint8Array[]} content */
  const chunk = (id, ...content) => {
    const bytes = concat(content);
    return concat([ascii(id), u64(bytes.length, false), bytes, new Uint8Array(bytes.length % 2)]);
  };
  const length = channels[0]?.length ?? 0;
  const data = new Uint8Array(length * channels.length);
  channels.forEach((bytes, channel) => {
    for (let at = 0; at < length; at++) data[at * channels.length + channel] = bytes[at] ?? 0;
  });
  const names = channels.length === 1 ? ['C   '] : ['SLFT', 'SRGT'];
  const packing = 'not compressed';
  const body = concat([
    ascii('DSD '),
    chunk('FVER', Uint8Array.of(1, 5, 0, 0)),
    chunk(
      'PROP',
      ascii('SND '),
      chunk('FS  ', u32(DSD64, false)),
      chunk('CHNL', Uint8Array.of(0, channels.length), ...names.map(ascii)),
      chunk('CMPR', ascii('DSD '), Uint8Array.of(packing.length), ascii(packing)),
    ),
    chunk('DSD ', data),
    ...(tag.length > 0 ? [chunk('ID3 ', tag)] : []),
  ]);
  return concat([ascii('FRM8'), u64(body.length, false), body]);
}

/**
 * A tag of ID3v2.3 with these texts (id3.org, ID3v2.3.0).
 * @param {Readonly<Record<string, string>>} texts by the names of their frames
 */
export function id3Tag(texts) {
  const frames = concat(
    Object.entries(texts).map(([name, text]) =>
      concat([ascii(name), u32(text.length + 1, false), new Uint8Array(3), ascii(text)]),
    ),
  );
  const size = Uint8Array.of(0, 0, frames.length >> 7, frames.length & 127);
  return concat([ascii('ID3'), Uint8Array.of(3, 0, 0), size, frames]);
}
