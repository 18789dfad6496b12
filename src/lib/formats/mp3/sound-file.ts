import { ascii, u16, u32 } from '$lib/core/bytes';
import type { FileSink } from '../file-sink';
import { readFrameHeader } from './frames';

/** Samples that an encoder puts before a sound, of its own (LAME, whose files say so; decoders add theirs). */
const ENCODER_DELAY = 576;
/** Bytes from the beginning of the header to its end. */
const HEADER_BYTES = 156;
const TOC_ENTRIES = 100;
/** Bits a second that a varying rate goes down to, of MPEG-1, and of MPEG-2 and 2.5. */
const LEAST_RATE = { 1: 32_000, 2: 8000 } as const;
/** Places of frames that are kept at once. */
const MOST_STARTS = 8192;

/**
 * An MP3 as its frames come, behind a first one that tells how long it is and what of it is no sound of its own, so that
 * players leave that out (the Xing header, and what LAME added to it: "Mp3 Info Tag rev 1").
 */
export class Mp3File {
  private head: Uint8Array<ArrayBuffer> | null = null;
  private headAt = 0;
  private frames = 0;
  private perFrame = 1152;
  private bitrate = 0;
  private end = 0;
  private crc = 0;

  /** Where every so many frames begin, from the first behind the header on. */
  private starts: number[] = [];
  private stride = 1;

  /** @param variable whether its frames have as many bits as their moments ask for */
  constructor(
    private readonly sink: FileSink,
    private readonly variable = false,
  ) {}

  async add(frame: Uint8Array<ArrayBuffer>): Promise<void> {
    if (!this.head) {
      this.head = this.begin(frame);
      this.end = this.head.length;
    }
    this.note();
    this.frames++;
    this.crc = crc16(frame, this.crc);
    await this.sink.write(frame, this.end);
    this.end += frame.length;
  }

  /** However many frames there are, some thousand places are kept. */
  private note(): void {
    if (this.frames % this.stride !== 0) return;
    this.starts.push(this.end);
    if (this.starts.length < MOST_STARTS) return;
    this.starts = this.starts.filter((_, index) => index % 2 === 0);
    this.stride *= 2;
  }

  /** @param samples of each channel that were encoded @returns bytes of the whole file */
  async finish(samples: number): Promise<number> {
    const { head } = this;
    if (!head) return 0;
    this.fill(head, samples);
    await this.sink.write(head, 0);
    return this.end;
  }

  /** Where a part of the sound begins, of 256 parts of the file. */
  private placeOf(part: number): number {
    const { starts, stride, frames, end } = this;
    const start = starts[Math.floor((part * frames) / stride)] ?? 0;
    return Math.min(255, Math.floor((start * 256) / end));
  }

  /** A frame of silence with room for the header, of the same sort as all others. */
  private begin(first: Uint8Array): Uint8Array<ArrayBuffer> {
    const header = readFrameHeader(first, 0);
    if (!header) throw new RangeError('an encoder gave a frame that is none');
    this.perFrame = header.samples;
    this.bitrate = this.variable ? LEAST_RATE[header.version === 1 ? 1 : 2] : header.bitRate;
    const side = header.version === 1 ? (header.channels === 1 ? 17 : 32) : header.channels === 1 ? 9 : 17;
    this.headAt = 4 + side;
    const bytes = Uint8Array.of(...first.subarray(0, 4));
    // Without a checksum or padding.
    bytes[1]! |= 1;
    for (let index = first[2]! >> 4; index < 15; index++) {
      bytes[2] = (index << 4) | (first[2]! & 0x0c);
      const { bytes: length } = readFrameHeader(bytes, 0)!;
      if (length < this.headAt + HEADER_BYTES) continue;
      const head = new Uint8Array(length);
      head.set(bytes);
      return head;
    }
    throw new RangeError('no frame is long enough for a header');
  }

  private fill(head: Uint8Array, samples: number): void {
    const { frames, perFrame, headAt } = this;
    const padding = Math.max(0, Math.min(4095, frames * perFrame - ENCODER_DELAY - samples));
    const put = (at: number, bytes: Uint8Array) => head.set(bytes, headAt + at);
    put(0, ascii(this.variable ? 'Xing' : 'Info'));
    put(4, u32(0xf));
    put(8, u32(frames));
    put(12, u32(this.end));
    for (let at = 0; at < TOC_ENTRIES; at++) head[headAt + 16 + at] = this.placeOf(at / TOC_ENTRIES);
    put(120, ascii('LAME3.100'));
    // One rate throughout, or as LAME varies it.
    head[headAt + 129] = this.variable ? 4 : 1;
    head[headAt + 140] = Math.min(255, this.bitrate / 1000);
    put(
      141,
      Uint8Array.of(ENCODER_DELAY >> 4, ((ENCODER_DELAY & 0xf) << 4) | (padding >> 8), padding & 0xff),
    );
    put(148, u32(this.end));
    put(152, u16(this.crc));
    put(154, u16(crc16(head.subarray(0, headAt + 154), 0)));
  }
}

/** CRC-16 as the header asks for it: its polynomial turned round, from zero. */
function crc16(bytes: Uint8Array, from: number): number {
  let crc = from;
  for (const byte of bytes) crc = (crc >>> 8) ^ CRC_TABLE[(crc ^ byte) & 0xff]!;
  return crc;
}

const CRC_TABLE = Uint16Array.from({ length: 256 }, (_, byte) => {
  let crc = byte;
  for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xa001 : crc >>> 1;
  return crc;
});
