import { json } from '@sveltejs/kit';

/*
 * What every stand-in's route keeps to. They hold a household's files without a password, on a machine whose
 * browser also opens other pages: so they answer under their own names only, change nothing for other pages,
 * and what they hand out is never run, shown or read as a page.
 */

/** Paths below which stand-ins answer, and the converter, to which the same applies. */
const STAND_INS = /^\/(converter|demo-files|devices|disc|feeds|reference|shelf)(\/|$)/;
const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

const HEADERS: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'content-disposition': 'attachment',
  'cross-origin-resource-policy': 'same-origin',
  'referrer-policy': 'no-referrer',
};

/** Whether a path is a stand-in's. */
export function isStandIn(path: string): boolean {
  return STAND_INS.test(path);
}

/**
 * Why a request to a stand-in is not answered, or null when it is. Its Host must be this application's or the
 * machine itself, since a page elsewhere can point a name of its own here; what changes something must come
 * from this application's own pages, or from no page at all.
 * @param own address of this application, as far as the server knows it
 */
export function refusalOf(request: Request, own: URL): string | null {
  const host = request.headers.get('host');
  // Without a server between, as in tests, there is no Host.
  if (host !== null && !isOwnHost(host, own)) return 'not asked under a name of this application';
  if (READING.has(request.method)) return null;
  const origin = request.headers.get('origin');
  if (origin !== null && !isOwnOrigin(origin, host, own)) return 'asked by another page';
  const site = request.headers.get('sec-fetch-site');
  return site !== null && site !== 'same-origin' && site !== 'none' ? 'asked by another page' : null;
}

function isOwnHost(host: string, own: URL): boolean {
  if (host === own.host) return true;
  const asked = URL.canParse(`http://${host}`) ? new URL(`http://${host}`) : null;
  return asked !== null && asked.host === host && asked.port === own.port && LOOPBACK.has(asked.hostname);
}

/** The page must be the very one that the request is sent to, not one beside it under another name or port. */
function isOwnOrigin(origin: string, host: string | null, own: URL): boolean {
  return origin === own.origin || (host !== null && origin === `${own.protocol}//${host}`);
}

export function refuse(reason: string): Response {
  return guarded(json({ message: reason }, { status: 403 }));
}

/** An answer of a stand-in with the headers that all of them carry. */
export function guarded(answer: Response): Response {
  const headers = new Headers(answer.headers);
  for (const [name, value] of Object.entries(HEADERS)) headers.set(name, value);
  return new Response(answer.body, { status: answer.status, statusText: answer.statusText, headers });
}

/** What a request says in JSON, an object; null for anything else. */
export async function readJson(request: Request): Promise<Readonly<Record<string, unknown>> | null> {
  const body: unknown = await request.json().catch(() => null);
  return typeof body === 'object' && body !== null ? (body as Record<string, unknown>) : null;
}
