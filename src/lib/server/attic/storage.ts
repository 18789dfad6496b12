import { createHash } from 'node:crypto';
import { constants, createReadStream, createWriteStream, type Stats } from 'node:fs';
import { link, lstat, mkdir, open, readdir, rename, rm, rmdir, stat, unlink } from 'node:fs/promises';
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
    readonly status: 400 | 403 | 404 | 409 | 507,
    message: string,
  ) {
    super(message);
  }
}

const root = () => resolve(process.env.LECTORUM_ATTIC ?? '.attic');
/** Where files lie while they come: hidden, as all folders that begin with a dot. */
const ARRIVING = '.arriving';
const digests = new Map<string, { size: number; modified: number; digest: string }>();

/** Where a path lies on disk. @throws {StorageError} 400 for a path that leaves the root */
function locate(path: string): string {
  const parts = path.split('/');
  const bad = parts.some((part) => part === '' || part === '.' || part === '..' || /[\0\\]/.test(part));
  if (bad || !path.isWellFormed()) throw new StorageError(400, 'not a path below the root');
  if (parts.some((part) => Buffer.byteLength(part) > 240))
    throw new StorageError(400, 'a name is too long for this disk');
  const full = join(root(), ...parts);
  if (!full.startsWith(root() + sep)) throw new StorageError(400, 'not a path below the root');
  return full;
}

/** The same, for a path none of whose parts is a link: what it leads to is not Attic's. */
async function locateReal(path: string): Promise<string> {
  const full = locate(path);
  for (let at = full; at !== root(); at = dirname(at)) {
    const facts = await lstat(at).catch(() => null);
    if (facts?.isSymbolicLink()) throw new StorageError(403, 'a link, which Attic does not follow');
  }
  return full;
}

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code ?? '';

const REFUSALS: Readonly<Record<string, StorageError>> = {
  ENOENT: new StorageError(404, 'there is no such file'),
  ENOTDIR: new StorageError(409, 'a file stands where a folder has to be'),
  EEXIST: new StorageError(409, 'a file of that name is there'),
  EISDIR: new StorageError(409, 'a folder of that name is there'),
  ENOTEMPTY: new StorageError(409, 'the folder is not empty'),
  ELOOP: new StorageError(403, 'a link, which Attic does not follow'),
  EACCES: new StorageError(403, 'Attic may not do that on its disk'),
  EPERM: new StorageError(403, 'Attic may not do that on its disk'),
  ENOSPC: new StorageError(507, 'the disk is full'),
  EDQUOT: new StorageError(507, 'the disk is full'),
  ENAMETOOLONG: new StorageError(400, 'a name is too long for this disk'),
  EINVAL: new StorageError(400, 'the disk does not take that name'),
  ERR_FS_EISDIR: new StorageError(409, 'a folder of that name is there'),
};

function told(error: unknown): never {
  if (error instanceof StorageError) throw error;
  throw REFUSALS[codeOf(error)] ?? error;
}

let turn: Promise<unknown> = Promise.resolve();

/** Changes of names go one after another, so that of two that want one name only the first gets it. */
function inTurn<T>(act: () => Promise<T>): Promise<T> {
  const mine = turn.then(act).catch(told);
  turn = mine.catch(() => undefined);
  return mine;
}

/** Every file in the open; what lies in folders that begin with a dot is not shown, nor are links. */
export async function listFiles(): Promise<StoredFile[]> {
  const found: StoredFile[] = [];
  const walk = async (folder: string): Promise<void> => {
    const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
    for (const entry of entries) {
      const full = join(folder, entry.name);
      if (entry.name.startsWith('.')) continue;
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
async function factsOf(full: string): Promise<Stats> {
  return lstat(full).catch((error: unknown) => {
    // What lies below a file is not there either.
    if (codeOf(error) === 'ENOTDIR') throw new StorageError(404, 'there is no such file');
    return told(error);
  });
}

/** @throws {StorageError} 404 when it is not there */
export async function findFile(path: string): Promise<StoredFile> {
  const full = await locateReal(path);
  if (!(await factsOf(full)).isFile()) throw new StorageError(404, 'there is no such file');
  return describe(full);
}

/** @throws {StorageError} 404 when there is no folder at this path */
export async function findFolder(path: string): Promise<void> {
  if (!(await factsOf(await locateReal(path))).isDirectory())
    throw new StorageError(404, 'there is no such folder');
}

/** Receives a file whole or not at all: it gets its name only once all of it has come. */
export async function receiveFile(
  path: string,
  body: ReadableStream<Uint8Array>,
  expectedBytes: number | null,
): Promise<StoredFile> {
  const full = await locateReal(path);
  if (await exists(full)) throw REFUSALS.EEXIST as StorageError;
  const part = join(root(), ARRIVING, `${process.pid}-${process.hrtime.bigint()}`);
  try {
    await mkdir(dirname(part), { recursive: true });
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
    const digest = hash.digest('hex');
    await inTurn(async () => {
      await mkdir(dirname(full), { recursive: true });
      await takeName(part, full);
    });
    digests.set(full, { size, modified: (await stat(full)).mtimeMs, digest });
    return { path, size, digest };
  } catch (error) {
    await rm(part, { force: true });
    return told(error);
  } finally {
    await rmdir(dirname(part)).catch(() => undefined);
  }
}

/** Gives a file another name, unless something has it: a rename alone would write over it. */
async function takeName(from: string, to: string): Promise<void> {
  try {
    await link(from, to);
  } catch (error) {
    if (!['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK'].includes(codeOf(error))) throw error;
    // A disk without links: names are taken in turn, so none can come between.
    if (await exists(to)) throw REFUSALS.EEXIST;
    await rename(from, to);
    return;
  }
  await unlink(from);
}

export async function moveFile(from: string, to: string): Promise<void> {
  const source = await locateReal(from);
  const target = await locateReal(to);
  await inTurn(async () => {
    if (!(await factsOf(source)).isFile()) throw new StorageError(404, 'there is no such file');
    if (await exists(target)) throw REFUSALS.EEXIST;
    await mkdir(dirname(target), { recursive: true });
    await takeName(source, target);
    const known = digests.get(source);
    digests.delete(source);
    if (known) digests.set(target, known);
  });
}

export async function removeFile(path: string): Promise<void> {
  const full = await locateReal(path);
  await inTurn(async () => {
    if (!(await factsOf(full)).isFile()) throw new StorageError(404, 'there is no such file');
    await unlink(full);
    digests.delete(full);
  });
}

export async function makeFolder(path: string): Promise<void> {
  const full = await locateReal(path);
  await inTurn(() => mkdir(full, { recursive: true }));
}

/** Removes a folder when nothing is in it. */
export async function removeEmptyFolder(path: string): Promise<void> {
  const full = await locateReal(path);
  await inTurn(() => rmdir(full).catch(() => undefined));
}

async function exists(full: string): Promise<boolean> {
  return lstat(full).then(
    () => true,
    () => false,
  );
}

/** The bytes of [start, end) of a file, which must not be empty. */
export async function readFile(
  path: string,
  start: number,
  end: number,
): Promise<ReadableStream<Uint8Array>> {
  const full = await locateReal(path);
  const file = await open(full, constants.O_RDONLY | constants.O_NOFOLLOW).catch(told);
  const stream = file.createReadStream({ start, end: end - 1 });
  return Readable.toWeb(stream) as ReadableStream<Uint8Array>;
}

/** Where a stored file lies on disk, for Attic's own scan. */
export const diskPath = locate;
