import { concat } from '../../src/lib/core/bytes';

/** A copy of a file with some damage: bytes turned, runs zeroed, filled, moved, cut out or put in twice, sizes made huge. */
export function mutate(bytes: Uint8Array, random: () => number): Uint8Array {
  let out: Uint8Array = bytes.slice();
  const times = 1 + Math.floor(random() * 3);
  for (let index = 0; index < times; index++) out = damage(out, random);
  return out;
}

function damage(bytes: Uint8Array, random: () => number): Uint8Array {
  // Most of what a reader looks at stands at the front, some at the end.
  const near = random();
  const reach = near < 0.6 ? Math.min(bytes.length, 4096) : bytes.length;
  const at =
    near > 0.9
      ? bytes.length - 1 - Math.floor(random() * Math.min(4096, bytes.length))
      : Math.floor(random() * reach);
  const length = 1 + Math.floor(random() ** 3 * 512);
  const end = Math.min(bytes.length, at + length);
  switch (Math.floor(random() * 8)) {
    case 0:
      bytes[at] = Math.floor(random() * 256);
      return bytes;
    case 1:
      bytes[at] = (bytes[at] ?? 0) ^ (1 << Math.floor(random() * 8));
      return bytes;
    case 2:
      bytes.fill(0, at, end);
      return bytes;
    case 3:
      bytes.fill(0xff, at, Math.min(end, at + 8));
      return bytes;
    case 4:
      return concat([bytes.subarray(0, at), bytes.subarray(end)]);
    case 5:
      return bytes.slice(0, Math.max(1, at));
    case 6:
      bytes.copyWithin(at, Math.floor(random() * bytes.length), Math.floor(random() * bytes.length));
      return bytes;
    default: {
      const joined = new Uint8Array(bytes.length + end - at);
      joined.set(bytes.subarray(0, end));
      joined.set(bytes.subarray(at), end);
      return joined;
    }
  }
}
