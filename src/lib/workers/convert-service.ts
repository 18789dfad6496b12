import { cachedSource } from '$lib/core/bytes';
import { Resampler, mixDown } from '$lib/core/sound';
import type { FormatId } from '$lib/core/items';
import {
  SoundMeter,
  codecFacts,
  faultOf,
  isVideo,
  pictureFaultOf,
  type HeardSound,
  type SoundRecipe,
  type TwinRecipe,
  type VideoRecipe,
} from '$lib/core/twins';
import { readMedia } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import { fingerprint } from '$lib/io/fingerprint';
import type { FileSink } from '$lib/formats/file-sink';
import { MOST_MISSED, assemble, spread } from './converting/assemble';
import { convertAnyVideo } from './converting/any-video';
import { openAnySound } from './converting/any-sound';
import { NoDecoderError, openSound, type SoundSource } from './converting/sound-source';
import { NoEncoderError, canEncode, openWriter } from './converting/sound-writer';
import type { SoundWriter } from './converting/writer';
import { canEncodePicture, insideOf, glimpsesOf, type SeenVideo } from './converting/video';
import { createTwinFile, dropTwinFile } from '$lib/io/twin-files';
import { wholeFile } from '$lib/io/whole-file';
import type {
  AssembleRequest,
  AssembleResult,
  ConvertFailure,
  ConvertQuestion,
  ConvertRequest,
  ConvertResult,
} from './convert-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Seconds that a last picture may be shown, which not every container says. */
const LAST_SHOWN = 1;
/** The part of the work on a video that looking at what was made is. */
const CHECKING = 0.2;
/** Milliseconds between two words of progress. */
const TOLD_EVERY = 200;

/** Makes twins for whoever asks through a port, one at a time. */
export function serveConverting(port: Port): void {
  serveAnswers<ConvertQuestion, number>(port, (request, tellHeard) => {
    switch (request.type) {
      case 'make':
        return orFailed(request, () => make(request, nowAndThen(tellHeard)));
      case 'assemble':
        return orFailed(request, () => assembleParts(request, nowAndThen(tellHeard)));
      case 'canEncode':
        return isEncoded(request.recipe);
    }
  });
}

async function isEncoded(recipe: TwinRecipe): Promise<boolean> {
  if (!isVideo(recipe)) return canEncode(recipe);
  const { picture, sound } = recipe;
  return (!picture || (await canEncodePicture(picture))) && (!sound || (await canEncode(sound)));
}

/** Tells no more often than is looked at. */
function nowAndThen(tell: (seconds: number) => void): (seconds: number) => void {
  let told = performance.now();
  return (seconds) => {
    const time = performance.now();
    if (time - told < TOLD_EVERY) return;
    told = time;
    tell(seconds);
  };
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

/** The file of a twin, once it is written. @throws {DOMException} `QuotaExceededError` where there is no room for it */
const written = async <T>(
  { library, twin }: Pick<ConvertRequest, 'library' | 'twin'>,
  write: (sink: FileSink) => Promise<T>,
) => wholeFile(await createTwinFile(library, twin), (writeAt) => write({ write: writeAt }));

async function assembleParts(
  request: AssembleRequest,
  tellHeard: (seconds: number) => void,
): Promise<AssembleResult> {
  const { parts, recipe, seconds, fadeInSeconds, fadeOutSeconds } = request;
  const { file: made, result } = await written(request, async (sink) => {
    const bits = recipe.mostBits ?? 16;
    const writer = await openWriter(recipe, { seconds, bits, dithers: true }, sink);
    try {
      return await assemble(parts, recipe, { fadeInSeconds, fadeOutSeconds }, seconds, writer, tellHeard);
    } catch (error) {
      await writer.cancel().catch(() => undefined);
      throw error;
    }
  });
  await check(made, recipe, result.heard);
  return { type: 'assembled', file: made, starts: result.starts };
}

function codeOf(error: unknown): ConvertFailure {
  if (error instanceof ConvertError) return error.code;
  if (error instanceof NoDecoderError) return 'noDecoder';
  if (error instanceof NoEncoderError) return 'noEncoder';
  const isFull = error instanceof DOMException && error.name === 'QuotaExceededError';
  return isFull ? 'full' : 'failed';
}

/** Makes what a recipe asks for, and looks at what was made. */
async function make(request: ConvertRequest, tell: (seconds: number) => void): Promise<ConvertResult> {
  const { recipe } = request;
  return isVideo(recipe) ? makeVideo(request, recipe, tell) : makeSound(request, recipe, tell);
}

async function makeVideo(
  request: ConvertRequest,
  recipe: VideoRecipe,
  tell: (seconds: number) => void,
): Promise<ConvertResult> {
  const { file, seconds, isWhole } = request;
  const { file: made, result } = await written(request, (sink) =>
    convertAnyVideo(file, recipe, sink, (done) => tell(done * (1 - CHECKING))),
  );
  const { seen, shown } = result;
  if (isWhole && seen.end < seconds - LAST_SHOWN)
    throw new ConvertError(
      'undecodable',
      `${seen.end.toFixed(1)} of ${seconds.toFixed(1)} seconds are there`,
    );
  return checkVideo(made, shown, recipe, seen, (looked) =>
    tell(seconds * (1 - CHECKING) + looked * CHECKING),
  );
}

/** Looks at, and listens to, what was made. @throws {ConvertError} where it is not what was asked for */
async function checkVideo(
  made: File,
  original: Blob,
  { container, picture, sound }: VideoRecipe,
  seen: SeenVideo,
  tell: (seconds: number) => void,
): Promise<ConvertResult> {
  const { facts, format, file } = await readMedia(cachedSource(blobSource(made)), `twin.${container}`);
  const shown = facts.streams.find(({ type }) => type === 'picture');
  if (picture && (shown?.width !== picture.width || shown.height !== picture.height))
    throw new ConvertError('streams', `it has ${shown?.width}×${shown?.height} pixels`);
  if (picture) {
    const [before, after] = [await glimpsesOf(original, null), await glimpsesOf(made, tell)];
    const fault = pictureFaultOf(before.pictures, after.pictures, after.seconds - before.seconds);
    if (fault)
      throw new ConvertError(fault, `${before.seconds.toFixed(3)} s became ${after.seconds.toFixed(3)} s`);
  }
  const { packets, codecs } = await insideOf(made);
  // Encoders may leave out pictures from before the beginning.
  if (!picture && packets !== seen.packets)
    throw new ConvertError('length', `${packets} of ${seen.packets} pictures are in it`);
  const asked = seen.codecs.map((own, index) => (index === 0 ? picture?.codec : sound?.codec) ?? own);
  if (String(codecs) !== String(asked))
    throw new ConvertError('streams', `${codecs.join(', ')} instead of ${asked.join(', ')}`);
  if (sound && seen.heard) await checkSound(made, format, seen.heard);
  const { tracks } = file;
  return { type: 'made', size: made.size, format, facts, ...(tracks && { tracks }) };
}

async function makeSound(
  request: ConvertRequest,
  recipe: SoundRecipe,
  tellHeard: (seconds: number) => void,
): Promise<ConvertResult> {
  const { file, format, seconds, isWhole } = request;
  const source = await openAnySound(file, format);
  const bits = Math.min(recipe.mostBits ?? 16, source.bits > 16 ? 24 : 16) as 16 | 24;
  const isOther = source.sampleRate !== recipe.sampleRate || source.channels > recipe.channels;
  const sound = { seconds, bits, dithers: source.bits > bits || isOther };
  const { file: made, result: original } = await written(request, async (sink) =>
    pour(source, recipe, await openWriter(recipe, sound, sink), tellHeard),
  ).finally(() => source.end());
  if (isWhole && original.seconds < seconds - MOST_MISSED)
    throw new ConvertError(
      'undecodable',
      `${original.seconds.toFixed(1)} of ${seconds.toFixed(1)} seconds decode`,
    );
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
  try {
    for await (const samples of decoded(source)) {
      meter.feed(samples);
      const mixed = spread(mixDown(samples, channels), channels);
      await writer.add(resamplers ? resamplers.map((one, channel) => one.feed(mixed[channel]!)) : mixed);
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
  await checkSound(made, format, original);
  return { type: 'made', size: made.size, format, facts };
}

/** @throws {ConvertError} where its first sound is another one */
async function checkSound(made: File, format: FormatId, original: HeardSound): Promise<void> {
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
}
