import { ascii, concat, u16, u32 } from '$lib/core/bytes';
import type { FileSink } from '../file-sink';
import { makeBox } from './boxes';

/** The sound that a file is to hold. */
export interface SoundTrack {
  /** Four letters that name its codec, and the box that tells a decoder of it. */
  readonly codec: 'alac' | 'mp4a';
  readonly decoder: (mostPacket: number, averageBits: number) => Uint8Array;
  readonly channels: number;
  readonly bits: number;
  /** Hertz. */
  readonly sampleRate: number;
  /** Samples of each channel in a packet, but for the last. */
  readonly frameSamples: number;
  /** Samples that its encoder puts before the sound: players leave them out. */
  readonly priming: number;
}

/** Packets that lie one behind the other, as one chunk. */
const CHUNK_PACKETS = 16;
/** Bytes of all that tells of a sound, but for its tables. */
const HEAD_BYTES = 1200;
/** `mdat` with a size of 64 bits: a long sound passes 4 GB. */
const MDAT_HEAD = 16;

const FTYP = makeBox('ftyp', ascii('M4A '), u32(0), ascii('M4A '), ascii('mp42'), ascii('isom'));

/**
 * An MP4 of one sound (ISO/IEC 14496-12), written as its packets come: what tells of them goes before them, into room
 * that is kept free for it, so that players can begin before they have all of it.
 */
export class SoundFile {
  private readonly sizes: number[] = [];
  private readonly reserved: number;
  private readonly dataStart: number;
  private end: number;

  /** @param packets how many are expected; where more come, what tells of them goes behind */
  constructor(
    private readonly sink: FileSink,
    private readonly track: SoundTrack,
    packets: number,
  ) {
    this.reserved = HEAD_BYTES + packets * 4 + Math.ceil(packets / CHUNK_PACKETS) * 8;
    this.dataStart = FTYP.length + this.reserved + MDAT_HEAD;
    this.end = this.dataStart;
  }

  async add(packets: readonly Uint8Array[]): Promise<void> {
    const bytes = concat(packets) as Uint8Array<ArrayBuffer>;
    for (const { length } of packets) this.sizes.push(length);
    await this.sink.write(bytes, this.end);
    this.end += bytes.length;
  }

  /** Writes what tells of the packets. @param samples of each channel that were encoded @returns bytes of the whole file */
  async finish(samples: number): Promise<number> {
    const moov = this.moov(samples);
    const left = this.reserved - moov.length;
    const fits = left === 0 || left >= 8;
    const head = [
      FTYP,
      ...(fits ? [moov, ...(left > 0 ? [free(left)] : [])] : [free(this.reserved)]),
      u32(1),
      ascii('mdat'),
      u64(this.end - this.dataStart + MDAT_HEAD),
    ];
    await this.sink.write(concat(head) as Uint8Array<ArrayBuffer>, 0);
    if (fits) return this.end;
    await this.sink.write(moov as Uint8Array<ArrayBuffer>, this.end);
    return this.end + moov.length;
  }

  private moov(samples: number): Uint8Array {
    const { track } = this;
    const movieHead = makeBox(
      'mvhd',
      u32(1 << 24),
      u64(0),
      u64(0),
      u32(track.sampleRate),
      u64(samples),
      u32(0x10000),
      u16(0x100),
      new Uint8Array(10),
      MATRIX,
      new Uint8Array(24),
      u32(2),
    );
    // Enabled, and in the movie.
    const trackHead = makeBox(
      'tkhd',
      u32((1 << 24) | 3),
      u64(0),
      u64(0),
      u32(1),
      u32(0),
      u64(samples),
      new Uint8Array(12),
      u16(0x100),
      u16(0),
      MATRIX,
      new Uint8Array(8),
    );
    // Which part of the packets is the sound: the encoder's own beginning and end are not (section 8.6.6).
    const edit =
      track.priming === 0
        ? []
        : [
            makeBox(
              'edts',
              makeBox('elst', u32(1 << 24), u32(1), u64(samples), u64(track.priming), u32(0x10000)),
            ),
          ];
    return makeBox('moov', movieHead, makeBox('trak', trackHead, ...edit, this.media(samples)));
  }

  /** Samples of the packets: those of the last are as many as are left of the sound, or all. */
  private packed(samples: number): number {
    const { sizes, track } = this;
    const all = sizes.length * track.frameSamples;
    return track.priming === 0 ? Math.min(samples, all) : all;
  }

  private media(sound: number): Uint8Array {
    const { track } = this;
    const samples = this.packed(sound);
    const mediaHead = makeBox(
      'mdhd',
      u32(1 << 24),
      u64(0),
      u64(0),
      u32(track.sampleRate),
      u64(samples),
      u16(UNDETERMINED),
      u16(0),
    );
    const handler = makeBox('hdlr', u32(0), u32(0), ascii('soun'), new Uint8Array(12), ascii('Sound\0'));
    const where = makeBox('dinf', makeBox('dref', u32(0), u32(1), makeBox('url ', u32(1))));
    const info = makeBox('minf', makeBox('smhd', u32(0), u32(0)), where, this.table(samples));
    return makeBox('mdia', mediaHead, handler, info);
  }

  private table(samples: number): Uint8Array {
    const { sizes, track, dataStart } = this;
    const count = sizes.length;
    const last = samples - (count - 1) * track.frameSamples;
    const times =
      count === 0
        ? [u32(0)]
        : last === track.frameSamples
          ? [u32(1), u32(count), u32(last)]
          : [
              ...(count > 1 ? [u32(2), u32(count - 1), u32(track.frameSamples)] : [u32(1)]),
              u32(1),
              u32(last),
            ];
    const chunks: number[] = [];
    let at = dataStart;
    sizes.forEach((size, index) => {
      if (index % CHUNK_PACKETS === 0) chunks.push(at);
      at += size;
    });
    const over = count % CHUNK_PACKETS;
    const full = chunks.length - (over > 0 ? 1 : 0);
    const runs = [
      ...(full > 0 ? [[1, CHUNK_PACKETS]] : []),
      ...(over > 0 ? [[full + 1, over]] : []),
    ] as const;
    return makeBox(
      'stbl',
      makeBox('stsd', u32(0), u32(1), this.entry(samples)),
      makeBox('stts', u32(0), ...times),
      makeBox(
        'stsc',
        u32(0),
        u32(runs.length),
        ...runs.map(([first, packets]) => concat([u32(first!), u32(packets!), u32(1)])),
      ),
      makeBox('stsz', u32(0), u32(0), u32(count), words(sizes)),
      makeBox('co64', u32(0), u32(chunks.length), concat(chunks.map(u64))),
    );
  }

  /** Section 12.2.3; a rate that 16 bits do not hold is told by the decoder's box alone. */
  private entry(samples: number): Uint8Array {
    const { codec, decoder, channels, bits, sampleRate } = this.track;
    const bytes = this.end - this.dataStart;
    const average = samples > 0 ? Math.round((bytes * 8 * sampleRate) / samples) : 0;
    const most = this.sizes.reduce((max, size) => Math.max(max, size), 0);
    return makeBox(
      codec,
      new Uint8Array(6),
      u16(1),
      new Uint8Array(8),
      u16(channels),
      u16(bits),
      u32(0),
      u32(sampleRate < 65_536 ? sampleRate * 65_536 : 0),
      decoder(most, average),
    );
  }
}

/** The box that tells a decoder of Apple Lossless. @param config as `writeConfig` writes it */
export const alacBox = (config: Uint8Array): Uint8Array => makeBox('alac', u32(0), config);

/** The box that tells a decoder of AAC (ISO/IEC 14496-14, section 3.1.2). @param config its AudioSpecificConfig */
export function aacBox(config: Uint8Array, mostPacket: number, averageBits: number): Uint8Array {
  const decoder = concat([
    Uint8Array.of(0x40, 0x15),
    u32(mostPacket).subarray(1),
    u32(averageBits),
    u32(averageBits),
    descriptor(5, config),
  ]);
  const stream = concat([u16(0), Uint8Array.of(0), descriptor(4, decoder), descriptor(6, Uint8Array.of(2))]);
  return makeBox('esds', u32(0), descriptor(3, stream));
}

/** ISO/IEC 14496-1, section 8.3.3; all of ours are short. */
const descriptor = (tag: number, content: Uint8Array): Uint8Array =>
  concat([Uint8Array.of(tag, content.length), content]);

/** A language that nobody said, as three letters of five bits (section 8.4.2). */
const UNDETERMINED = 0x55c4;
const MATRIX = concat([0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000].map(u32));

const free = (size: number): Uint8Array => makeBox('free', new Uint8Array(size - 8));
const u64 = (value: number): Uint8Array => concat([u32(Math.floor(value / 2 ** 32)), u32(value % 2 ** 32)]);

function words(values: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(values.length * 4);
  const view = new DataView(bytes.buffer);
  values.forEach((value, index) => view.setUint32(index * 4, value));
  return bytes;
}
