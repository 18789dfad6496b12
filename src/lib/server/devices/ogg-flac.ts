import { open } from 'node:fs/promises';

/** Bytes in which the comments of such a file are looked for. */
const MOST_BYTES = 16 * 1024 * 1024;
/** What stands before the first block of FLAC: the mapping's header and the mark (RFC 9639, section 10.1). */
const BEFORE_BLOCKS = 13;

/**
 * The blocks of a FLAC stream in Ogg as a file of FLAC alone would begin, for a parser that knows that; null for any other
 * file. No sound is taken along.
 */
export async function flacHeadOf(full: string): Promise<Buffer | null> {
  const file = await open(full);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(64), 0, 64, 0);
    if (bytesRead < 64 || buffer.toString('latin1', 0, 4) !== 'OggS') return null;
    if (buffer.toString('latin1', 28, 33) !== '\x7fFLAC') return null;
    const { size } = await file.stat();
    const length = Math.min(size, MOST_BYTES);
    const all = (await file.read(Buffer.alloc(length), 0, length, 0)).buffer;
    const [first, comments] = firstPackets(all, 2);
    if (!first || !comments) return null;
    const info = Buffer.from(first.subarray(BEFORE_BLOCKS));
    info[0] = (info[0] ?? 0) & 0x7f;
    const last = Buffer.from(comments);
    last[0] = (last[0] ?? 0) | 0x80;
    return Buffer.concat([Buffer.from('fLaC'), info, last]);
  } finally {
    await file.close();
  }
}

/** The first packets of a stream, put together from its pages. */
function firstPackets(all: Buffer, count: number): Buffer[] {
  const packets: Buffer[] = [];
  let pieces: Buffer[] = [];
  for (let at = 0; packets.length < count && all.toString('latin1', at, at + 4) === 'OggS';) {
    const segments = all[at + 26] ?? 0;
    let body = at + 27 + segments;
    for (const size of all.subarray(at + 27, at + 27 + segments)) {
      pieces.push(all.subarray(body, body + size));
      body += size;
      if (size === 255) continue;
      packets.push(Buffer.concat(pieces));
      pieces = [];
    }
    at = body;
  }
  return packets;
}
