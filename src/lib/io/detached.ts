/** Bytes that are copied at once. */
const PIECE = 8 * 1024 * 1024;

/** A copy of a file that remains when the file is gone: the browser may hold only a reference to it. */
export async function detached(file: File, path: string): Promise<File> {
  const pieces: Blob[] = [];
  for (let at = 0; at < file.size; at += PIECE)
    pieces.push(new Blob([await file.slice(at, at + PIECE).arrayBuffer()]));
  return new File(pieces, path, { lastModified: file.lastModified });
}
