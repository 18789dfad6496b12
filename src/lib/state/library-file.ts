import { downloadZip } from 'client-zip';
import {
  EXPORT_CHUNK,
  LIBRARY_VERSION,
  headFile,
  itemsFile,
  pictureFile,
  readHead,
  readItems,
  type LibraryHead,
} from '$lib/core/library';
import type { Item, PictureId } from '$lib/core/items';
import type { Library } from './library.svelte';

/** A library as one ZIP: its head, its items in parts, its chosen pictures. `docs/library-file.md` describes it. */
export async function exportLibrary(library: Library): Promise<Blob> {
  return downloadZip(parts(library)).blob();
}

async function* parts(library: Library): AsyncGenerator<{ name: string; input: string | Blob }> {
  const { items } = library;
  const chunks = Math.ceil(items.length / EXPORT_CHUNK);
  const head: LibraryHead = { version: LIBRARY_VERSION, chunks, ...library.headParts() };
  yield { name: headFile, input: JSON.stringify(head) };
  const pictures = new Set<PictureId>();
  for (let index = 0; index < chunks; index++) {
    const chunk = items.slice(index * EXPORT_CHUNK, (index + 1) * EXPORT_CHUNK);
    for (const { picture } of chunk) if (picture) pictures.add(picture.id);
    yield { name: itemsFile(index), input: JSON.stringify(chunk) };
  }
  for (const id of pictures) {
    const picture = await library.storage.findPicture(id);
    if (picture) yield { name: pictureFile(id), input: picture };
  }
}

/**
 * Reads an exported library in, beside what is there; it can be undone.
 * @throws {Error} naming what is wrong with the file; the library is then as it was
 */
export async function importLibrary(library: Library, file: File): Promise<number> {
  const { unzipSync, strFromU8 } = await import('fflate');
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(new Uint8Array(await file.arrayBuffer()));
  } catch {
    throw new Error('it is no ZIP file');
  }
  const textOf = (name: string) => {
    const entry = entries[name];
    if (!entry) throw new Error(`${name} is missing in it`);
    return strFromU8(entry);
  };
  const head = readHead(textOf(headFile));
  const items: Item[] = [];
  for (let index = 0; index < head.chunks; index++) items.push(...readItems(textOf(itemsFile(index))));
  for (const [name, bytes] of Object.entries(entries)) {
    if (!name.startsWith(pictureFile(''))) continue;
    const id = name.slice(pictureFile('').length) as PictureId;
    await library.storage.keepPicture(
      id,
      new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/jpeg' }),
    );
  }
  library.merge(`Read in ${file.name}`, head, items);
  await library.flush();
  return items.length;
}
