import { cachedSource } from '$lib/core/bytes';
import { Resampler, mixDown } from '$lib/core/sound';
import { SoundMeter, codecFacts, faultOf, type HeardSound, type SoundRecipe } from '$lib/core/twins';
import { readMedia } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import { fingerprint } from '$lib/io/fingerprint';
import type { FileSink } from '$lib/formats/file-sink';
import { MOST_MISSED, assemble, spread, type Assembled } from './converting/assemble';
import { openAnySound } from './converting/any-sound';
import { NoDecoderError, openSound, type SoundSource } from './converting/sound-source';
import { NoEncoderError, canEncode, openWriter, type SoundWriter } from './converting/sound-writer';
import { createTwinFile, dropTwinFile } from '$lib/io/twin-files';
import type {
  AssembleRequest,
  AssembleResult,
  ConvertFailure,
  ConvertQuestion,
  ConvertRequest,
  ConvertResult,
} from './convert-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Milliseconds between two words of progress. */
const TOLD_EVERY = 200;

/** Makes twins for whoever asks through a port, one at a time. */
export function serveConverting(port: Port): void {
  serveAnswers<ConvertQuestion, number>(port, (request, tellHeard) => {
    switch (request.type) {
      case 'make':
        return orFailed(request, () => make(request, tellHeard));
      case 'assemble':
        return orFailed(request, () => makeOne(request, tellHeard));
      case 'canEncode':
        return canEncode(request.recipe);
    }
  });
}

/** Something that ends one file, and never the queue. */
class ConvertError extends Error {
  constructor(
    readonly code: ConvertFailure,
    detail: string,
  ) {
    super(detail);
  }
}

type Failed = Extract<ConvertResult, { type: 'failed' }>;

/** What is made, or why not; nothing of it is left then. */
async function orFailed<T>(
  { library, twin }: Pick<ConvertRequest, 'library' | 'twin'>,
  act: () => Promise<T>,
): Promise<T | Failed> {
  try {
    return await act();
  } catch (error) {
    await dropTwinFile(library, twin);
    const detail = error instanceof Error ? error.message : String(error);
    return { type: 'failed', code: codeOf(error), detail };
  }
}

/** A sink that writes into a file. @throws {ConvertError} `full` */
const sinkInto = (access: SyncAccessHandle): FileSink => ({
  write(bytes, position) {
    const written = access.write(bytes, { at: position });
    if (written < bytes.length) throw new ConvertError('full', 'the browser keeps no more');
  },
});

async function makeOne(
  { library, twin, parts, recipe, seconds, ...fades }: AssembleRequest,
  tellHeard: (seconds: number) => void,
): Promise<AssembleResult> {
  const handle = await createTwinFile(library, twin);
  const access = await handle.createSyncAccessHandle();
  let told = performance.now();
  let assembled: Assembled;
  try {
    const bits = recipe.mostBits ?? 16;
    const writer = await openWriter(recipe, { seconds, bits, dithers: true }, sinkInto(access));
    try {
      assembled = await assemble(parts, recipe, fades, seconds, writer, (heard) => {
        const now = performance.now();
        if (now - told < TOLD_EVERY) return;
        told = now;
        tellHeard(heard);
      });
    } catch (error) {
      await writer.cancel().catch(() => undefined);
      throw error;
    }
  } finally {
    access.close();
  }
  const file = await handle.getFile();
  await check(file, recipe, assembled.heard);
  return { type: 'assembled', file, starts: assembled.starts };
}

function codeOf(error: unknown): ConvertFailure {
  if (error instanceof ConvertError) return error.code;
  if (error instanceof NoDecoderError) return 'noDecoder';
  if (error instanceof NoEncoderError) return 'noEncoder';
  const isFull = error instanceof DOMException && error.name === 'QuotaExceededError';
  return isFull ? 'full' : 'failed';
}

async function make(
  { library, twin, file, format, recipe, seconds, isWhole }: ConvertRequest,
  tellHeard: (seconds: number) => void,
): Promise<ConvertResult> {
  const handle = await createTwinFile(library, twin);
  const access = await handle.createSyncAccessHandle();
  let source: SoundSource | null = null;
  let original: HeardSound;
  try {
    source = await openAnySound(file, format);
    const bits = Math.min(recipe.mostBits ?? 16, source.bits > 16 ? 24 : 16) as 16 | 24;
    const isOther = source.sampleRate !== recipe.sampleRate || source.channels > recipe.channels;
    const sound = { seconds, bits, dithers: source.bits > bits || isOther };
    const writer = await openWriter(recipe, sound, sinkInto(access));
    original = await pour(source, recipe, writer, tellHeard);
  } finally {
    source?.end();
    access.close();
  }
  if (isWhole && original.seconds < seconds - MOST_MISSED)
    throw new ConvertError(
      'undecodable',
      `${original.seconds.toFixed(1)} of ${seconds.toFixed(1)} seconds decode`,
    );
  const made = await handle.getFile();
  return check(made, recipe, original);
}

/** The sound of a file, brought to what a recipe asks for, into a file. */
async function pour(
  source: SoundSource,
  { sampleRate, channels }: SoundRecipe,
  writer: SoundWriter,
  tellHeard: (seconds: number) => void,
): Promise<HeardSound> {
  const meter = new SoundMeter(source.sampleRate);
  const resamplers =
    source.sampleRate === sampleRate
      ? null
      : Array.from({ length: channels }, () => new Resampler(source.sampleRate, sampleRate));
  let told = performance.now();
  try {
    for await (const samples of decoded(source)) {
      meter.feed(samples);
      const mixed = spread(mixDown(samples, channels), channels);
      await writer.add(resamplers ? resamplers.map((one, channel) => one.feed(mixed[channel]!)) : mixed);
      const now = performance.now();
      if (now - told < TOLD_EVERY) continue;
      told = now;
      tellHeard(meter.seconds);
    }
    if (resamplers) await writer.add(resamplers.map((one) => one.end()));
    if (meter.seconds === 0) throw new ConvertError('undecodable', 'no sound came out of it');
    await writer.finish();
  } catch (error) {
    await writer.cancel().catch(() => undefined);
    throw error;
  }
  return meter.heard(await fingerprint(meter.beginning(), source.sampleRate));
}

/** Samples as they are decoded. @throws {ConvertError} where that breaks off: half a sound is no twin */
async function* decoded(source: SoundSource): AsyncGenerator<readonly Float32Array[]> {
  const samples = source.samples()[Symbol.asyncIterator]();
  for (;;) {
    const next = await samples.next().catch((error: unknown) => {
      throw new ConvertError('undecodable', error instanceof Error ? error.message : String(error));
    });
    if (next.done) return;
    yield next.value;
  }
}

/** Reads and decodes what was made. @throws {ConvertError} where it is not what was asked for, or another sound */
async function check(made: File, recipe: SoundRecipe, original: HeardSound): Promise<ConvertResult> {
  const { ending } = codecFacts(recipe.codec);
  const { facts, format } = await readMedia(cachedSource(blobSource(made)), `twin.${ending}`);
  const [stream] = facts.streams;
  if (stream?.sampleRate !== recipe.sampleRate || stream.channels !== recipe.channels)
    throw new ConvertError('streams', `it has ${stream?.sampleRate} Hz and ${stream?.channels} channels`);
  const source = await openSound(made, format);
  try {
    const meter = new SoundMeter(source.sampleRate);
    for await (const samples of decoded(source)) meter.feed(samples);
    const twin = meter.heard(await fingerprint(meter.beginning(), source.sampleRate));
    const fault = faultOf(original, twin);
    if (fault)
      throw new ConvertError(fault, `${original.seconds.toFixed(3)} s became ${twin.seconds.toFixed(3)} s`);
  } finally {
    source.end();
  }
  return { type: 'made', size: made.size, format, facts };
}
