import { array, boolean, number, object, string } from 'yup';
import { ServiceError, fetchJson } from './bounded-fetch';

const trackSchema = object({
  id: string().required(),
  number: number().integer().min(0).nullable().defined(),
  title: string().required(),
  offered: boolean().required(),
  artist: string().required(),
  album: string().nullable().defined(),
  year: number().integer().nullable().defined(),
  tracks: number().integer().nullable().defined(),
  extension: string()
    .matches(/^[a-z0-9]{2,5}$/)
    .required(),
  bytes: number().integer().min(0).nullable().defined(),
  sha256: string()
    .matches(/^[0-9a-f]{64}$/)
    .nullable()
    .defined(),
});
const shelfSchema = object({
  name: string().required(),
  artists: array(
    object({
      id: string().required(),
      name: string().required(),
      albums: array(
        object({
          id: string().required(),
          title: string().required(),
          year: number().integer().nullable().defined(),
          tracks: array(trackSchema).required(),
        }),
      ).required(),
      singles: array(trackSchema).required(),
    }),
  ).required(),
});

export interface ShelfTrack {
  readonly id: string;
  readonly number: number | null;
  readonly title: string;
  /** False if its owner does not offer it for download. */
  readonly offered: boolean;
  readonly artist: string;
  readonly album: string | null;
  readonly year: number | null;
  readonly tracks: number | null;
  readonly extension: string;
  readonly bytes: number | null;
  readonly sha256: string | null;
}

export interface Shelf {
  readonly name: string;
  readonly artists: readonly {
    readonly id: string;
    readonly name: string;
    readonly albums: readonly {
      readonly id: string;
      readonly title: string;
      readonly year: number | null;
      readonly tracks: readonly ShelfTrack[];
    }[];
    readonly singles: readonly ShelfTrack[];
  }[];
}

/** Bytes per request: an interrupted connection loses no more than this. */
const PIECE_BYTES = 262_144;

/** A remote shelf over HTTP. */
export class ShelfClient {
  constructor(readonly base = '/shelf') {}

  /** The content of an address of the shelf; for the shelf's own address all of it. @throws {ServiceError} */
  async describe(address: string): Promise<Shelf> {
    const answer = await fetchJson(this.pathOf(address));
    try {
      return shelfSchema.validateSync(answer, { strict: true });
    } catch (error) {
      throw new ServiceError('malformed', error instanceof Error ? error.message : String(error));
    }
  }

  /**
   * The bytes of a track from `from` on, piece by piece (RFC 9110, section 14).
   * @throws {ServiceError} if the connection fails; earlier pieces were already returned
   */
  async *fetchFrom(track: ShelfTrack, from: number, signal: AbortSignal): AsyncGenerator<Uint8Array> {
    const total = track.bytes ?? 0;
    for (let at = from; at < total;) {
      const last = Math.min(total, at + PIECE_BYTES) - 1;
      const piece = await this.piece(track, at, last, signal);
      if (piece.length === 0)
        throw new ServiceError('unreachable', `the shelf sent ${at} of ${total} bytes and no more`);
      yield piece;
      at += piece.length;
    }
  }

  private async piece(
    track: ShelfTrack,
    first: number,
    last: number,
    signal: AbortSignal,
  ): Promise<Uint8Array> {
    try {
      const answer = await fetch(`${this.base}/files/${encodeURIComponent(track.id)}`, {
        signal,
        headers: { range: `bytes=${first}-${last}` },
      });
      if (answer.status !== 206)
        throw new ServiceError('refused', `status ${answer.status} instead of a part`);
      const bytes = new Uint8Array(await answer.arrayBuffer());
      return bytes.subarray(0, last - first + 1);
    } catch (error) {
      if (signal.aborted) throw new ServiceError('cancelled', 'cancelled');
      if (error instanceof ServiceError) throw error;
      throw new ServiceError('unreachable', `the line broke at ${first} bytes`);
    }
  }

  /** A typed address as a path: with or without a host, of the shelf or of something on it. */
  private pathOf(address: string): string {
    const path = address.trim().replace(/^[a-z]+:\/\/[^/]+/i, '');
    const inside = new RegExp(`^${this.base}(/(artists|albums|tracks)/[\\w.-]+)?/?$`).exec(path);
    if (!inside) throw new ServiceError('refused', 'that is no address of a shelf');
    return path.replace(/\/$/, '');
  }
}

/** SHA-256 of a blob in hexadecimal. */
export async function sha256(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
