import { spawn } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { pieceOf } from '$lib/core/pieces';
import { secondsIn } from './report';
import { outputOf, type WantedVideo, type WantedSound } from './wanted';

/** What the converter may take up. */
export interface ConverterLimits {
  /** Bytes of a file that is sent. */
  readonly bytes: number;
  /** Milliseconds for one file. */
  readonly time: number;
  /** Files at once. */
  readonly atOnce: number;
}

const USUAL: ConverterLimits = { bytes: 32e9, time: 3_600_000, atOnce: 2 };

/** Why nothing is converted, with the status that says so over HTTP. */
export class ConverterError extends Error {
  override readonly name = 'ConverterError';
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
 * Decodes, and encodes, what no browser does, by the program that does where the machine has it. A file lies in a folder
 * of its own meanwhile, since some containers tell of their contents at their end.
 */
export class Converter {
  private running = 0;
  private known: Promise<boolean> | null = null;

  /** @param program by its name or its path */
  constructor(
    private readonly program = process.env.LECTORUM_FFMPEG ?? 'ffmpeg',
    private readonly limits: ConverterLimits = USUAL,
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
   * The first sound of a file, as samples of 32 bits in floating point, little-endian, channel by channel in each frame;
   * or a video in Matroska, in pieces (`core/pieces.ts`) between which it is told how far it is.
   * @param signal ends it: whoever asked has gone
   * @throws {ConverterError}
   */
  async convert(
    body: ReadableStream<Uint8Array>,
    wanted: WantedSound | WantedVideo,
    signal: AbortSignal,
  ): Promise<Readable> {
    if (!(await this.isThere()))
      throw new ConverterError(501, 'ffmpeg is not installed on the machine that runs Lectorum');
    if (this.running >= this.limits.atOnce)
      throw new ConverterError(503, 'it converts other files; try again');
    this.running++;
    const folder = await mkdtemp(join(tmpdir(), 'lectorum-converter-'));
    const either = AbortSignal.any([signal, AbortSignal.timeout(this.limits.time)]);
    const end = async () => {
      this.running--;
      await rm(folder, { recursive: true, force: true });
    };
    try {
      const path = join(folder, 'file');
      await this.store(body, path, either);
      const converted = await this.start(path, wanted, either);
      converted.on('close', () => void end());
      return converted;
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
          done(new ConverterError(413, `the file is larger than ${limits.bytes} bytes`));
        else done(null, chunk);
      },
    });
    try {
      await pipeline(Readable.fromWeb(body as NodeStream), counting, createWriteStream(path), { signal });
    } catch (error) {
      if (error instanceof ConverterError) throw error;
      throw new ConverterError(499, signal.aborted ? 'it was given up' : String(error));
    }
  }

  /** What it writes, once the first of it is there. @throws {ConverterError} where there is nothing */
  private async start(
    path: string,
    wanted: WantedSound | WantedVideo,
    signal: AbortSignal,
  ): Promise<Readable> {
    const options = [
      ...['-nostdin', '-v', 'error', '-protocol_whitelist', 'file', '-format_whitelist', CONTAINERS],
      ...['-i', path, ...outputOf(wanted)],
    ];
    const child = spawn(this.program, options, { stdio: ['ignore', 'pipe', 'pipe', 'pipe'], signal });
    const { stdout, stderr } = child as { stdout: Readable; stderr: Readable };
    const reports = child.stdio[3] as Readable;
    let report = '';
    reports.on('data', (chunk: Buffer) => {
      report = (report + chunk.toString('utf8')).slice(-MOST_LETTERS);
    });
    const toldPiece = () => pieceOf('seconds', Buffer.from(String(secondsIn(report) ?? 0)));
    let said = '';
    stderr.on('data', (chunk: Buffer) => {
      if (said.length < MOST_LETTERS) said += chunk.toString('utf8');
    });
    const ended = new Promise<number | null>((resolve) => {
      child.on('error', () => resolve(null));
      child.on('close', resolve);
    });
    const pieces = stdout[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
    const first = await pieces.next();
    if (first.done) {
      await ended;
      const why = said.replaceAll(path, 'the file').trim().slice(0, MOST_LETTERS);
      throw new ConverterError(422, why || 'nothing came out of it');
    }
    const converted = Readable.from(
      (async function* () {
        for (let next: IteratorResult<Buffer> = first; !next.done; next = await pieces.next()) {
          if (wanted.type === 'sound') yield next.value;
          else yield Buffer.concat([toldPiece(), pieceOf('bytes', next.value)]);
        }
        // Half of it must not pass for the whole.
        if ((await ended) !== 0) throw new ConverterError(422, said.trim() || 'converting broke off');
        if (wanted.type === 'video') yield toldPiece();
      })(),
      { objectMode: false },
    );
    converted.on('close', () => child.kill());
    return converted;
  }
}
