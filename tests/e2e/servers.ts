import { join } from 'node:path';

/** Tests at once, each with a server, devices and a browser of its own: one alone leaves half of two cores idle. */
export const SERVERS = 2;

const FIRST_PORT = Number(process.env.LECTORUM_TEST_PORT ?? 4391);

/** The port of one of the servers, counted from 0. */
export const portOf = (server: number): number => FIRST_PORT + server;

/** The folder that holds the devices of one of the servers. */
export const devicesOf = (server: number): string => join(process.env.LECTORUM_DEVICES ?? '', String(server));
