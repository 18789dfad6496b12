import {
  EXPORT_CHUNK,
  LIBRARY_VERSION,
  headFile,
  itemsFile,
  pictureFile,
  unpackItems,
  type LibraryHead,
} from '$lib/core/library';
import { chosenPictures, type Item, type PictureId } from '$lib/core/items';
import { LibraryFileClient } from '$lib/workers/library-file-client';
import type { Library } from './library.svelte';

/** A library as one ZIP: its head, its items in parts, its chosen pictures. `docs/library-file.md` describes it. */
export async function exportLibrary(library: Library): Promise<Blob> {
  // Loaded on export, which most sessions never need.
  const { BlobReader, BlobWriter, TextReader, ZipWriter } =
    await import('@zip.js/zip.js/lib/zip-core-external.js');
  const zip = new ZipWriter(new BlobWriter('application/zip'), { level: 0, useWebWorkers: false });
  for await (const { name, input } of parts(library))
    await zip.add(name, typeof input === 'string' ? new TextReader(input) : new BlobReader(input));
  return zip.close();
}

async function* parts(library: Library): AsyncGenerator<{ name: string; input: string | Blob }> {
  const { items } = library;
  const chunks = Math.ceil(items.length / EXPORT_CHUNK);
  const head: LibraryHead = { version: LIBRARY_VERSION, chunks, ...library.headParts() };
  yield { name: headFile, input: JSON.stringify(head) };
  const pictures = new Set<PictureId>([
    ...head.players.flatMap(({ targets }) =>
      targets.flatMap(({ choices }) => choices.pictures.map(({ picture }) => picture.id)),
    ),
    ...head.presets.flatMap(({ picture }) => picture?.id ?? []),
  ]);
  for (let index = 0; index < chunks; index++) {
    const chunk = items.slice(index * EXPORT_CHUNK, (index + 1) * EXPORT_CHUNK);
    for (const { edits, foundBeside } of chunk)
      for (const overlay of [edits, ...(foundBeside ?? []).map(({ says }) => says)])
        for (const { id } of chosenPictures(overlay)) pictures.add(id);
    yield { name: itemsFile(index), input: JSON.stringify(chunk) };
  }
  for (const id of pictures) {
    const picture = await library.storage.pictures.find(id);
    if (picture) yield { name: pictureFile(id), input: picture };
  }
}

/**
 * Reads a library file into the library; this can be undone. A worker checks the whole file before anything is kept,
 * and if the browser runs out of space, everything that was kept is removed.
 * @param progress called with the number of checked parts and of all parts
 * @throws {Error} that names what is wrong with the file; the library is then as it was
 */
export async function importLibrary(
  library: Library,
  file: File,
  progress: (done: number, total: number) => void = () => undefined,
  client = new LibraryFileClient(),
): Promise<number> {
  try {
    const { head } = await client.check(file, (part) => {
      if (part.type === 'progress') progress(part.done, part.total);
      else if (part.type === 'first') library.preview(part.head, unpackItems(part.record) as Item[]);
    });
    const items: Item[] = [];
    const pictures: { id: PictureId; blob: Blob }[] = [];
    await client.read((part) => {
      if (part.type === 'items') items.push(...(unpackItems(part.record) as Item[]));
      else if (part.type === 'picture') pictures.push({ id: part.picture, blob: part.blob });
    });
    library.endPreview();
    await keepAll(library, pictures, () => library.merge(`Read in ${file.name}`, head, items));
    return items.length;
  } finally {
    library.closePreview();
    client.end();
  }
}

/** Keeps pictures that are not there yet, then what `merge` brings; takes all of it back when the browser refuses. */
async function keepAll(
  library: Library,
  pictures: readonly { id: PictureId; blob: Blob }[],
  merge: () => Promise<void>,
): Promise<void> {
  const { storage } = library;
  const kept: PictureId[] = [];
  const { history } = library;
  try {
    for (const { id, blob } of pictures) {
      if (await storage.pictures.find(id)) continue;
      await storage.pictures.keep(id, blob);
      kept.push(id);
    }
    await merge();
    library.keepFailure = null;
    await library.flush();
    if (library.keepFailure !== null) {
      const why = library.keepFailure;
      library.undo();
      library.history = history;
      await library.flush();
      library.keepFailure = null;
      throw new Error(why);
    }
  } catch (error) {
    for (const id of kept) await storage.pictures.drop(id).catch(() => undefined);
    throw error;
  }
}
