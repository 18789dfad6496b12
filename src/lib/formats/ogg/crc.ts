/** The checksum of Ogg's pages (RFC 3533, section 6): polynomial 0x04c11db7, from zero, nothing reflected or turned. */
const POLYNOMIAL = 0x04c11db7;

const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let crc = byte << 24;
  for (let bit = 0; bit < 8; bit++) crc = crc & 0x80000000 ? (crc << 1) ^ POLYNOMIAL : crc << 1;
  return crc;
});

/** @param crc of what came before */
export function crcOf(bytes: Uint8Array, crc = 0): number {
  for (const byte of bytes) crc = (crc << 8) ^ (TABLE[(crc >>> 24) ^ byte] as number);
  return crc >>> 0;
}

/** The value of each bit of a checksum when 2^n zeros of one byte each follow, for n from 0 on. */
const ZEROS: Uint32Array[] = [];

function zerosOf(power: number): Uint32Array {
  for (let at = ZEROS.length; at <= power; at++) {
    const half = ZEROS[at - 1];
    ZEROS.push(
      Uint32Array.from({ length: 32 }, (_, bit) =>
        half ? apply(half, apply(half, 1 << bit)) : crcOf(Uint8Array.of(0), (1 << bit) >>> 0),
      ),
    );
  }
  return ZEROS[power] as Uint32Array;
}

function apply(matrix: Uint32Array, crc: number): number {
  let out = 0;
  for (let bit = 0; bit < 32; bit++) if ((crc >>> bit) & 1) out ^= matrix[bit] as number;
  return out >>> 0;
}

/** The checksum once so many bytes of zero follow: what a change in a page does to its checksum, without reading the page. */
export function crcBeforeZeros(crc: number, count: number): number {
  let out = crc;
  for (let power = 0, left = count; left > 0; power++, left = Math.floor(left / 2))
    if (left % 2 === 1) out = apply(zerosOf(power), out);
  return out;
}
