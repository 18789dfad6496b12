/** Calls that wait for their turn, in order. */
const waiting: (() => void)[] = [];
let channel: MessageChannel | null = null;

/**
 * Calls in a task of its own, as soon as the page has had its turn. A timer would make a chain of calls wait four
 * milliseconds before each (HTML, "timer initialisation steps").
 * @returns takes it back
 */
export function soon(call: () => void): () => void {
  let isWanted = true;
  const own = () => {
    if (isWanted) call();
  };
  if (typeof document === 'undefined') setTimeout(own);
  else {
    if (!channel) {
      channel = new MessageChannel();
      channel.port1.onmessage = () => waiting.shift()?.();
    }
    waiting.push(own);
    channel.port2.postMessage(null);
  }
  return () => (isWanted = false);
}
