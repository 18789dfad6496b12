/** Kinds of pieces that an answer with progress in it is made of: a byte for the kind, four for the length, and as many. */
export const BYTES = 1;
/** Seconds that are done, as text. */
export const SECONDS = 2;

/** A piece with its head. */
export function pieceOf(kind: number, content: Uint8Array): Buffer {
  const head = Buffer.alloc(5);
  head[0] = kind;
  head.writeUInt32BE(content.length, 1);
  return Buffer.concat([head, content]);
}

/** Seconds that the program's own report says are done; null where it says none. */
export function secondsIn(report: string): number | null {
  const told = [...report.matchAll(/^out_time_us=(\d+)/gm)].at(-1)?.[1];
  return told === undefined ? null : Number(told) / 1e6;
}
