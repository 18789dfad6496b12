import type { UnreadFile } from '$lib/core/items';
import type { Guess } from '$lib/core/kinds';
import type { MediaRead } from '$lib/formats/reading';

/** What the page asks of a parsing worker. Every request carries an id that its reply repeats. */
export type ParseRequest =
  | { readonly type: 'read'; readonly id: number; readonly path: string; readonly file: Blob }
  | {
      readonly type: 'picture';
      readonly id: number;
      readonly path: string;
      readonly file: Blob;
      readonly index: number;
    };

export type ParseReply =
  | { readonly type: 'read'; readonly id: number; readonly read: MediaRead; readonly guess: Guess }
  | {
      readonly type: 'unread';
      readonly id: number;
      readonly code: UnreadFile['code'];
      readonly detail: string;
    }
  | { readonly type: 'picture'; readonly id: number; readonly mime: string; readonly bytes: Uint8Array }
  | { readonly type: 'noPicture'; readonly id: number };

/** The end of a message channel, so that tests can stand in for a worker. */
export interface Port {
  postMessage(message: unknown, transfer?: Transferable[]): void;
  onmessage: ((event: MessageEvent) => void) | null;
}
