import { parseJson } from '$lib/core/json';
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

export interface FetchLimits {
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
  { signal, mostBytes = MOST_BYTES, patience = PATIENCE }: FetchLimits = {},
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

/**
 * As much of an answer as the limit allows; `cutOff` if there was more.
 * @throws {ServiceError} if nothing usable arrives
 */
export async function fetchUpTo(
  url: string,
  mostBytes: number,
): Promise<{ readonly bytes: Uint8Array; readonly cutOff: boolean }> {
  const slow = AbortSignal.timeout(PATIENCE);
  try {
    const answer = await fetch(url, { signal: slow });
    if (!answer.ok) throw new ServiceError('refused', `status ${answer.status}: ${await reasonOf(answer)}`);
    return await readPart(answer, mostBytes);
  } catch (error) {
    if (error instanceof ServiceError) throw error;
    if (slow.aborted) throw new ServiceError('tooSlow', `no whole answer within ${PATIENCE / 1000} s`);
    throw new ServiceError('unreachable', error instanceof Error ? error.message : String(error));
  }
}

/** The same as JSON. @throws {ServiceError} also when it is none */
export async function fetchJson(
  url: string,
  init: RequestInit = {},
  asking: FetchLimits = {},
): Promise<unknown> {
  const bytes = await fetchBounded(url, init, asking);
  try {
    return parseJson(new TextDecoder().decode(bytes));
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
  const { bytes, cutOff } = await readPart(answer, most);
  if (cutOff) throw new ServiceError('tooLarge', `the answer passes ${most / 1e6} MB and was given up`);
  return bytes;
}

async function readPart(
  answer: Response,
  most: number,
): Promise<{ readonly bytes: Uint8Array; readonly cutOff: boolean }> {
  const reader = answer.body?.getReader();
  const pieces: Uint8Array[] = [];
  let total = 0;
  let cutOff = false;
  while (reader && !cutOff) {
    const { done, value } = await reader.read();
    if (done) break;
    if (total + value.length > most) {
      cutOff = true;
      await reader.cancel();
    }
    pieces.push(value);
    total += value.length;
  }
  const bytes = new Uint8Array(total);
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return { bytes, cutOff };
}
