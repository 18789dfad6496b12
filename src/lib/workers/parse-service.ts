import { guessKind } from '$lib/core/kinds';
import { UnreadableError, readMedia, readPicture } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import type { ParseReply, ParseRequest, Port } from './parse-protocol';

/** Answers parsing requests that come through a port. */
export function serveParsing(port: Port): void {
  port.onmessage = ({ data }: MessageEvent<ParseRequest>) => {
    void answer(data).then((reply) => port.postMessage(reply));
  };
}

async function answer(request: ParseRequest): Promise<ParseReply> {
  const { id, path, file } = request;
  const source = blobSource(file);
  if (request.type === 'read') {
    try {
      const read = await readMedia(source, path);
      return { type: 'read', id, read, guess: guessKind({ ...read, path }) };
    } catch (error) {
      if (error instanceof UnreadableError)
        return { type: 'unread', id, code: error.code, detail: error.message };
      return { type: 'unread', id, code: 'unknownFormat', detail: String(error) };
    }
  }
  try {
    const picture = await readPicture(source, path, request.index);
    return picture ? { type: 'picture', id, ...picture } : { type: 'noPicture', id };
  } catch {
    return { type: 'noPicture', id };
  }
}
