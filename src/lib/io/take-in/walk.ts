import { nameOf } from '$lib/core/paths';
import type { Kind, Origin } from '$lib/core/kinds';
import type { Identity, Assembly, Overlay, UnreadFile } from '$lib/core/items';
import type { FoundFile } from '$lib/core/library';

/** A file found by a walk, with its bytes at hand. */
export interface WalkedFile extends FoundFile {
  readonly file: File;
  /** What came with it from outside, such as a feed's words on an episode. */
  readonly says?: BesideTags;
}

/** What is known of a file beside its own tags. It holds as if the curator had typed it. */
export interface BesideTags {
  readonly edits: Overlay;
  readonly identity?: Identity | null;
  readonly settled?: Kind;
  readonly made?: Assembly;
}

/** A file that did not come through. */
export interface LostFile {
  readonly path: string;
  readonly lost: Pick<UnreadFile, 'code' | 'detail'>;
}

/** What was given to be taken in. */
export interface Given {
  readonly label: string;
  /** The folder's own handle, where the browser gives one: it can be opened again after a reload. */
  readonly handle: FileSystemDirectoryHandle | null;
  readonly files: AsyncIterable<WalkedFile | LostFile>;
  /** Files in all, where that is known beforehand. */
  readonly total?: number;
  /** Told when the take-in is cancelled, so that fetching stops too. */
  readonly onCancel?: () => void;
  /** Told of what the library has by now, while more comes. */
  readonly onTaken?: (paths: readonly string[]) => void;
  /** The way it comes in; a folder unless told. */
  readonly origin?: Origin;
}

/** Files of a folder that are asked for together: each answer takes its time. */
const OPENED_AT_ONCE = 16;

const walked = (path: string, file: File): WalkedFile => ({
  path,
  size: file.size,
  modified: file.lastModified,
  file,
});

/**
 * Every file below a folder, by its handle, in the order of names: a board that shows them grows at its
 * foot, and rows on screen stay. Folders whose name begins with a dot are left aside.
 */
export async function* walkHandle(folder: FileSystemDirectoryHandle, below = ''): AsyncGenerator<WalkedFile> {
  const files: FileSystemFileHandle[] = [];
  const folders: FileSystemDirectoryHandle[] = [];
  for await (const entry of folder.values()) {
    if (isLeftAside(entry.name)) continue;
    if (entry.kind === 'directory') folders.push(entry);
    else files.push(entry);
  }
  files.sort(byName);
  for (let at = 0; at < files.length; at += OPENED_AT_ONCE) {
    const batch = files.slice(at, at + OPENED_AT_ONCE);
    yield* await Promise.all(batch.map(async (file) => walked(below + file.name, await file.getFile())));
  }
  for (const inner of folders.sort(byName)) yield* walkHandle(inner, `${below}${inner.name}/`);
}

/** Paths of a folder's own folders, itself first as the empty path. */
export async function listFolders(folder: FileSystemDirectoryHandle, below = ''): Promise<string[]> {
  const found = [below];
  for await (const entry of folder.values()) {
    if (entry.kind !== 'directory' || isLeftAside(entry.name)) continue;
    const path = below === '' ? entry.name : `${below}/${entry.name}`;
    found.push(...(await listFolders(entry, path)));
  }
  return found.sort();
}

/** What is hidden, and what the browser leaves of a file that it was writing when it was ended. */
const isLeftAside = (name: string): boolean => name.startsWith('.') || name.endsWith('.crswap');

const byName = (a: FileSystemHandle, b: FileSystemHandle) => (a.name < b.name ? -1 : 1);

/** Files of a folder chosen through an input. The chosen folder's own name is left out of the paths. */
export async function* walkList(list: Iterable<File>): AsyncGenerator<WalkedFile> {
  for (const file of list) {
    const path = file.webkitRelativePath.split('/').slice(1).join('/') || file.name;
    if (!path.split('/').some(isLeftAside)) yield walked(path, file);
  }
}

/** What a drop holds. Must be called while the drop event is handled: its items are gone afterwards. */
export function givenByDrop(transfer: DataTransfer): Promise<Given[]> {
  const items = [...transfer.items].filter(({ kind }) => kind === 'file');
  const entries = items.map((item) => ({
    handle: item.getAsFileSystemHandle
      ? item.getAsFileSystemHandle().catch(() => null)
      : Promise.resolve(null),
    entry: item.webkitGetAsEntry?.() ?? null,
    file: item.getAsFile(),
  }));
  return sortDrop(entries);
}

interface Dropped {
  readonly handle: Promise<FileSystemHandle | null>;
  readonly entry: FileSystemEntry | null;
  readonly file: File | null;
}

/** Each dropped folder is a source of its own; loose files are one together. */
async function sortDrop(dropped: readonly Dropped[]): Promise<Given[]> {
  const given: Given[] = [];
  const loose: File[] = [];
  for (const { handle, entry, file } of dropped) {
    const opened = await handle;
    if (opened?.kind === 'directory') {
      const folder = opened as FileSystemDirectoryHandle;
      given.push({ label: folder.name, handle: folder, files: walkHandle(folder) });
    } else if (entry?.isDirectory) {
      given.push({
        label: entry.name,
        handle: null,
        files: walkEntry(entry as FileSystemDirectoryEntry, ''),
      });
    } else if (file) loose.push(file);
  }
  if (loose.length > 0)
    given.push({
      label: loose.length === 1 ? (loose[0] as File).name : 'dropped files',
      handle: null,
      files: walkList(loose),
    });
  return given;
}

async function* walkEntry(folder: FileSystemDirectoryEntry, below: string): AsyncGenerator<WalkedFile> {
  const reader = folder.createReader();
  for (;;) {
    const batch = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (batch.length === 0) return;
    for (const entry of batch) {
      if (isLeftAside(entry.name)) continue;
      const path = below + entry.name;
      if (entry.isDirectory) yield* walkEntry(entry as FileSystemDirectoryEntry, `${path}/`);
      else {
        const file = await new Promise<File>((resolve, reject) =>
          (entry as FileSystemFileEntry).file(resolve, reject),
        );
        yield walked(path, file);
      }
    }
  }
}

/** The demo household's files, fetched from the server that ships them. */
export async function givenByDemo(fetcher: typeof fetch): Promise<Given> {
  const answer = await fetcher('/demo-files');
  const { modified, files } = (await answer.json()) as {
    modified: number;
    files: { path: string; size: number }[];
  };
  return { label: 'Skerry House', handle: null, files: fetchDemo(fetcher, modified, files) };
}

async function* fetchDemo(
  fetcher: typeof fetch,
  modified: number,
  files: readonly { path: string; size: number }[],
): AsyncGenerator<WalkedFile> {
  for (const { path } of files) {
    const answer = await fetcher(`/demo-files/${path.split('/').map(encodeURIComponent).join('/')}`);
    if (!answer.ok) throw new TypeError(`the demo's ${path} could not be fetched: status ${answer.status}`);
    const name = nameOf(path);
    yield walked(path, new File([await answer.blob()], name, { lastModified: modified }));
  }
}
