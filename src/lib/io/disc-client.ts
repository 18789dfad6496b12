import { array, number, object, string } from 'yup';
import { ServiceError, fetchJson } from './bounded-fetch';

const stateSchema = object({
  disc: string().nullable().defined(),
  tracks: array(
    object({
      number: number().integer().min(1).required(),
      lengthSeconds: number().min(0).required(),
      bytes: number().integer().min(0).required(),
    }),
  )
    .nullable()
    .defined(),
  beside: array(object({ id: string().required(), written: string().required() })),
});

export interface DiscTrack {
  readonly number: number;
  readonly lengthSeconds: number;
  readonly bytes: number;
}

export interface Drive {
  /** Changes with every disc; null when the tray is empty. */
  readonly disc: string | null;
  readonly tracks: readonly DiscTrack[] | null;
  /** Discs that can be put in. */
  readonly beside: readonly { readonly id: string; readonly written: string }[];
}

/** The disc drive, through the routes of its stand-in. */
export class DiscClient {
  constructor(private readonly base = '/disc') {}

  /** @throws {ServiceError} when the drive does not answer */
  state(): Promise<Drive> {
    return this.ask({});
  }

  async insert(disc: string): Promise<Drive> {
    const headers = { 'content-type': 'application/json' };
    await this.ask({ method: 'PUT', body: JSON.stringify({ disc }), headers });
    return this.state();
  }

  async eject(): Promise<Drive> {
    await this.ask({ method: 'DELETE' });
    return this.state();
  }

  /**
   * Reads a whole track.
   * @param onBytes called with the bytes read so far
   * @throws {ServiceError} if it fails or is cancelled
   */
  async read(track: DiscTrack, signal: AbortSignal, onBytes: (count: number) => void): Promise<Blob> {
    const pieces: Uint8Array[] = [];
    let total = 0;
    try {
      const answer = await fetch(`${this.base}/tracks/${track.number}`, { signal });
      const reader = answer.ok ? answer.body?.getReader() : null;
      if (!reader) throw new ServiceError('refused', `status ${answer.status}`);
      for (let step = await reader.read(); !step.done; step = await reader.read()) {
        pieces.push(step.value);
        total += step.value.length;
        onBytes(step.value.length);
      }
    } catch (error) {
      if (signal.aborted) throw new ServiceError('cancelled', 'cancelled');
      if (error instanceof ServiceError) throw error;
      const share = Math.round((100 * total) / track.bytes);
      throw new ServiceError('unreachable', `the disc is damaged: it could be read to ${share} %`);
    }
    if (total !== track.bytes)
      throw new ServiceError('unreachable', `${total} of ${track.bytes} bytes came from the drive`);
    return new Blob(pieces as Uint8Array<ArrayBuffer>[], { type: 'audio/wav' });
  }

  private async ask(init: RequestInit): Promise<Drive> {
    const answer = await fetchJson(this.base, init);
    try {
      const { disc, tracks, beside = [] } = stateSchema.validateSync(answer, { strict: true });
      return { disc, tracks, beside };
    } catch (error) {
      throw new ServiceError('malformed', error instanceof Error ? error.message : String(error));
    }
  }
}
