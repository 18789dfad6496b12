import { BlobReader, ZipReader, configure, type FileEntry } from '@zip.js/zip.js';
import type { PictureId } from '$lib/core/items';
import {
  LIMITS,
  LibraryFileError,
  headFile,
  itemsFile,
  packItems,
  pictureFile,
  readHead,
  readItems,
  type LibraryHead,
} from '$lib/core/library';
import type { LibraryFilePart, LibraryFileRequest } from './library-file-protocol';
import { serveAnswers, type Port } from './worker-client';

// The reading runs in a worker already.
configure({ useWebWorkers: false });

/** Items handed over in one message, so that taking them never holds the page up. */
const AT_ONCE = 100;
/** Parts of one file: items by the thousand, and a picture for each of them at the most. */
const MOST_ENTRIES = 1_000_000;

type TellPart = (part: LibraryFilePart) => void;

/** Reads library files for whoever asks through a port. Nothing of a file is handed over before all of it is sound. */
export function serveLibraryFiles(port: Port): void {
  let looked: Looked | null = null;
  serveAnswers<LibraryFileRequest, LibraryFilePart>(port, async (request, tellPart) => {
    if (request.type === 'read') return handOver(looked, tellPart);
    looked = await look(request.file, tellPart);
    return { head: looked.head, items: looked.count, pictures: looked.pictures.length };
  });
}

/** A file that was looked through: its items as they are handed over, so that nothing is read twice. */
interface Looked {
  readonly head: LibraryHead;
  readonly records: readonly string[];
  readonly count: number;
  readonly pictures: readonly FileEntry[];
}

interface Opened {
  readonly head: LibraryHead;
  readonly items: readonly FileEntry[];
  readonly pictures: readonly FileEntry[];
}

async function look(file: Blob, tellPart: TellPart): Promise<Looked> {
  const { head, items, pictures } = await open(file);
  const total = items.length + pictures.length;
  const records: string[] = [];
  let count = 0;
  let done = 0;
  for (const [index, entry] of items.entries()) {
    const all = readItems(await textOf(entry, LIMITS.items), itemsFile(index));
    for (let at = 0; at < all.length; at += AT_ONCE) records.push(packItems(all.slice(at, at + AT_ONCE)));
    if (index === 0) tellPart({ type: 'first', head, record: packItems(all) });
    count += all.length;
    tellPart({ type: 'progress', done: ++done, total });
  }
  for (const entry of pictures) {
    const bytes = await bytesOf(entry, LIMITS.picture);
    if (!isPicture(bytes)) throw new LibraryFileError(`${entry.filename} is no picture`);
    tellPart({ type: 'progress', done: ++done, total });
  }
  return { head, records, count, pictures };
}

/** @throws {LibraryFileError} where no file was looked through before */
async function handOver(looked: Looked | null, tellPart: TellPart): Promise<null> {
  if (!looked) throw new LibraryFileError('it was not looked through');
  for (const entry of looked.pictures) {
    const blob = new Blob([await bytesOf(entry, LIMITS.picture)], { type: 'image/jpeg' });
    tellPart({ type: 'picture', picture: entry.filename.slice(pictureFile('').length) as PictureId, blob });
  }
  for (const record of looked.records) tellPart({ type: 'items', record });
  return null;
}

/** Its directory and head, every size held against what a library file may hold. @throws {LibraryFileError} */
async function open(file: Blob): Promise<Opened> {
  const entries = new Map<string, FileEntry>();
  let all = 0;
  try {
    const zip = new ZipReader(new BlobReader(file), { checkSignature: true });
    for await (const entry of zip.getEntriesGenerator()) {
      if (entry.directory) continue;
      all += entry.uncompressedSize;
      if (entries.size >= MOST_ENTRIES || all > LIMITS.all)
        throw new LibraryFileError('it holds more than a library does');
      if (entries.has(entry.filename)) throw new LibraryFileError(`it holds ${entry.filename} twice`);
      entries.set(entry.filename, entry);
    }
  } catch (error) {
    if (error instanceof LibraryFileError) throw error;
    throw new LibraryFileError('it is no ZIP file');
  }
  const require = (name: string): FileEntry => {
    const entry = entries.get(name);
    if (!entry) throw new LibraryFileError(`${name} is missing in it`);
    return entry;
  };
  const head = readHead(await textOf(require(headFile), LIMITS.head));
  const items = Array.from({ length: head.chunks }, (_, index) => require(itemsFile(index)));
  const pictures = [...entries.values()].filter(({ filename }) => filename.startsWith(pictureFile('')));
  for (const [entries, most] of [
    [items, LIMITS.items],
    [pictures, LIMITS.picture],
  ] as const)
    for (const entry of entries) checkSize(entry, most);
  return { head, items, pictures };
}

function checkSize(entry: FileEntry, most: number): void {
  const { filename, uncompressedSize, compressedSize } = entry;
  if (uncompressedSize > most)
    throw new LibraryFileError(
      `${filename} says that it holds ${uncompressedSize} bytes, more than a part may`,
    );
  if (uncompressedSize > 1_000_000 && uncompressedSize > compressedSize * LIMITS.fold)
    throw new LibraryFileError(
      `${filename} unfolds to ${Math.round(uncompressedSize / compressedSize)} times its size`,
    );
}

/** The bytes of one part, with its checksum held. @throws {LibraryFileError} when it is damaged or larger than it says */
async function bytesOf(entry: FileEntry, most: number): Promise<Uint8Array<ArrayBuffer>> {
  checkSize(entry, most);
  const out = new Uint8Array(entry.uncompressedSize);
  let length = 0;
  const sink = new WritableStream<Uint8Array>({
    write(chunk) {
      if (length + chunk.length > out.length)
        throw new LibraryFileError(`${entry.filename} holds more than it says`);
      out.set(chunk, length);
      length += chunk.length;
    },
  });
  try {
    await entry.getData(sink, { checkSignature: true });
  } catch (error) {
    if (error instanceof LibraryFileError) throw error;
    throw new LibraryFileError(`${entry.filename} is damaged`);
  }
  if (length !== out.length) throw new LibraryFileError(`${entry.filename} is damaged`);
  return out;
}

async function textOf(entry: FileEntry, most: number): Promise<string> {
  const bytes = await bytesOf(entry, most);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new LibraryFileError(`${entry.filename} is no text`);
  }
}

/** JPEG, which is all that is ever kept. */
const isPicture = (bytes: Uint8Array) => bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff;
