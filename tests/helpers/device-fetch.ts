import { GET as roomRoute } from '../../src/routes/devices/[device]/+server';
import { GET as listRoute } from '../../src/routes/devices/[device]/files/+server';
import * as fileRoute from '../../src/routes/devices/[device]/files/[...path]/+server';
import { GET as shelvesRoute } from '../../src/routes/devices/[device]/shelves/+server';

/** Answers requests with the real routes of devices, without a server between. */
export async function deviceFetch(url: string, init: RequestInit = {}): Promise<Response> {
  const request = new Request(`http://house${url}`, { ...init, signal: null, duplex: 'half' } as RequestInit);
  const at = new URL(request.url);
  const [, , device = '', what, ...path] = at.pathname.split('/').map(decodeURIComponent);
  const event = { request, url: at, params: { device, path: path.join('/') } } as never;
  if (what === undefined) return roomRoute(event);
  if (what === 'shelves') return shelvesRoute(event);
  if (path.length === 0) return listRoute(event);
  const method = request.method === 'HEAD' ? 'GET' : (request.method as 'GET' | 'PUT' | 'PATCH' | 'DELETE');
  return fileRoute[method](event);
}
