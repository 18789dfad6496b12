import { json } from '@sveltejs/kit';
import { StorageError, answering } from '$lib/server/devices';
import { readJson } from '$lib/server/guard';
import type { RequestHandler } from './$types';

const isFolder = (url: URL) => url.searchParams.get('as') === 'folder';

const done = () => new Response(null, { status: 204 });

/**
 * A file or a range of it (RFC 9110, section 14: one range of bytes), with its digest as entity tag; with
 * `?as=folder` whether there is a folder.
 */
export const GET: RequestHandler = ({ params, request, url }) =>
  answering(params.device, async ({ disk }) => {
    if (isFolder(url)) {
      await disk.findFolder(params.path);
      return done();
    }
    const { size, digest } = await disk.find(params.path);
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
    return new Response(empty ? null : await disk.read(params.path, start, end), {
      status: range ? 206 : 200,
      headers,
    });
  });

/** The same without the bytes. */
export const HEAD: RequestHandler = GET;

/** Receives a file, or makes a folder with `?as=folder`. Never over a file that is there. */
export const PUT: RequestHandler = ({ params, request, url }) =>
  answering(
    params.device,
    async ({ disk }) => {
      if (isFolder(url)) {
        await disk.makeFolder(params.path);
        return done();
      }
      const length = request.headers.get('content-length');
      const body = request.body ?? new Blob([]).stream();
      return json(await disk.receive(params.path, body, length === null ? null : Number(length)), {
        status: 201,
      });
    },
    true,
  );

/** Gives a file another path: `{ "to": "…" }`. */
export const PATCH: RequestHandler = ({ params, request }) =>
  answering(
    params.device,
    async ({ disk }) => {
      const to = (await readJson(request))?.to;
      if (typeof to !== 'string') throw new StorageError(400, 'says no new path');
      await disk.move(params.path, to);
      return done();
    },
    true,
  );

/** Removes a file, or with `?as=folder` a folder that is empty. */
export const DELETE: RequestHandler = ({ params, url }) =>
  answering(
    params.device,
    async ({ disk }) => {
      await (isFolder(url) ? disk.removeEmptyFolder(params.path) : disk.remove(params.path));
      return done();
    },
    true,
  );
