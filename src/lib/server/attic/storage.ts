import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, rmdir, stat } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';

/** Attic's own shelf of files: a folder on disk. It knows nothing of who fills it. */

export interface StoredFile {
  readonly path: string;
  /** Bytes. */
  readonly size: number;
  /** SHA-256 in hexadecimal. */
  readonly digest: string;
}

export class StorageError extends Error {
  constructor(
    /** HTTP status that says it best. */
    readonly status: 400 | 404 | 409 | 507,
    message: string,
  ) {
    super(message);
  }
}

const root = () => resolve(process.env.LECTORUM_ATTIC ?? '.attic');
const PART = '.part';
const digests = new Map<string, { size: number; modified: number; digest: string }>();

/** Where a path lies on disk. @throws {StorageError} 400 for a path that leaves the root */
function locate(path: string): string {
  const parts = path.split('/');
  const bad = parts.some((part) => part === '' || part === '.' || part === '..' || /[\0\\]/.test(part));
  if (bad) throw new StorageError(400, 'not a path below the root');
  if (parts.some((part) => Buffer.byteLength(part) > 240))
    throw new StorageError(400, 'a name is too long for this disk');
  const full = join(root(), ...parts);
  if (!full.startsWith(root() + sep)) throw new StorageError(400, 'not a path below the root');
  return full;
}

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code;

function told(error: unknown): never {
  if (error instanceof StorageError) throw error;
  const code = codeOf(error);
  if (code === 'ENOENT' || code === 'ENOTDIR') throw new StorageError(404, 'there is no such file');
  if (code === 'ENOSPC' || code === 'EDQUOT') throw new StorageError(507, 'the disk is full');
  if (code === 'ENAMETOOLONG') throw new StorageError(400, 'a name is too long for this disk');
  throw error;
}

/** Every file in the open; what lies in folders that begin with a dot is not shown. */
export async function listFiles(): Promise<StoredFile[]> {
  const found: StoredFile[] = [];
  const walk = async (folder: string): Promise<void> => {
    const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
    for (const entry of entries) {
      const full = join(folder, entry.name);
      if (entry.name.startsWith('.') || entry.name.endsWith(PART)) continue;
      if (entry.isDirectory()) await walk(full);
      else if (entry.isFile()) found.push(await describe(full));
    }
  };
  await walk(root());
  return found;
}

async function describe(full: string): Promise<StoredFile> {
  const { size, mtimeMs } = await stat(full);
  const known = digests.get(full);
  const path = relative(root(), full).split(sep).join('/');
  if (known?.size === size && known.modified === mtimeMs) return { path, size, digest: known.digest };
  const hash = createHash('sha256');
  await pipeline(createReadStream(full), hash);
  const digest = hash.digest('hex');
  digests.set(full, { size, modified: mtimeMs, digest });
  return { path, size, digest };
}

/** @throws {StorageError} 404 when it is not there */
export async function findFile(path: string): Promise<StoredFile> {
  const full = locate(path);
  const facts = await stat(full).catch(told);
  if (!facts.isFile()) throw new StorageError(404, 'there is no such file');
  return describe(full);
}

/** Receives a file whole or not at all: it gets its name only once all of it has come. */
export async function receiveFile(
  path: string,
  body: ReadableStream<Uint8Array>,
  expectedBytes: number | null,
): Promise<StoredFile> {
  const full = locate(path);
  const part = `${full}.${process.hrtime.bigint()}${PART}`;
  if (await exists(full)) throw new StorageError(409, 'a file of that name is there');
  try {
    await mkdir(dirname(full), { recursive: true });
    const hash = createHash('sha256');
    let size = 0;
    const count = new Transform({
      transform(chunk: Buffer, _encoding, next) {
        hash.update(chunk);
        size += chunk.length;
        next(null, chunk);
      },
    });
    await pipeline(Readable.fromWeb(body as NodeReadableStream<Uint8Array>), count, createWriteStream(part));
    if (expectedBytes !== null && size !== expectedBytes)
      throw new StorageError(400, `got ${size} of ${expectedBytes} bytes`);
    await rename(part, full);
    const digest = hash.digest('hex');
    digests.set(full, { size, modified: (await stat(full)).mtimeMs, digest });
    return { path, size, digest };
  } catch (error) {
    await rm(part, { force: true });
    return told(error);
  }
}

export async function moveFile(from: string, to: string): Promise<void> {
  const source = locate(from);
  const target = locate(to);
  if (await exists(target)) throw new StorageError(409, 'a file of that name is there');
  try {
    await mkdir(dirname(target), { recursive: true });
    await rename(source, target);
  } catch (error) {
    told(error);
  }
  const known = digests.get(source);
  digests.delete(source);
  if (known) digests.set(target, known);
}

export async function removeFile(path: string): Promise<void> {
  await rm(locate(path)).catch(told);
}

export async function makeFolder(path: string): Promise<void> {
  await mkdir(locate(path), { recursive: true }).catch(told);
}

/** Removes a folder when nothing is in it. */
export async function removeEmptyFolder(path: string): Promise<void> {
  await rmdir(locate(path)).catch(() => undefined);
}

async function exists(full: string): Promise<boolean> {
  return stat(full).then(
    () => true,
    () => false,
  );
}

/** The bytes of [start, end) of a file. */
export function readFile(path: string, start: number, end: number): ReadableStream<Uint8Array> {
  const stream = createReadStream(locate(path), { start, end: Math.max(start, end - 1) });
  return Readable.toWeb(stream) as ReadableStream<Uint8Array>;
}

/** Where a stored file lies on disk, for Attic's own scan. */
export const diskPath = locate;
