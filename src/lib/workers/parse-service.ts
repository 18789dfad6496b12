import { guessKind } from '$lib/core/guessing';
import { UnreadableError, readChapterPicture, readMedia, readPicture } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import type { ParseRequest, PictureOf, PictureOutcome, ReadOutcome } from './parse-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Answers parsing requests that come through a port. */
export function serveParsing(port: Port): void {
  serveAnswers<ParseRequest>(port, (request) =>
    request.type === 'read'
      ? read(request.file, request.path, request.evenCut)
      : picture(request.file, request.of),
  );
}

async function read(file: Blob, path: string, evenCut: boolean): Promise<ReadOutcome> {
  try {
    const found = await readMedia(blobSource(file), path, evenCut);
    return { type: 'read', read: found, guess: guessKind({ ...found, path }) };
  } catch (error) {
    if (error instanceof UnreadableError) return { type: 'unread', code: error.code, detail: error.message };
    return { type: 'unread', code: 'unknownFormat', detail: String(error) };
  }
}

async function picture(file: Blob, of: PictureOf): Promise<PictureOutcome> {
  const source = blobSource(file);
  const found = 'hash' in of ? readChapterPicture(source, of.hash) : readPicture(source, of.index);
  return found.catch(() => null);
}
