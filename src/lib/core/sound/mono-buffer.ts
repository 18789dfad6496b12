/** The beginning of a sound, mixed to one channel of 16 bits. */
export class MonoBuffer {
  private readonly buffer: Int16Array;
  private length = 0;

  constructor(most: number) {
    this.buffer = new Int16Array(most);
  }

  get isFull(): boolean {
    return this.length >= this.buffer.length;
  }

  /** Mixes samples given by channel, and returns those that were added. */
  addChannels(channels: readonly Float32Array[]): Int16Array {
    const start = this.length;
    const frames = Math.min(channels[0]?.length ?? 0, this.buffer.length - start);
    for (let frame = 0; frame < frames; frame++) {
      let sum = 0;
      for (const channel of channels) sum += channel[frame]!;
      this.buffer[start + frame] = Math.max(-1, Math.min(1, sum / channels.length)) * 32_767;
    }
    this.length += frames;
    return this.buffer.subarray(start, this.length);
  }

  samples(): Int16Array {
    return this.buffer.subarray(0, this.length);
  }
}
