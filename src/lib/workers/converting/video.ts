import {
  ALL_FORMATS,
  BlobSource,
  CanvasSink,
  EncodedPacketSink,
  Conversion,
  Input,
  Mp4OutputFormat,
  Output,
  VideoSampleSink,
  WebMOutputFormat,
  canEncodeVideo,
  type AudioSample,
  type ConversionAudioOptions,
  type ConversionVideoOptions,
  type InputAudioTrack,
  type InputVideoTrack,
} from 'mediabunny';
import {
  SoundMeter,
  pictureCodecName,
  type HeardSound,
  type PictureRecipe,
  type SoundRecipe,
  type VideoRecipe,
} from '$lib/core/twins';
import type { FileSink } from '$lib/formats/file-sink';
import { writeSoundSpans, type SoundSpan } from '$lib/formats/mp4';
import { fingerprint } from '$lib/io/fingerprint';
import { NoDecoderError, expectDecoder } from './sound-source';
import { AAC_PRIMING, BROWSER_CODECS, NoEncoderError, register, targetInto } from './sound-writer';

/** What is noted of moving pictures while they are converted, to hold the result against. */
export interface SeenVideo {
  /** Pictures that it has. */
  readonly packets: number;
  /** What its pictures and its sounds are encoded to, as the browser calls that. */
  readonly codecs: readonly (string | null)[];
  /** Seconds at which the last of its tracks ends. */
  readonly end: number;
  /** Of its first sound where that was encoded; null where it was kept, or there is none. */
  readonly heard: HeardSound | null;
}

/** Whether the browser encodes pictures by a recipe. */
export const canEncodePicture = ({ codec, width, height, bitrate }: PictureRecipe): Promise<boolean> =>
  canEncodeVideo(codec, { width, height, bitrate });

/**
 * Writes a file with the pictures and all sounds of another one: what a recipe keeps goes packet by packet, the rest is
 * decoded and encoded.
 * @param tell seconds that are done
 * @throws {NoDecoderError} and {NoEncoderError}, naming what nothing here takes
 */
export async function convertVideo(
  file: Blob,
  recipe: VideoRecipe,
  sink: FileSink,
  tell: (seconds: number) => void,
): Promise<SeenVideo> {
  const { container, picture, sound } = recipe;
  if (picture && !(await canEncodePicture(picture)))
    throw new NoEncoderError(
      `this browser cannot encode ${pictureCodecName(picture.codec)} of ${picture.width}×${picture.height} pixels`,
    );
  if (sound) await register(sound.codec);
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  const ear = sound && new Ear(sound);
  try {
    if (!(await input.canRead())) throw new NoDecoderError('the browser does not read files of this kind');
    const shown = await input.getPrimaryVideoTrack();
    if (!shown) throw new NoDecoderError('there are no pictures in it');
    if (picture && !(await shown.canDecode()))
      throw new NoDecoderError(`the browser cannot decode ${shown.codec ?? 'the codec of its pictures'}`);
    const sounds = await input.getAudioTracks();
    if (sound) for (const track of sounds) await expectDecoder(track);
    let told: { readonly bytes: Uint8Array<ArrayBuffer>; readonly at: number } | null = null;
    const onMoov = (bytes: Uint8Array, at: number) => {
      told = { bytes: bytes.slice(), at };
    };
    const format =
      container === 'mp4' ? new Mp4OutputFormat({ fastStart: false, onMoov }) : new WebMOutputFormat();
    const isPrimed = container === 'mp4' && sound?.codec === 'aac';
    const passing = sounds.map(
      (_, index) =>
        sound && new Passing(isPrimed ? AAC_PRIMING / sound.sampleRate : 0, index === 0 ? ear : null),
    );
    const conversion = await Conversion.init({
      input,
      output: new Output({ format, target: targetInto(sink) }),
      tracks: 'all',
      video: (track) => (track.id === shown.id ? pictureOptions(track, picture) : { discard: true }),
      audio: (track) =>
        soundOptions(track, sound, passing[sounds.findIndex(({ id }) => id === track.id)] ?? null),
      showWarnings: false,
    });
    const lost = conversion.discardedTracks.find(({ reason }) => reason !== 'discarded_by_user');
    if (lost) throw new NoEncoderError(`${lost.track.codec ?? 'a track'} cannot go into it (${lost.reason})`);
    conversion.onProgress = (_progress, seconds) => tell(seconds);
    await conversion.execute();
    if (isPrimed && told) await tellSpans(told, passing, sink);
    const { packets } = await lengthOf(shown);
    const codecs = [shown, ...sounds].map(({ codec }) => codec);
    return { packets, codecs, end: await input.computeDuration(), heard: (await ear?.heard()) ?? null };
  } finally {
    input.dispose();
  }
}

async function pictureOptions(
  track: InputVideoTrack,
  picture: PictureRecipe | null,
): Promise<ConversionVideoOptions> {
  if (!picture) return {};
  const { codec, bitrate } = picture;
  // A file that is shown turned says its pixels unturned.
  const isTurned =
    (await track.getDisplayWidth()) > (await track.getDisplayHeight()) !== picture.width > picture.height;
  const [width, height] = isTurned ? [picture.height, picture.width] : [picture.width, picture.height];
  return { codec, bitrate, width, height, fit: 'contain', forceTranscode: true };
}

async function soundOptions(
  track: InputAudioTrack,
  sound: SoundRecipe | null,
  passing: Passing | null,
): Promise<ConversionAudioOptions> {
  if (!sound || !passing) return {};
  const { codec, bitrate, sampleRate, channels } = sound;
  return {
    codec: BROWSER_CODECS[codec as keyof typeof BROWSER_CODECS](16),
    sampleRate,
    numberOfChannels: Math.min(channels, await track.getNumberOfChannels()),
    forceTranscode: true,
    ...(bitrate !== null && { bitrate }),
    process: (sample: AudioSample) => passing.on(sample),
  };
}

/** A sound on its way to an encoder, which sets something before it. */
class Passing {
  private started: number | null = null;
  private ended = 0;

  /**
   * @param lead seconds that the encoder sets before it: it goes in as much earlier, so that it sounds when it should
   * @param ear null where it is not listened to
   */
  constructor(
    private readonly lead: number,
    private readonly ear: Ear | null,
  ) {}

  get span(): SoundSpan {
    return { start: this.started ?? 0, end: this.ended };
  }

  on(sample: AudioSample): AudioSample {
    this.started ??= sample.timestamp;
    this.ended = sample.timestamp + sample.numberOfFrames / sample.sampleRate;
    this.ear?.listen(sample);
    sample.setTimestamp(sample.timestamp - this.lead);
    return sample;
  }
}

/** Has a file say when its sounds play: what their encoder set before them, and behind them to fill a packet, is none of theirs. */
async function tellSpans(
  { bytes, at }: { readonly bytes: Uint8Array<ArrayBuffer>; readonly at: number },
  passing: readonly (Passing | null)[],
  sink: FileSink,
): Promise<void> {
  writeSoundSpans(
    bytes,
    passing.flatMap((one) => (one ? [one.span] : [])),
  );
  await sink.write(bytes, at);
}

/** Hears a sound on its way to an encoder. */
class Ear {
  private readonly meter: SoundMeter;

  constructor(private readonly sound: SoundRecipe) {
    this.meter = new SoundMeter(sound.sampleRate);
  }

  listen(sample: AudioSample): void {
    this.meter.feed(
      Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
        const plane = new Float32Array(sample.numberOfFrames);
        sample.copyTo(plane, { planeIndex, format: 'f32-planar' });
        return plane;
      }),
    );
  }

  async heard(): Promise<HeardSound> {
    return this.meter.heard(await fingerprint(this.meter.beginning(), this.sound.sampleRate));
  }
}

/** Of some pictures, the seconds from the first to the last: how long the last is shown, not every container says. */
interface Length {
  readonly seconds: number;
  readonly packets: number;
}

async function lengthOf(track: InputVideoTrack): Promise<Length> {
  const { packetCount } = await track.computePacketStats();
  const last = await new EncodedPacketSink(track).getPacket(Infinity, { metadataOnly: true });
  const first = await track.getFirstTimestamp();
  return { seconds: (last?.timestamp ?? first) - first, packets: packetCount };
}

/** Pictures of a file at some moments, small, as their light: red, green, blue and one more byte for each pixel. */
export interface Glimpses extends Length {
  /** Null for a moment that the file does not lead to. */
  readonly pictures: readonly (Uint8ClampedArray | null)[];
}

/** Moments that are looked at, as parts of the whole. */
const MOMENTS = [0.05, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95];
const GLIMPSE = { width: 32, height: 18, fit: 'fill' } as const;

/**
 * Looks at some moments of a file's pictures.
 * @param tell where it is given, every picture is decoded first, and must come out; told seconds that are
 */
export async function glimpsesOf(file: Blob, tell: ((seconds: number) => void) | null): Promise<Glimpses> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new NoDecoderError('there are no pictures in it');
    const length = await lengthOf(track);
    if (tell) {
      let frames = 0;
      for await (const sample of new VideoSampleSink(track).samples()) {
        tell(sample.timestamp);
        sample.close();
        frames++;
      }
      if (frames < length.packets) throw new Error(`${frames} of ${length.packets} pictures decode`);
    }
    const first = await track.getFirstTimestamp();
    const times = MOMENTS.map((part) => first + part * length.seconds);
    const pictures: (Uint8ClampedArray | null)[] = [];
    for await (const shown of new CanvasSink(track, GLIMPSE).canvasesAtTimestamps(times)) {
      const context = shown?.canvas.getContext('2d') as OffscreenCanvasRenderingContext2D | null;
      pictures.push(context?.getImageData(0, 0, GLIMPSE.width, GLIMPSE.height).data ?? null);
    }
    return { ...length, pictures };
  } finally {
    input.dispose();
  }
}

/** How many pictures a file has, and what those and its sounds are encoded to. */
export async function insideOf(file: Blob): Promise<Pick<SeenVideo, 'packets' | 'codecs'>> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new Error('there are no pictures in it');
    const { packets } = await lengthOf(track);
    return { packets, codecs: [track, ...(await input.getAudioTracks())].map(({ codec }) => codec) };
  } finally {
    input.dispose();
  }
}
