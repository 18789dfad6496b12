import {
  AudioSample,
  AudioSampleSource,
  FlacOutputFormat,
  Mp4OutputFormat,
  NullTarget,
  OggOutputFormat,
  Output,
  StreamTarget,
  WavOutputFormat,
  canEncodeAudio,
  type AudioCodec,
  type OutputFormat,
  type StreamTargetChunk,
} from 'mediabunny';
import { WholeSamples } from '$lib/core/sound';
import type { SoundRecipe } from '$lib/core/twins';
import type { TwinCodec } from '$lib/core/rulebooks';
import { AlacEncoder, FRAME_SAMPLES, writeConfig } from '$lib/formats/alac';
import type { FileSink } from '$lib/formats/file-sink';
import { SoundFile, aacBox, alacBox } from '$lib/formats/mp4';
import { AiffFile } from '$lib/formats/riff';
import { Mp3Writer, canEncodeMp3 } from './mp3-writer';
import type { SoundWriter } from './writer';

/** No encoder takes this here. */
export class NoEncoderError extends Error {
  override readonly name = 'NoEncoderError';
}

/** What a sound has that is to be written. */
export interface SoundToWrite {
  /** Seconds that it lasts, about. */
  readonly seconds: number;
  /** Bits of each sample that are written, of what loses nothing. */
  readonly bits: 16 | 24;
  /** Its samples say more than those bits. */
  readonly dithers: boolean;
}

/** @throws {NoEncoderError} */
export async function openWriter(
  recipe: SoundRecipe,
  sound: SoundToWrite,
  sink: FileSink,
): Promise<SoundWriter> {
  const { codec, sampleRate, channels: numberOfChannels } = recipe;
  if (codec === 'alac') return new AlacWriter(recipe, sound, sink);
  if (codec === 'aiff') return new AiffWriter(recipe, sound, sink);
  if (!(await canEncode(recipe)))
    throw new NoEncoderError(
      `this browser cannot encode ${codec} of ${sampleRate} Hz and ${numberOfChannels} channels`,
    );
  if (codec === 'mp3') return Mp3Writer.open(recipe, sink);
  return codec === 'aac' ? new AacWriter(recipe, sound, sink) : new StreamWriter(recipe, sound, sink);
}

/** Whether an encoder takes a recipe here, be it the browser's, one that comes with the application, or ours. */
export async function canEncode(recipe: SoundRecipe): Promise<boolean> {
  const { codec, sampleRate, channels, bitrate } = recipe;
  if (codec === 'alac') return channels <= 2;
  if (codec === 'aiff') return true;
  if (codec === 'mp3') return canEncodeMp3(recipe);
  await register(codec);
  const options = { sampleRate, numberOfChannels: channels, ...(bitrate !== null && { bitrate }) };
  return canEncodeAudio(BROWSER_CODECS[codec](16), options);
}

/** The codec as the browser calls it. */
export const BROWSER_CODECS: Readonly<
  Record<Exclude<TwinCodec, 'alac' | 'aiff' | 'mp3'>, (bits: 16 | 24) => AudioCodec>
> = {
  aac: () => 'aac',
  opus: () => 'opus',
  flac: () => 'flac',
  pcm: (bits) => (bits === 16 ? 'pcm-s16' : 'pcm-s24'),
};

const registered = new Map<TwinCodec, Promise<void>>();

/** Encoders that the browser lacks come with the application, and are loaded for the first file that needs one. */
export function register(codec: TwinCodec): Promise<void> {
  const known = registered.get(codec) ?? load(codec);
  registered.set(codec, known);
  return known;
}

async function load(codec: TwinCodec): Promise<void> {
  if (codec === 'aac') (await import('@mediabunny/aac-encoder')).registerAacEncoder();
  if (codec === 'flac') (await import('@mediabunny/flac-encoder')).registerFlacEncoder();
}

/** An encoder with the file that it writes, fed with samples as it takes them. */
class Feeder {
  private readonly source: AudioSampleSource;
  private readonly whole: readonly WholeSamples[] | null;
  private frames = 0;
  private starting: Promise<void> | null = null;

  constructor(
    private readonly recipe: SoundRecipe,
    { bits, dithers }: SoundToWrite,
    private readonly output: Output,
    onEncodedPacket?: ConstructorParameters<typeof AudioSampleSource>[0]['onEncodedPacket'],
  ) {
    const { codec, bitrate, channels } = recipe;
    this.source = new AudioSampleSource({
      codec: BROWSER_CODECS[codec as keyof typeof BROWSER_CODECS](bits),
      ...(bitrate !== null && { bitrate }),
      ...(onEncodedPacket && { onEncodedPacket }),
    });
    output.addAudioTrack(this.source);
    // AAC and Opus take samples as they are; the others take whole numbers.
    this.whole =
      codec === 'aac' || codec === 'opus'
        ? null
        : Array.from({ length: channels }, () => new WholeSamples(bits, dithers));
    this.bits = bits;
  }

  private readonly bits: 16 | 24;

  /** Samples of each channel that were taken. */
  get taken(): number {
    return this.frames;
  }

  async add(samples: readonly Float32Array[]): Promise<void> {
    const count = samples[0]?.length ?? 0;
    if (count === 0) return;
    this.starting ??= this.output.start();
    await this.starting;
    const { channels: numberOfChannels, sampleRate } = this.recipe;
    const timestamp = this.frames / sampleRate;
    const { format, data } = this.interleaved(samples, count);
    const sample = new AudioSample({ data, format, numberOfChannels, sampleRate, timestamp });
    this.frames += count;
    try {
      await this.source.add(sample);
    } finally {
      sample.close();
    }
  }

  async finish(): Promise<void> {
    await this.output.finalize();
  }

  async cancel(): Promise<void> {
    await this.output.cancel();
  }

  private interleaved(samples: readonly Float32Array[], count: number) {
    const channels = samples.length;
    const { whole, bits } = this;
    if (!whole) {
      const data = new Float32Array(count * channels);
      samples.forEach((own, channel) => {
        for (let at = 0; at < count; at++) data[at * channels + channel] = own[at]!;
      });
      return { format: 'f32', data } as const;
    }
    const data = bits === 16 ? new Int16Array(count * channels) : new Int32Array(count * channels);
    const shift = bits === 16 ? 0 : 8;
    samples.forEach((own, channel) => {
      const values = whole[channel]!.of(own);
      for (let at = 0; at < count; at++) data[at * channels + channel] = values[at]! << shift;
    });
    return { format: bits === 16 ? 's16' : 's32', data } as const;
  }
}

/** Where mediabunny writes a file. */
export const targetInto = (sink: FileSink): StreamTarget =>
  new StreamTarget(
    new WritableStream<StreamTargetChunk>({ write: ({ data, position }) => sink.write(data, position) }),
    { chunked: true },
  );

/** Files that mediabunny writes as a whole. */
class StreamWriter extends Feeder implements SoundWriter {
  constructor(recipe: SoundRecipe, sound: SoundToWrite, sink: FileSink) {
    super(recipe, sound, new Output({ format: streamFormat(recipe, sound), target: targetInto(sink) }));
  }
}

function streamFormat({ codec, sampleRate, channels }: SoundRecipe, { seconds }: SoundToWrite): OutputFormat {
  switch (codec) {
    case 'flac':
      return new FlacOutputFormat();
    case 'pcm':
      return new WavOutputFormat({ large: seconds * sampleRate * channels * 3 > 4e9 });
    default:
      return new OggOutputFormat();
  }
}

/** Samples that the encoder of AAC puts before a sound. */
export const AAC_PRIMING = 1024;
const AAC_FRAME = 1024;

/** AAC, whose file we write ourselves from the encoder's packets, since it says what of them is no sound of its own. */
class AacWriter implements SoundWriter {
  private readonly feeder: Feeder;
  private writing: Promise<void> = Promise.resolve();
  private trouble: unknown = null;
  private config: Uint8Array = new Uint8Array(0);
  private readonly file: SoundFile;

  constructor(recipe: SoundRecipe, sound: SoundToWrite, sink: FileSink) {
    const { channels, sampleRate } = recipe;
    const track = {
      codec: 'mp4a',
      decoder: (most: number, average: number) => aacBox(this.config, most, average),
      channels,
      bits: 16,
      sampleRate,
      frameSamples: AAC_FRAME,
      priming: AAC_PRIMING,
    } as const;
    this.file = new SoundFile(sink, track, Math.ceil((sound.seconds * sampleRate) / AAC_FRAME) + 64);
    const output = new Output({
      format: new Mp4OutputFormat({ fastStart: false }),
      target: new NullTarget(),
    });
    this.feeder = new Feeder(recipe, sound, output, (packet, meta) => {
      const { description } = meta?.decoderConfig ?? {};
      if (description) this.config = bytesOf(description);
      this.write(packet.data as Uint8Array<ArrayBuffer>);
      return this.writing;
    });
  }

  async add(samples: readonly Float32Array[]): Promise<void> {
    await this.feeder.add(samples);
    if (this.trouble) throw this.trouble;
  }

  async finish(): Promise<void> {
    await this.feeder.finish();
    await this.writing;
    if (this.trouble) throw this.trouble;
    await this.file.finish(this.feeder.taken);
  }

  cancel(): Promise<void> {
    return this.feeder.cancel();
  }

  private write(packet: Uint8Array<ArrayBuffer>): void {
    const bytes = packet.slice();
    this.writing = this.writing
      .then(() => this.file.add([bytes]))
      .catch((error: unknown) => {
        this.trouble ??= error;
      });
  }
}

const bytesOf = (buffer: AllowSharedBufferSource): Uint8Array =>
  ArrayBuffer.isView(buffer)
    ? new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.byteLength).slice()
    : new Uint8Array(buffer).slice();

/** Plain samples in an AIFF, which the library that writes WAV has none of. */
class AiffWriter implements SoundWriter {
  private readonly whole: readonly WholeSamples[];
  private readonly file: AiffFile;

  constructor({ channels, sampleRate }: SoundRecipe, { bits, dithers }: SoundToWrite, sink: FileSink) {
    this.whole = Array.from({ length: channels }, () => new WholeSamples(bits, dithers));
    this.file = new AiffFile(sink, { channels, bits, sampleRate });
  }

  add(samples: readonly Float32Array[]): Promise<void> {
    return this.file.add(samples.map((own, channel) => this.whole[channel]!.of(own)));
  }

  finish(): Promise<void> {
    return this.file.finish();
  }

  cancel(): Promise<void> {
    return Promise.resolve();
  }
}

/** Apple Lossless, which no browser encodes. */
class AlacWriter implements SoundWriter {
  private readonly whole: readonly WholeSamples[];
  private readonly encoder: AlacEncoder;
  private readonly file: SoundFile;
  private readonly pending: readonly Int32Array[];
  private filled = 0;
  private taken = 0;

  constructor(
    { channels, sampleRate }: SoundRecipe,
    { bits, dithers, seconds }: SoundToWrite,
    sink: FileSink,
  ) {
    this.encoder = new AlacEncoder(channels, bits, sampleRate);
    this.whole = Array.from({ length: channels }, () => new WholeSamples(bits, dithers));
    this.pending = Array.from({ length: channels }, () => new Int32Array(FRAME_SAMPLES));
    const track = {
      codec: 'alac',
      decoder: (most: number, average: number) => alacBox(writeConfig(this.encoder.config, most, average)),
      channels,
      bits,
      sampleRate,
      frameSamples: FRAME_SAMPLES,
      priming: 0,
    } as const;
    this.file = new SoundFile(sink, track, Math.ceil((seconds * sampleRate) / FRAME_SAMPLES) + 16);
  }

  async add(samples: readonly Float32Array[]): Promise<void> {
    const values = samples.map((own, channel) => this.whole[channel]!.of(own));
    const count = values[0]?.length ?? 0;
    const packets: Uint8Array[] = [];
    for (let at = 0; at < count;) {
      const some = Math.min(count - at, FRAME_SAMPLES - this.filled);
      this.pending.forEach((own, channel) => own.set(values[channel]!.subarray(at, at + some), this.filled));
      this.filled += some;
      at += some;
      if (this.filled === FRAME_SAMPLES) packets.push(this.encodePending());
    }
    this.taken += count;
    if (packets.length > 0) await this.file.add(packets);
  }

  async finish(): Promise<void> {
    if (this.filled > 0) await this.file.add([this.encodePending()]);
    await this.file.finish(this.taken);
  }

  cancel(): Promise<void> {
    return Promise.resolve();
  }

  private encodePending(): Uint8Array {
    const frame = this.pending.map((own) => own.slice(0, this.filled));
    this.filled = 0;
    return this.encoder.encode(frame);
  }
}
