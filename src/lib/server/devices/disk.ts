import { createHash } from 'node:crypto';
import { constants, createReadStream, createWriteStream, type Stats } from 'node:fs';
import {
  link,
  lstat,
  mkdir,
  open,
  readdir,
  rename,
  rm,
  rmdir,
  stat,
  unlink,
  writeFile,
} from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';

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

/** What a device's file system does not take. */
export interface DiskRules {
  /** Bytes of the whole disk. */
  readonly room: number;
  /** Bytes that are taken by what is not shown: programs, and what they keep. */
  readonly others: number;
  /** Two names that differ in letter case alone are the same to it. */
  readonly blindToCase: boolean;
  /** Why it does not take a path, or null where it does. */
  refusal(path: string): string | null;
}

/** Where files lie while they come: hidden, as all folders that begin with a dot. */
const ARRIVING = '.arriving';

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code ?? '';

const REFUSALS: Readonly<Record<string, StorageError>> = {
  ENOENT: new StorageError(404, 'there is no such file'),
  ENOTDIR: new StorageError(409, 'a file stands where a folder has to be'),
  EEXIST: new StorageError(409, 'a file of that name is there'),
  EISDIR: new StorageError(409, 'a folder of that name is there'),
  ENOTEMPTY: new StorageError(409, 'the folder is not empty'),
  ELOOP: new StorageError(403, 'a link, which the device does not follow'),
  EACCES: new StorageError(403, 'the device may not do that on its disk'),
  EPERM: new StorageError(403, 'the device may not do that on its disk'),
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

/** A device's own disk: a folder of the machine with the limits of the device. It knows nothing of who fills it. */
export class Disk {
  /** The disk is told to be full, whatever lies on it. */
  isFull = false;
  private readonly digests = new Map<string, { size: number; modified: number; digest: string }>();
  private turn: Promise<unknown> = Promise.resolve();
  /** Bytes that lie on it, what is hidden included; null before they were counted, for each place of the disk. */
  private taken: { readonly at: string; bytes: number } | null = null;
  private counting: { readonly at: string; readonly done: Promise<void> } | null = null;

  /** @param place where the disk lies on the machine, asked for at every use */
  constructor(
    private readonly place: () => string,
    private readonly rules: DiskRules,
  ) {}

  private get root(): string {
    return resolve(this.place());
  }

  /** Bytes of the disk, those that files take, and those that are taken by what is not shown. */
  async room(): Promise<{ readonly room: number; readonly used: number; readonly others: number }> {
    const { room, others } = this.rules;
    return { room, used: await this.used(), others };
  }

  /** Where a path lies on the machine. @throws {StorageError} 400 for a path that leaves the root or is not taken */
  locate(path: string): string {
    const parts = path.split('/');
    const bad = parts.some((part) => part === '' || part === '.' || part === '..' || /[\0\\]/.test(part));
    if (bad || !path.isWellFormed()) throw new StorageError(400, 'not a path below the root');
    const refusal = this.rules.refusal(path);
    if (refusal !== null) throw new StorageError(400, refusal);
    const { root } = this;
    const full = join(root, ...parts);
    if (!full.startsWith(root + sep)) throw new StorageError(400, 'not a path below the root');
    return full;
  }

  /** Every file in the open; what lies in folders that begin with a dot is not shown, nor are links. */
  async list(): Promise<StoredFile[]> {
    const found: StoredFile[] = [];
    for await (const { full, isHidden } of filesBelow(this.root, false))
      if (!isHidden) found.push(...(await this.describeIfThere(full)));
    return found;
  }

  /** Files right in a folder, hidden or not; none where there is no such folder. */
  async listFolder(path: string): Promise<StoredFile[]> {
    const full = await this.locateReal(path);
    const entries = await readdir(full, { withFileTypes: true }).catch(() => []);
    const files = entries.filter((entry) => entry.isFile());
    return (await Promise.all(files.map(({ name }) => this.describeIfThere(join(full, name))))).flat();
  }

  /** @throws {StorageError} 404 when it is not there */
  async find(path: string): Promise<StoredFile> {
    const full = await this.locateReal(path);
    if (!(await factsOf(full)).isFile()) throw new StorageError(404, 'there is no such file');
    return this.describe(full);
  }

  /** @throws {StorageError} 404 when there is no folder at this path */
  async findFolder(path: string): Promise<void> {
    if (!(await factsOf(await this.locateReal(path))).isDirectory())
      throw new StorageError(404, 'there is no such folder');
  }

  /** Receives a file whole or not at all: it gets its name only once all of it has come. */
  async receive(
    path: string,
    body: ReadableStream<Uint8Array>,
    expectedBytes: number | null,
  ): Promise<StoredFile> {
    if (await exists(await this.locateReal(path))) throw REFUSALS.EEXIST as StorageError;
    await this.makeRoom(expectedBytes ?? 0);
    const part = join(this.root, ARRIVING, `${process.pid}-${process.hrtime.bigint()}`);
    try {
      await this.inTurn(() => mkdir(dirname(part), { recursive: true }).then(() => writeFile(part, '')));
      const { size, digest } = await this.take(body, part);
      if (expectedBytes !== null && size !== expectedBytes)
        throw new StorageError(400, `got ${size} of ${expectedBytes} bytes`);
      const full = await this.inTurn(async () => {
        // What has come since may have the name, or a folder's, in other letter case.
        const named = await this.locateReal(path);
        if (await exists(named)) throw REFUSALS.EEXIST;
        await mkdir(dirname(named), { recursive: true });
        await takeName(part, named);
        if (this.taken) this.taken.bytes += size;
        return named;
      });
      this.digests.set(full, { size, modified: (await stat(full)).mtimeMs, digest });
      return { path, size, digest };
    } catch (error) {
      await rm(part, { force: true });
      return told(error);
    } finally {
      // In turn, so that it does not go between another one's folder and its file.
      await this.inTurn(() => rmdir(dirname(part)).catch(() => undefined));
    }
  }

  async move(from: string, to: string): Promise<void> {
    await this.inTurn(async () => {
      const source = await this.locateReal(from);
      const target = await this.locateReal(to);
      if (!(await factsOf(source)).isFile()) throw new StorageError(404, 'there is no such file');
      if (await exists(target)) throw REFUSALS.EEXIST;
      await mkdir(dirname(target), { recursive: true });
      await takeName(source, target);
      const known = this.digests.get(source);
      this.digests.delete(source);
      if (known) this.digests.set(target, known);
    });
  }

  async remove(path: string): Promise<void> {
    await this.inTurn(async () => {
      const full = await this.locateReal(path);
      const facts = await factsOf(full);
      if (!facts.isFile()) throw new StorageError(404, 'there is no such file');
      await unlink(full);
      if (this.taken) this.taken.bytes -= facts.size;
      this.digests.delete(full);
    });
  }

  async makeFolder(path: string): Promise<void> {
    await this.inTurn(async () => mkdir(await this.locateReal(path), { recursive: true }));
  }

  /** Removes a folder when nothing is in it. */
  async removeEmptyFolder(path: string): Promise<void> {
    await this.inTurn(async () => rmdir(await this.locateReal(path)).catch(() => undefined));
  }

  /** The bytes of [start, end) of a file, which must not be empty. */
  async read(path: string, start: number, end: number): Promise<ReadableStream<Uint8Array>> {
    const full = await this.locateReal(path);
    const file = await open(full, constants.O_RDONLY | constants.O_NOFOLLOW).catch(told);
    const stream = file.createReadStream({ start, end: end - 1 });
    return Readable.toWeb(stream) as ReadableStream<Uint8Array>;
  }

  /** Writes what comes to a part of its own, as long as there is room. */
  private async take(
    body: ReadableStream<Uint8Array>,
    part: string,
  ): Promise<{ readonly size: number; readonly digest: string }> {
    const hash = createHash('sha256');
    const free = await this.free();
    let size = 0;
    const count = new Transform({
      transform(chunk: Buffer, _encoding, next) {
        hash.update(chunk);
        size += chunk.length;
        next(size > free ? REFUSALS.ENOSPC : null, chunk);
      },
    });
    await pipeline(Readable.fromWeb(body as NodeReadableStream<Uint8Array>), count, createWriteStream(part));
    return { size, digest: hash.digest('hex') };
  }

  private async makeRoom(bytes: number): Promise<void> {
    if (bytes > (await this.free())) throw REFUSALS.ENOSPC as StorageError;
  }

  private async free(): Promise<number> {
    const { room, others } = this.rules;
    return this.isFull ? 0 : room - others - (await this.used());
  }

  /** All wait for one count: nothing comes before it is done, since what was coming once is cleared away by it. */
  private async used(): Promise<number> {
    const { root } = this;
    if (this.taken?.at === root) return this.taken.bytes;
    if (this.counting?.at !== root)
      this.counting = { at: root, done: this.count(root).finally(() => (this.counting = null)) };
    await this.counting.done;
    return this.taken?.at === root ? this.taken.bytes : this.used();
  }

  private async count(root: string): Promise<void> {
    let bytes = 0;
    for await (const { full } of filesBelow(root, true))
      if (full.startsWith(join(root, ARRIVING) + sep))
        // What was coming when the device lost its power never got its name.
        await rm(full, { force: true });
      else bytes += (await stat(full)).size;
    this.taken = { at: root, bytes };
  }

  /** Where a path lies, none of whose parts is a link: what it leads to is not the device's. */
  private async locateReal(path: string): Promise<string> {
    const full = this.rules.blindToCase ? await this.asSpelled(this.locate(path)) : this.locate(path);
    for (let at = full; at !== this.root; at = dirname(at)) {
      const facts = await lstat(at).catch(() => null);
      if (facts?.isSymbolicLink()) throw REFUSALS.ELOOP as StorageError;
    }
    return full;
  }

  /** The path as its parts are spelled on the disk, to which letter case makes no difference. */
  private async asSpelled(full: string): Promise<string> {
    if (await exists(full)) return full;
    let at = this.root;
    for (const part of relative(at, full).split(sep)) {
      const names: string[] = await readdir(at).catch(() => []);
      const own = part.toLowerCase();
      const spelled = names.find((name) => name === part) ?? names.find((name) => name.toLowerCase() === own);
      at = join(at, spelled ?? part);
    }
    return at;
  }

  /** Nothing for a file that was removed or renamed since its folder was listed. */
  private async describeIfThere(full: string): Promise<readonly StoredFile[]> {
    try {
      return [await this.describe(full)];
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return [];
      throw error;
    }
  }

  private async describe(full: string): Promise<StoredFile> {
    const { size, mtimeMs } = await stat(full);
    const known = this.digests.get(full);
    const path = relative(this.root, full).split(sep).join('/');
    if (known?.size === size && known.modified === mtimeMs) return { path, size, digest: known.digest };
    const hash = createHash('sha256');
    await pipeline(createReadStream(full), hash);
    const digest = hash.digest('hex');
    this.digests.set(full, { size, modified: mtimeMs, digest });
    return { path, size, digest };
  }

  /** Changes of names go one after another, so that of two that want one name only the first gets it. */
  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const mine = this.turn.then(act).catch(told);
    this.turn = mine.catch(() => undefined);
    return mine;
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

/** All files below a folder, without links. @param hidden whether those in folders that begin with a dot too */
async function* filesBelow(
  folder: string,
  hidden: boolean,
): AsyncGenerator<{ readonly full: string; readonly isHidden: boolean }> {
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
  for (const entry of entries) {
    const full = join(folder, entry.name);
    const isHidden = entry.name.startsWith('.');
    if (isHidden && !hidden) continue;
    if (entry.isDirectory()) yield* filesBelow(full, hidden);
    else if (entry.isFile()) yield { full, isHidden };
  }
}

/** @throws {StorageError} 404 when it is not there */
async function factsOf(full: string): Promise<Stats> {
  return lstat(full).catch((error: unknown) => {
    // What lies below a file is not there either.
    if (codeOf(error) === 'ENOTDIR') throw new StorageError(404, 'there is no such file');
    return told(error);
  });
}

async function exists(full: string): Promise<boolean> {
  return lstat(full).then(
    () => true,
    () => false,
  );
}
