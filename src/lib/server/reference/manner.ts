/** How the reference behaves, to be switched for trying what an application makes of it. */
export const MANNERS = ['prompt', 'slow', 'empty', 'failing', 'flooding'] as const;
export type Manner = (typeof MANNERS)[number];

let manner: Manner = 'prompt';

export const currentManner = (): Manner => manner;

/** @throws {RangeError} for a manner that it has not */
export function setManner(wanted: string): void {
  if (!MANNERS.includes(wanted as Manner)) throw new RangeError(`no such manner: ${wanted}`);
  manner = wanted as Manner;
}

/** Milliseconds that a slow answer takes. */
export const SLOW_MS = 4000;
/** Releases that a flooding answer claims. */
export const FLOOD = 1_000_000;
