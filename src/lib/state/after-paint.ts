/** Milliseconds after which it stops waiting for a page that is no longer drawn. */
const LONGEST = 200;
/** Milliseconds after the paint, so that waiting events such as the next key come first. */
const REST = 8;

/**
 * Calls once the page has been drawn with the current state; soon if nothing is drawn, as in tests and hidden tabs.
 * @returns cancels the call
 */
export function afterPaint(call: () => void): () => void {
  if (typeof requestAnimationFrame === 'undefined' || document.hidden) {
    const timer = setTimeout(call);
    return () => clearTimeout(timer);
  }
  // A tab that is hidden in the meantime is not drawn.
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
