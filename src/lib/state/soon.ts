/** Calls that wait for their turn, in order. */
const waiting: (() => void)[] = [];
let channel: MessageChannel | null = null;

/**
 * Calls in a task of its own, as soon as the page has had its turn. A chain of timers would wait four milliseconds before
 * each call (HTML, "timer initialisation steps").
 * @returns cancels the call
 */
export function soon(call: () => void): () => void {
  let isWanted = true;
  channel ??= newChannel();
  waiting.push(() => {
    if (isWanted) call();
  });
  channel.port2.postMessage(null);
  return () => (isWanted = false);
}

function newChannel(): MessageChannel {
  const made = new MessageChannel();
  made.port1.onmessage = () => waiting.shift()?.();
  // In Node an open channel would keep a finished process from ending.
  (made.port1 as { unref?: () => void }).unref?.();
  return made;
}
