import { createEncoder, type WasmMediaEncoder } from 'wasm-media-encoders';
import wasm from 'wasm-media-encoders/wasm/mp3?url';
import type { SoundRecipe } from '$lib/core/twins';
import type { FileSink } from '$lib/formats/file-sink';
import { Mp3File, readFrameHeader } from '$lib/formats/mp3';
import type { SoundWriter } from './writer';

type Encoder = WasmMediaEncoder<'audio/mpeg'>;
type Params = Parameters<Encoder['configure']>[0];

/** Bits a second that each quality of a variable rate comes to, of two channels, from the best on (LAME 3.100). */
const QUALITIES = [245, 225, 190, 175, 165, 130, 115, 100, 85, 65].map((rate) => rate * 1000);

let compiled: Promise<WebAssembly.Module> | null = null;

const compile = async (): Promise<WebAssembly.Module> => {
  const bytes = await (await fetch(wasm)).arrayBuffer();
  return WebAssembly.compile(bytes);
};

/** @throws {Error} where the encoder does not take it */
async function encoderFor(recipe: SoundRecipe): Promise<Encoder> {
  compiled ??= compile();
  const encoder = await createEncoder('audio/mpeg', await compiled);
  const { sampleRate, channels } = recipe;
  encoder.configure({ sampleRate, channels, outputSampleRate: sampleRate, ...rateOf(recipe) } as Params);
  return encoder;
}

function rateOf({ bitrate, channels, variable }: SoundRecipe) {
  if (!variable) return { bitrate: (bitrate ?? 0) / 1000 };
  const asTwo = ((bitrate ?? 0) * 2) / channels;
  const quality = QUALITIES.findIndex((rate) => rate <= asTwo);
  return { vbrQuality: quality === -1 ? QUALITIES.length - 1 : quality };
}

/** Whether the encoder of MP3 takes a recipe. */
export const canEncodeMp3 = (recipe: SoundRecipe): Promise<boolean> =>
  recipe.channels > 2
    ? Promise.resolve(false)
    : encoderFor(recipe).then(
        () => true,
        () => false,
      );

/** An MP3, of one rate or of as many bits as each moment asks for. */
export class Mp3Writer implements SoundWriter {
  private readonly file: Mp3File;
  private taken = 0;
  /** Bytes of a frame that has not come to its end. */
  private rest: Uint8Array<ArrayBuffer> = new Uint8Array(0);

  private constructor(
    private readonly encoder: Encoder,
    sink: FileSink,
    variable: boolean,
  ) {
    this.file = new Mp3File(sink, variable);
  }

  static async open(recipe: SoundRecipe, sink: FileSink): Promise<Mp3Writer> {
    return new Mp3Writer(await encoderFor(recipe), sink, recipe.variable ?? false);
  }

  async add(samples: readonly Float32Array[]): Promise<void> {
    this.taken += samples[0]?.length ?? 0;
    await this.write(this.encoder.encode(samples));
  }

  async finish(): Promise<void> {
    await this.write(this.encoder.finalize());
    await this.file.finish(this.taken);
  }

  cancel(): Promise<void> {
    return Promise.resolve();
  }

  /** @param encoded frames one behind the other, the last of them cut anywhere; it is the encoder's own */
  private async write(encoded: Uint8Array): Promise<void> {
    const bytes = new Uint8Array(this.rest.length + encoded.length);
    bytes.set(this.rest);
    bytes.set(encoded, this.rest.length);
    let at = 0;
    for (;;) {
      const header = at + 4 <= bytes.length ? readFrameHeader(bytes, at) : null;
      if (!header || at + header.bytes > bytes.length) break;
      await this.file.add(bytes.subarray(at, at + header.bytes));
      at += header.bytes;
    }
    this.rest = bytes.slice(at);
  }
}
