/** Why an answer of an outside service could not be used. */
export class ServiceError extends Error {
  override readonly name = 'ServiceError';
  constructor(
    readonly code: 'unreachable' | 'refused' | 'tooLarge' | 'malformed' | 'tooSlow' | 'cancelled',
    detail: string,
  ) {
    super(detail);
  }
}

/** Bytes of an answer that are read at the most. */
const MOST_BYTES = 8_000_000;
/** Milliseconds that a service may take for a whole answer. */
const PATIENCE = 20_000;

export interface Asking {
  readonly signal?: AbortSignal | undefined;
  readonly mostBytes?: number;
  readonly patience?: number;
}

/**
 * The answer of a service as bytes, given up when it grows too large or takes too long.
 * @throws {ServiceError} with the reason
 */
export async function fetchBounded(
  url: string,
  init: RequestInit = {},
  { signal, mostBytes = MOST_BYTES, patience = PATIENCE }: Asking = {},
): Promise<Uint8Array> {
  const slow = AbortSignal.timeout(patience);
  const either = signal ? AbortSignal.any([signal, slow]) : slow;
  try {
    const answer = await fetch(url, { ...init, signal: either });
    if (!answer.ok) throw new ServiceError('refused', `status ${answer.status}: ${await reasonOf(answer)}`);
    return await readUpTo(answer, mostBytes);
  } catch (error) {
    if (error instanceof ServiceError) throw error;
    if (signal?.aborted) throw new ServiceError('cancelled', 'cancelled');
    if (slow.aborted) throw new ServiceError('tooSlow', `no whole answer within ${patience / 1000} s`);
    throw new ServiceError('unreachable', error instanceof Error ? error.message : String(error));
  }
}

/** The same as JSON. @throws {ServiceError} also when it is none */
export async function fetchJson(url: string, init: RequestInit = {}, asking: Asking = {}): Promise<unknown> {
  const bytes = await fetchBounded(url, init, asking);
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new ServiceError('malformed', 'the answer is no JSON');
  }
}

async function reasonOf(answer: Response): Promise<string> {
  const text = await answer.text().catch(() => '');
  try {
    return String((JSON.parse(text) as { message?: unknown }).message ?? '').slice(0, 200);
  } catch {
    return text.slice(0, 200);
  }
}

async function readUpTo(answer: Response, most: number): Promise<Uint8Array> {
  const reader = answer.body?.getReader();
  const pieces: Uint8Array[] = [];
  let total = 0;
  while (reader) {
    const { done, value } = await reader.read();
    if (done) break;
    total += value.length;
    if (total > most) {
      await reader.cancel();
      throw new ServiceError('tooLarge', `the answer passes ${most / 1e6} MB and was given up`);
    }
    pieces.push(value);
  }
  const out = new Uint8Array(total);
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}
