import type { Cue, FormatId } from '$lib/core/items';
import type { LoudnessBlocks } from '$lib/core/sound';
import type { HeardLevels, Listened, SoundRequest } from './sound-protocol';
import { newWorker } from './new-worker';
import { WorkerClient } from './worker-client';

/** Milliseconds for a file: the longest audiobook on the slowest machine. */
const LIMIT = 1_800_000;

/** The listening worker of this page; it starts with the first file. */
export class SoundClient {
  private readonly client = new WorkerClient<SoundRequest>(() => newWorker('sound'));

  end(): void {
    this.client.end();
  }

  /** @param whole listens to the end, to know whether all of it decodes. @throws {Error} saying why nothing was heard */
  listen(file: Blob, format: FormatId, whole = false): Promise<Listened> {
    return this.client.ask({ type: 'listen', file, format, whole }, { limit: LIMIT });
  }

  /** How loud a file is, heard to its end. @param onHeard told seconds on the way @throws {Error} as listening does */
  levels(file: Blob, format: FormatId, onHeard: (seconds: number) => void): Promise<HeardLevels> {
    return this.client.ask<HeardLevels, number>(
      { type: 'levels', file, format },
      { limit: LIMIT, onPart: onHeard },
    );
  }

  /** How loud the moments of a file are. @param onHeard told seconds on the way @throws {Error} also where decoding breaks off */
  loudness(file: Blob, format: FormatId, onHeard: (seconds: number) => void): Promise<LoudnessBlocks> {
    return this.client.ask<LoudnessBlocks, number>(
      { type: 'loudness', file, format },
      { limit: LIMIT, onPart: onHeard },
    );
  }

  /** The sound of a file as a WAV. @throws {Error} as listening does */
  plain(file: Blob, format: FormatId): Promise<Blob> {
    return this.client.ask({ type: 'plain', file, format }, { limit: LIMIT });
  }

  /** Some seconds of one track of sound, as a WAV. @throws {Error} as listening does */
  excerpt(file: Blob, format: FormatId, track: number, fromSeconds: number, seconds: number): Promise<Blob> {
    return this.client.ask({ type: 'excerpt', file, format, track, fromSeconds, seconds }, { limit: LIMIT });
  }

  /** A video with one of its sound tracks, without those that are left out. @throws {Error} if it cannot be laid out so */
  withSound(file: Blob, format: FormatId, track: number, leaveOut: readonly number[]): Promise<Blob> {
    return this.client.ask({ type: 'withSound', file, format, track, leaveOut }, { limit: LIMIT });
  }

  /** The first texts of one track of subtitles. @throws {Error} where they are none, or cannot be read */
  texts(file: Blob, format: FormatId, track: number, most: number): Promise<readonly Cue[]> {
    return this.client.ask({ type: 'texts', file, format, track, most }, { limit: LIMIT });
  }

  /** Digest of a file's sound and picture data, tags left aside. @throws {Error} when its structure cannot be read */
  digest(file: Blob, format: FormatId): Promise<string> {
    return this.client.ask({ type: 'digest', file, format }, { limit: LIMIT });
  }
}
