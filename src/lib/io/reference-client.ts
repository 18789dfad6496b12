import { readReleases, type LookUp, type ReferenceRelease } from '$lib/core/identify';
import { ServiceError, fetchBounded, fetchJson } from './bounded-fetch';

/** The result of a look-up. */
export interface LookUpAnswer {
  readonly releases: readonly ReferenceRelease[];
  /** For each fingerprint asked with: entries that sound alike, with the share of differing bits. */
  readonly heard: readonly Readonly<Record<string, number>>[];
  /** Releases that were malformed or too many. */
  readonly dropped: number;
}

/** The reference over HTTP. */
export class ReferenceClient {
  constructor(private readonly base = '/reference') {}

  /** @throws {ServiceError} when no usable answer comes */
  async lookUp(query: LookUp, signal?: AbortSignal): Promise<LookUpAnswer> {
    const headers = { 'content-type': 'application/json' };
    const answer = await fetchJson(
      `${this.base}/search`,
      { method: 'POST', body: JSON.stringify(query), headers },
      { signal },
    );
    try {
      return { ...readReleases(answer), heard: readHeard(answer, query.fingerprints?.length ?? 0) };
    } catch (error) {
      if (error instanceof TypeError) throw new ServiceError('malformed', error.message);
      throw error;
    }
  }

  /** A release's picture at one of its sizes. @throws {ServiceError} when it cannot be had */
  async picture(release: string, size: number): Promise<Blob> {
    const bytes = await fetchBounded(`${this.base}/pictures/${encodeURIComponent(release)}/${size}`);
    return new Blob([bytes as Uint8Array<ArrayBuffer>]);
  }

  /** The words of a song, or null when the reference has none. */
  async lyrics(entry: string): Promise<string | null> {
    try {
      const answer = await fetchJson(`${this.base}/lyrics/${encodeURIComponent(entry)}`);
      const { lyrics } = answer as { lyrics?: unknown };
      return typeof lyrics === 'string' ? lyrics : null;
    } catch (error) {
      if (error instanceof ServiceError && error.code === 'refused') return null;
      throw error;
    }
  }
}

function readHeard(answer: unknown, count: number): Readonly<Record<string, number>>[] {
  const list = (answer as { heard?: unknown }).heard;
  return Array.from({ length: count }, (_, index) => {
    const one: unknown = Array.isArray(list) ? list[index] : null;
    const pairs = Object.entries((one ?? {}) as Record<string, unknown>);
    return Object.fromEntries(
      pairs.filter(
        (pair): pair is [string, number] => typeof pair[1] === 'number' && pair[1] >= 0 && pair[1] <= 1,
      ),
    );
  });
}
