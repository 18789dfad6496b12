import { ascii, concat, u16, u32 } from '$lib/core/bytes';
import type { FileSink } from '../file-sink';
import { FormatError } from '../format';

/** Bytes before the samples: the outermost chunk's head, `COMM`, and the head of `SSND` with its offset and block. */
const HEAD_BYTES = 12 + 26 + 16;

/** Plain samples as they come, in an AIFF (Audio Interchange File Format 1.3). */
export class AiffFile {
  private frames = 0;
  private end = HEAD_BYTES;

  constructor(
    private readonly sink: FileSink,
    private readonly sound: {
      readonly channels: number;
      readonly bits: 16 | 24;
      readonly sampleRate: number;
    },
  ) {}

  /**
   * @param samples of each channel, as whole numbers of so many bits
   * @throws {FormatError} `tooLarge` where it would pass the 4 GiB that its size can say
   */
  async add(samples: readonly Int32Array[]): Promise<void> {
    const width = this.sound.bits / 8;
    const count = samples[0]?.length ?? 0;
    const bytes = new Uint8Array(count * samples.length * width);
    if (this.end + bytes.length >= 2 ** 32)
      throw new FormatError('tooLarge', 'such a file holds at most 4 GiB');
    let at = 0;
    for (let index = 0; index < count; index++)
      for (const own of samples) {
        const value = own[index]!;
        if (width === 3) bytes[at++] = value >> 16;
        bytes[at++] = value >> 8;
        bytes[at++] = value;
      }
    this.frames += count;
    await this.sink.write(bytes, this.end);
    this.end += bytes.length;
  }

  async finish(): Promise<void> {
    const { channels, bits, sampleRate } = this.sound;
    if (this.end % 2 === 1) await this.sink.write(new Uint8Array(1), this.end);
    const size = this.end + (this.end % 2);
    const head = concat([
      ...[ascii('FORM'), u32(size - 8), ascii('AIFF')],
      ...[ascii('COMM'), u32(18), u16(channels), u32(this.frames), u16(bits), extended(sampleRate)],
      ...[ascii('SSND'), u32(this.end - HEAD_BYTES + 8), u32(0), u32(0)],
    ]);
    await this.sink.write(head as Uint8Array<ArrayBuffer>, 0);
  }
}

/** A whole number as one of 80 bits with a floating point (IEEE 754, extended). */
function extended(value: number): Uint8Array {
  const exponent = Math.floor(Math.log2(value));
  return concat([u16(16_383 + exponent), u32(value * 2 ** (31 - exponent)), u32(0)]);
}
