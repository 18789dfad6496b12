import { json } from '@sveltejs/kit';
import {
  StorageError,
  findFile,
  makeFolder,
  moveFile,
  readFile,
  receiveFile,
  removeEmptyFolder,
  removeFile,
} from '$lib/server/attic';
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

/** A file or a range of it, with its digest as entity tag. */
export const GET: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { size, digest } = await findFile(params.path);
    const range = /^bytes=(\d+)-(\d*)$/.exec(request.headers.get('range') ?? '');
    const start = Math.min(Number(range?.[1] ?? 0), size);
    const end = Math.min(range?.[2] ? Number(range[2]) + 1 : size, size);
    const headers = new Headers({
      'content-type': 'application/octet-stream',
      'content-length': String(end - start),
      'accept-ranges': 'bytes',
      'x-size': String(size),
      etag: `"${digest}"`,
    });
    if (range) headers.set('content-range', `bytes ${start}-${end - 1}/${size}`);
    const empty = request.method === 'HEAD' || end <= start;
    return new Response(empty ? null : readFile(params.path, start, end), {
      status: range ? 206 : 200,
      headers,
    });
  });

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
    const { to } = (await request.json()) as { to?: unknown };
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
