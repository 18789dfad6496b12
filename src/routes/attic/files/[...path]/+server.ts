import { json } from '@sveltejs/kit';
import {
  StorageError,
  findFile,
  findFolder,
  makeFolder,
  moveFile,
  readFile,
  receiveFile,
  removeEmptyFolder,
  removeFile,
} from '$lib/server/attic';
import { readJson } from '$lib/server/guard';
import type { RequestHandler } from './$types';

const isFolder = (url: URL) => url.searchParams.get('as') === 'folder';

/** Says refusals of the storage as statuses; anything else is Attic's own fault. */
async function answer(act: () => Promise<Response>): Promise<Response> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof StorageError) return json({ message: error.message }, { status: error.status });
    throw error;
  }
}

const done = () => new Response(null, { status: 204 });

/**
 * A file or a range of it (RFC 9110, section 14: one range of bytes), with its digest as entity tag; with
 * `?as=folder` whether there is a folder.
 */
export const GET: RequestHandler = ({ params, request, url }) =>
  answer(async () => {
    if (isFolder(url)) {
      await findFolder(params.path);
      return done();
    }
    const { size, digest } = await findFile(params.path);
    const headers = new Headers({
      'content-type': 'application/octet-stream',
      'accept-ranges': 'bytes',
      'x-size': String(size),
      etag: `"${digest}"`,
    });
    const range = /^bytes=(\d+)-(\d*)$/.exec(request.headers.get('range') ?? '');
    const start = Number(range?.[1] ?? 0);
    const end = Math.min(range?.[2] ? Number(range[2]) + 1 : size, size);
    if (range && (start >= size || end <= start)) {
      headers.set('content-range', `bytes */${size}`);
      return new Response(null, { status: 416, headers });
    }
    if (range) headers.set('content-range', `bytes ${start}-${end - 1}/${size}`);
    headers.set('content-length', String(end - start));
    const empty = request.method === 'HEAD' || size === 0;
    return new Response(empty ? null : await readFile(params.path, start, end), {
      status: range ? 206 : 200,
      headers,
    });
  });

/** The same without the bytes. */
export const HEAD: RequestHandler = GET;

/** Receives a file, or makes a folder with `?as=folder`. Never over a file that is there. */
export const PUT: RequestHandler = ({ params, request, url }) =>
  answer(async () => {
    if (isFolder(url)) {
      await makeFolder(params.path);
      return done();
    }
    const length = request.headers.get('content-length');
    const body = request.body ?? new Blob([]).stream();
    return json(await receiveFile(params.path, body, length === null ? null : Number(length)), {
      status: 201,
    });
  });

/** Gives a file another path: `{ "to": "…" }`. */
export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const to = (await readJson(request))?.to;
    if (typeof to !== 'string') throw new StorageError(400, 'says no new path');
    await moveFile(params.path, to);
    return done();
  });

/** Removes a file, or with `?as=folder` a folder that is empty. */
export const DELETE: RequestHandler = ({ params, url }) =>
  answer(async () => {
    await (isFolder(url) ? removeEmptyFolder(params.path) : removeFile(params.path));
    return done();
  });
