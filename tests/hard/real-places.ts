import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import type { ByteSource } from '../../src/lib/core/bytes';
import type { ThereFile } from '../../src/lib/core/plan';
import { type TargetRoom, type Store } from '../../src/lib/core/run';
import { DeviceStore } from '../../src/lib/io/stores/device-store';
import { FolderStore } from '../../src/lib/io/stores/folder-store';
import { MemoryFolder, type MemoryFile } from '../helpers/memory-folder';
import { cheapDigest, type TrialPlace } from './run-world';

/*
 * The places that the application writes to, for trials: the devices of the house over their routes, and a chosen
 * folder. Digests are told in the cheap form that trials compare; that real ones are right is held elsewhere.
 */

/** Asks a real store, and tells what it says in the terms of trials. */
abstract class RealPlace implements TrialPlace {
  abstract readonly files: ReadonlyMap<string, Uint8Array>;
  abstract readonly folders: readonly string[];
  abstract put(path: string, bytes: Uint8Array): void;
  abstract take(path: string): void;
  protected abstract readonly store: Store<Blob>;

  /** Called before the store is asked for anything. */
  protected turnTo(): void {}

  private ask(): Store<Blob> {
    this.turnTo();
    return this.store;
  }

  private told(file: ThereFile): ThereFile {
    const bytes = file.digest === null ? null : this.files.get(file.path);
    const { path, size } = file;
    return { path, size, digest: bytes ? cheapDigest(bytes) : null };
  }

  async list(): Promise<readonly ThereFile[]> {
    return (await this.ask().list()).map((file) => this.told(file));
  }

  room(): Promise<TargetRoom | null> {
    return this.ask().room();
  }

  listHeld(folder: string): Promise<readonly ThereFile[]> {
    return this.ask().listHeld(folder);
  }

  makeFolder(path: string): Promise<void> {
    return this.ask().makeFolder(path);
  }

  hasFolder(path: string): Promise<boolean> {
    return this.ask().hasFolder(path);
  }

  async write(path: string, content: Uint8Array): Promise<{ size: number; digest: string }> {
    const { size } = await this.ask().write(path, new Blob([content as Uint8Array<ArrayBuffer>]));
    return { size, digest: cheapDigest(content) };
  }

  move(from: string, to: string): Promise<void> {
    return this.ask().move(from, to);
  }

  remove(path: string): Promise<void> {
    return this.ask().remove(path);
  }

  removeEmptyFolder(path: string): Promise<void> {
    return this.ask().removeEmptyFolder(path);
  }

  async find(path: string): Promise<ThereFile | null> {
    const found = await this.ask().find(path);
    return found && this.told(found);
  }

  read(path: string): Promise<ByteSource> {
    return this.ask().read(path);
  }
}

/** Where uploads lie on a device until they are whole. */
const ARRIVING = '.arriving';
const made: string[] = [];

/** A device of the house with a disk of its own. Requests have to be answered by its routes. */
export class DevicePlace extends RealPlace {
  protected readonly store: DeviceStore;
  private readonly home = mkdtempSync(join(tmpdir(), 'lectorum-sync-'));
  private readonly disk: string;

  constructor(device: string) {
    super();
    made.push(this.home);
    this.disk = join(this.home, device);
    mkdirSync(this.disk);
    this.store = new DeviceStore(device);
  }

  protected override turnTo(): void {
    process.env.LECTORUM_DEVICES = this.home;
  }

  private get all() {
    return readdirSync(this.disk, { withFileTypes: true, recursive: true })
      .map((entry) => ({ entry, path: join(entry.parentPath, entry.name).slice(this.disk.length + 1) }))
      .filter(({ path }) => !path.startsWith(ARRIVING));
  }

  get files(): ReadonlyMap<string, Uint8Array> {
    const files = this.all.filter(({ entry }) => entry.isFile());
    return new Map(files.map(({ path }) => [path, new Uint8Array(readFileSync(join(this.disk, path)))]));
  }

  get folders(): readonly string[] {
    return this.all.filter(({ entry }) => entry.isDirectory()).map(({ path }) => path);
  }

  put(path: string, bytes: Uint8Array): void {
    mkdirSync(dirname(join(this.disk, path)), { recursive: true });
    writeFileSync(join(this.disk, path), bytes);
  }

  take(path: string): void {
    unlinkSync(join(this.disk, path));
  }
}

/** Removes the disks of all devices that were made. */
export function removeDisks(): void {
  for (const home of made.splice(0)) rmSync(home, { recursive: true, force: true });
}

/** A chosen folder, in memory behind the handles of a browser. */
export class FolderPlace extends RealPlace {
  private readonly root = new MemoryFolder('chosen');
  protected readonly store = new FolderStore(this.root.asHandle());

  private walk(folder: MemoryFolder, below: string): { path: string; entry: MemoryFolder | MemoryFile }[] {
    return [...folder.children].flatMap(([name, entry]) => {
      const path = below + name;
      return [{ path, entry }, ...(entry.kind === 'directory' ? this.walk(entry, `${path}/`) : [])];
    });
  }

  get files(): ReadonlyMap<string, Uint8Array> {
    return new Map(
      this.walk(this.root, '').flatMap(({ path, entry }) =>
        entry.kind === 'file' ? [[path, bytesOf(entry)] as const] : [],
      ),
    );
  }

  get folders(): readonly string[] {
    return this.walk(this.root, '').flatMap(({ path, entry }) => (entry.kind === 'directory' ? path : []));
  }

  put(path: string, bytes: Uint8Array): void {
    this.root.put(path, bytes as Uint8Array<ArrayBuffer>);
  }

  take(path: string): void {
    this.root.take(path);
  }
}

const bytesOf = ({ content }: MemoryFile): Uint8Array =>
  content instanceof Uint8Array ? content : new Uint8Array(0);
