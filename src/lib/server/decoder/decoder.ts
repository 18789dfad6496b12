import { spawn } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeStream } from 'node:stream/web';

/** What the decoder may take up. */
export interface DecoderLimits {
  /** Bytes of a file that is sent. */
  readonly bytes: number;
  /** Milliseconds for one file. */
  readonly time: number;
  /** Files at once. */
  readonly atOnce: number;
}

const USUAL: DecoderLimits = { bytes: 32e9, time: 3_600_000, atOnce: 2 };

/** How a sound is wanted: hertz, and channels. */
export interface WantedSound {
  readonly sampleRate: number;
  readonly channels: number;
}

/** Why nothing is decoded, with the status that says so over HTTP. */
export class DecoderError extends Error {
  override readonly name = 'DecoderError';
  constructor(
    readonly status: 413 | 422 | 499 | 501 | 503,
    detail: string,
  ) {
    super(detail);
  }
}

/** Containers that are read: lists of other files are none of them, since they would lead to files of this machine. */
const CONTAINERS =
  'aac,ac3,aiff,ape,asf,au,avi,caf,dsf,dts,dtshd,eac3,flac,flv,matroska,webm,mov,mp4,m4a,3gp,3g2,mj2,mp3,mpc,mpc8,' +
  'mpeg,mpegts,ogg,truehd,tta,wav,wv';
/** Letters of what it says of a failure that are passed on. */
const MOST_LETTERS = 400;

/**
 * Decodes sounds that no browser decodes, by the program of that name where the machine has it. A file lies in a folder of
 * its own while it is decoded, since some containers tell of their contents at their end.
 */
export class Decoder {
  private running = 0;
  private known: Promise<boolean> | null = null;

  /** @param program by its name or its path */
  constructor(
    private readonly program = process.env.LECTORUM_FFMPEG ?? 'ffmpeg',
    private readonly limits: DecoderLimits = USUAL,
  ) {}

  /** Whether the machine has it. */
  isThere(): Promise<boolean> {
    return (this.known ??= new Promise((resolve) => {
      const asked = spawn(this.program, ['-version'], { stdio: 'ignore' });
      asked.on('error', () => resolve(false));
      asked.on('close', (code) => resolve(code === 0));
    }));
  }

  /**
   * The first sound of a file, as samples of 32 bits in floating point, little-endian, channel by channel in each frame.
   * @param signal ends it: whoever asked has gone
   * @throws {DecoderError}
   */
  async decode(
    body: ReadableStream<Uint8Array>,
    wanted: WantedSound,
    signal: AbortSignal,
  ): Promise<Readable> {
    if (!(await this.isThere()))
      throw new DecoderError(501, 'ffmpeg is not installed on the machine that runs Lectorum');
    if (this.running >= this.limits.atOnce) throw new DecoderError(503, 'it decodes other files; try again');
    this.running++;
    const folder = await mkdtemp(join(tmpdir(), 'lectorum-decoder-'));
    const either = AbortSignal.any([signal, AbortSignal.timeout(this.limits.time)]);
    const end = async () => {
      this.running--;
      await rm(folder, { recursive: true, force: true });
    };
    try {
      const path = join(folder, 'sound');
      await this.store(body, path, either);
      const samples = await this.start(path, wanted, either);
      samples.on('close', () => void end());
      return samples;
    } catch (error) {
      await end();
      throw error;
    }
  }

  private async store(body: ReadableStream<Uint8Array>, path: string, signal: AbortSignal): Promise<void> {
    let bytes = 0;
    const { limits } = this;
    const counting = new Transform({
      transform(chunk: Uint8Array, _, done) {
        bytes += chunk.length;
        if (bytes > limits.bytes)
          done(new DecoderError(413, `the file is larger than ${limits.bytes} bytes`));
        else done(null, chunk);
      },
    });
    try {
      await pipeline(Readable.fromWeb(body as NodeStream), counting, createWriteStream(path), { signal });
    } catch (error) {
      if (error instanceof DecoderError) throw error;
      throw new DecoderError(499, signal.aborted ? 'it was given up' : String(error));
    }
  }

  /** What it writes, once its first samples are there. @throws {DecoderError} where there are none */
  private async start(
    path: string,
    { sampleRate, channels }: WantedSound,
    signal: AbortSignal,
  ): Promise<Readable> {
    const options = [
      ...['-nostdin', '-v', 'error', '-protocol_whitelist', 'file', '-format_whitelist', CONTAINERS],
      ...['-i', path, '-map', '0:a:0', '-f', 'f32le'],
      ...['-ac', String(channels), '-ar', String(sampleRate), 'pipe:1'],
    ];
    const child = spawn(this.program, options, { stdio: ['ignore', 'pipe', 'pipe'], signal });
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => {
      if (said.length < MOST_LETTERS) said += chunk.toString('utf8');
    });
    const ended = new Promise<number | null>((resolve) => {
      child.on('error', () => resolve(null));
      child.on('close', resolve);
    });
    const pieces = child.stdout[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
    const first = await pieces.next();
    if (first.done) {
      await ended;
      const why = said.replaceAll(path, 'the file').trim().slice(0, MOST_LETTERS);
      throw new DecoderError(422, why || 'no sound came out of it');
    }
    const samples = Readable.from(
      (async function* () {
        for (let next: IteratorResult<Buffer> = first; !next.done; next = await pieces.next())
          yield next.value;
        // Half a sound must not pass for a whole one.
        if ((await ended) !== 0) throw new DecoderError(422, said.trim() || 'decoding broke off');
      })(),
      { objectMode: false },
    );
    samples.on('close', () => child.kill());
    return samples;
  }
}
