import { parseFromTokenizer } from 'music-metadata';
import { cachedSource, kept } from '../../src/lib/core/bytes';
import type { Edits, FormatId } from '../../src/lib/core/items';
import { WRITABLE } from '../../src/lib/formats';
import { readMedia } from '../../src/lib/formats/reading';
import { writeMatroskaFilm, writeMp4Film } from './long-film';
import { SourceTokenizer } from './tokenizer';
import { blobSource } from '../../src/lib/io/blob-source';
import { spanBlob, spanBytes } from '../../src/lib/io/span-blob';
import { FolderStore } from '../../src/lib/io/stores/folder-store';
import { walkHandle } from '../../src/lib/io/take-in/walk';

/** Work that is measured inside a browser's worker, on files of its private file system. */

type Task =
  | {
      readonly type: 'make';
      readonly folder: string;
      readonly count: number;
      readonly templates: readonly (readonly [string, Blob])[];
      readonly repeat: number;
    }
  | { readonly type: 'baseline'; readonly folder: string }
  | { readonly type: 'bytes'; readonly folder: string }
  | { readonly type: 'write'; readonly folder: string; readonly tags: boolean }
  | { readonly type: 'big'; readonly bytes: number; readonly template: Blob }
  | { readonly type: 'film'; readonly bytes: number; readonly format: 'matroska' | 'mp4' };

const EDITS: Edits = { album: 'Another Album', date: '2001', genre: ['sea choir'] };
const FORMATS: Readonly<Record<string, FormatId>> = { mp3: 'mp3', flac: 'flac', m4a: 'mp4', m4b: 'mp4' };
const extension = (path: string) => path.slice(path.lastIndexOf('.') + 1);

async function folder(name: string): Promise<FileSystemDirectoryHandle> {
  return (await navigator.storage.getDirectory()).getDirectoryHandle(name, { create: true });
}

async function retagged(name: string, blob: Blob, edits: Edits): Promise<Blob> {
  const format = WRITABLE.get(FORMATS[extension(name)] as FormatId);
  if (!format) return blob;
  const { rewrite } = await format.load();
  const { spans } = await rewrite(cachedSource(blobSource(blob)), { fields: edits });
  return spanBlob(blob, spans);
}

/** Real files with tags of their own. MP3 sound may be repeated, which makes it as long as wanted. */
async function make({
  folder: name,
  count,
  templates,
  repeat,
}: Extract<Task, { type: 'make' }>): Promise<number> {
  const root = await folder(name);
  for (let index = 0; index < count; index++) {
    const [path, template] = templates[index % templates.length] as readonly [string, Blob];
    const tagged = await retagged(path, template, {
      title: `Song ${index}`,
      track: (index % 20) + 1,
      album: `Album ${Math.floor(index / 20)}`,
    });
    const content =
      repeat > 1
        ? new Blob([tagged, ...Array.from({ length: repeat - 1 }, () => template.slice(60_000))])
        : tagged;
    const album = await root.getDirectoryHandle(`Album ${Math.floor(index / 20)}`, { create: true });
    const file = await (
      await album.getFileHandle(`${String(index).padStart(4, '0')}.${extension(path)}`, { create: true })
    ).createWritable();
    await content.stream().pipeTo(file);
  }
  return count;
}

/** A plain loop over the parsing package, with the same block cache, one file after another. */
async function baseline(name: string): Promise<number> {
  const start = performance.now();
  for await (const { path, file } of walkHandle(await folder(name))) {
    const tokenizer = new SourceTokenizer(cachedSource(blobSource(file)), path);
    await parseFromTokenizer(tokenizer, { duration: false });
  }
  return performance.now() - start;
}

/** Part of the bytes that a take-in reads. */
async function bytesRead(name: string): Promise<number> {
  let read = 0;
  let size = 0;
  for await (const { path, file } of walkHandle(await folder(name))) {
    read += (await readMedia(blobSource(file), path)).bytesRead;
    size += file.size;
  }
  return read / size;
}

/** Milliseconds to copy every file of a folder into a store, with tags written or without. */
async function write({ folder: name, tags }: Extract<Task, { type: 'write' }>): Promise<number> {
  const out = `${name}-out`;
  const store = new FolderStore(await folder(out));
  const start = performance.now();
  for await (const { path, file } of walkHandle(await folder(name)))
    await store.write(path, tags ? await retagged(path, file, EDITS) : file);
  const taken = performance.now() - start;
  await (await navigator.storage.getDirectory()).removeEntry(out, { recursive: true });
  return taken;
}

/** An audiobook whose samples are followed by as much silence as wanted, rewritten into a store. */
async function big({ bytes, template }: Extract<Task, { type: 'big' }>): Promise<number> {
  const root = await folder('bench-big');
  const file = await (await root.getFileHandle('book.m4b', { create: true })).createWritable();
  await file.write(template);
  // A free box behind the book: 64-bit length, then nothing but zeros.
  const header = new DataView(new ArrayBuffer(16));
  header.setUint32(0, 1);
  header.setUint32(4, 0x66726565);
  header.setBigUint64(8, BigInt(bytes));
  await file.write(header);
  const zeros = new Uint8Array(8 * 1024 * 1024);
  for (let at = 16; at < bytes; at += zeros.length)
    await file.write(zeros.subarray(0, Math.min(zeros.length, bytes - at)));
  await file.close();
  postMessage({ type: 'made' });
  const original = await (await root.getFileHandle('book.m4b')).getFile();
  const start = performance.now();
  await new FolderStore(root).write('copy/book.m4b', await retagged('book.m4b', original, EDITS));
  const taken = performance.now() - start;
  await (await navigator.storage.getDirectory()).removeEntry('bench-big', { recursive: true });
  return taken;
}

/** How long a film takes to lose two of its three sounds, in times copying the same bytes. */
async function film({ bytes, format }: Extract<Task, { type: 'film' }>): Promise<number> {
  const root = await folder('bench-film');
  const fill = async (name: string, use: (write: (bytes: Uint8Array) => void) => Promise<void> | void) => {
    const handle = await root.getFileHandle(name, { create: true });
    const access = await handle.createSyncAccessHandle();
    let at = 0;
    await use((piece) => (at += access.write(piece as Uint8Array<ArrayBuffer>, { at })));
    access.close();
    return handle.getFile();
  };
  const original = await fill('film', (write) =>
    format === 'mp4' ? writeMp4Film(bytes, write) : writeMatroskaFilm(bytes, write),
  );
  postMessage({ type: 'made' });
  const writer = await WRITABLE.get(format)?.load();
  if (!writer) throw new Error(format);
  const tracks = [3, 4].map((id) => ({ id, isLeftOut: true }));
  const ratios: number[] = [];
  for (let turn = 0; turn < 3; turn++) {
    const before = performance.now();
    await fill('copy', async (write) => {
      for await (const piece of spanBytes(original, [kept(0, original.size)])) write(piece);
    });
    const copied = performance.now();
    const { spans } = await writer.rewrite(cachedSource(blobSource(original)), { fields: {}, tracks });
    await fill('relaid', async (write) => {
      for await (const piece of spanBytes(original, spans)) write(piece);
    });
    ratios.push((performance.now() - copied) / (copied - before));
  }
  await (await navigator.storage.getDirectory()).removeEntry('bench-film', { recursive: true });
  return ratios.sort((a, b) => a - b)[1] ?? 0;
}

onmessage = async ({ data }: MessageEvent<Task>) => {
  try {
    const value = await run(data);
    postMessage({ type: 'done', value });
  } catch (error) {
    postMessage({
      type: 'failed',
      detail: error instanceof Error ? (error.stack ?? error.message) : String(error),
    });
  }
};

function run(task: Task): Promise<number> {
  switch (task.type) {
    case 'make':
      return make(task);
    case 'baseline':
      return baseline(task.folder);
    case 'bytes':
      return bytesRead(task.folder);
    case 'write':
      return write(task);
    case 'big':
      return big(task);
    case 'film':
      return film(task);
  }
}
