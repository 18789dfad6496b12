// Starts the built application. PORT chooses the port; 0 takes a free one.
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

/** A port that is free now: the wanted one, or the next. */
export async function freePort(wanted) {
  for (let port = wanted; port < wanted + 50; port++) {
    const free = await new Promise((resolve) => {
      const probe = createServer();
      probe.once('error', () => resolve(false));
      probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
    });
    if (free) return port;
  }
  throw new Error(`no free port from ${wanted} on`);
}

/** Serves the build on a port and answers with its address. */
export async function serve(wanted) {
  const port = await freePort(wanted);
  // Many shells set HOST to the machine's own name: it would open the server to the network unasked.
  process.env.HOST = process.env.LECTORUM_HOST ?? '127.0.0.1';
  process.env.PORT = String(port);
  process.env.ORIGIN ??= `http://localhost:${port}`;
  // Films are larger than the default of 512 kB.
  process.env.BODY_SIZE_LIMIT = 'Infinity';
  await import(`../${process.env.LECTORUM_BUILD ?? 'build'}/index.js`);
  return `http://localhost:${port}`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  console.log(`Lectorum: ${await serve(Number(process.env.PORT ?? 4173))}`);
}
