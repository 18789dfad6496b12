/** Milliseconds after which a page that is not drawn any more is not waited for. */
const LONGEST = 200;
/** Milliseconds that a picture stands before: what else waited for it, such as the next key, has its turn first. */
const REST = 8;

/**
 * Calls once the page has been drawn as it now is; soon where nothing is drawn, as in tests and hidden tabs.
 * @returns takes it back
 */
export function afterPaint(call: () => void): () => void {
  if (typeof requestAnimationFrame === 'undefined' || document.hidden) {
    const timer = setTimeout(call);
    return () => clearTimeout(timer);
  }
  // A tab that is hidden in the meantime is drawn no more.
  let timer = setTimeout(call, LONGEST);
  const frame = requestAnimationFrame(() => {
    clearTimeout(timer);
    timer = setTimeout(call, REST);
  });
  return () => {
    cancelAnimationFrame(frame);
    clearTimeout(timer);
  };
}
