import { createHash } from 'node:crypto';
import { createReadStream, statSync, readFileSync } from 'node:fs';
import { resolve, sep } from 'node:path';
import { Readable } from 'node:stream';

/** Files that stand-ins deliver, as they lie in the project's `stand-ins/` folder. */
const root = () => resolve(process.env.LECTORUM_STAND_INS ?? 'stand-ins');

/** @throws {RangeError} for a path that leaves the folder */
export function standInPath(path: string): string {
  const full = resolve(root(), path);
  if (!full.startsWith(root() + sep)) throw new RangeError(`no such file: ${path}`);
  return full;
}

/** Bytes of a file. */
export const sizeOf = (path: string): number => statSync(standInPath(path)).size;

const digests = new Map<string, string>();

/** SHA-256 of a file in hexadecimal. */
export function digestOf(path: string): string {
  let digest = digests.get(path);
  if (!digest) {
    digest = createHash('sha256')
      .update(readFileSync(standInPath(path)))
      .digest('hex');
    digests.set(path, digest);
  }
  return digest;
}

/**
 * A file or the part that a Range header asks for (RFC 9110, section 14): one range, from its first byte on.
 * @param most bytes after which the line breaks off, as a bad line does; null sends all
 */
export function rangeResponse(
  path: string,
  range: string | null,
  type: string,
  most: number | null = null,
): Response {
  const full = standInPath(path);
  const { size } = statSync(full);
  const asked = /^bytes=(\d+)-(\d*)$/.exec(range ?? '');
  const start = asked ? Number(asked[1]) : 0;
  const end = asked?.[2] ? Math.min(size - 1, Number(asked[2])) : size - 1;
  if (start > end)
    return new Response(null, { status: 416, headers: { 'content-range': `bytes */${size}` } });
  const last = most === null ? end : Math.min(end, most - 1);
  const headers: Record<string, string> = { 'content-type': type, 'accept-ranges': 'bytes' };
  if (asked) headers['content-range'] = `bytes ${start}-${end}/${size}`;
  if (last < start) return new Response(new Uint8Array(0), { status: asked ? 206 : 200, headers });
  headers['content-length'] = String(last - start + 1);
  const body = Readable.toWeb(createReadStream(full, { start, end: last })) as ReadableStream<Uint8Array>;
  return new Response(body, { status: asked ? 206 : 200, headers });
}
