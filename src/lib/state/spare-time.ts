/** Milliseconds per turn in browsers that do not say how much time they have. */
const AT_ONCE = 5;
/** Milliseconds before the first turn. */
const PAUSE = 400;

/**
 * Runs steps while the page is idle.
 * @returns stops it
 */
export function inSpareTime(steps: Iterator<unknown>): () => void {
  let cancel = () => {};
  const goOn = (hasTime: () => boolean) => {
    do if (steps.next().done) return;
    while (hasTime());
    wait();
  };
  const wait = () => {
    if (typeof requestIdleCallback === 'undefined') {
      const timer = setTimeout(() => {
        const until = performance.now() + AT_ONCE;
        goOn(() => performance.now() < until);
      }, 2 * AT_ONCE);
      cancel = () => clearTimeout(timer);
    } else {
      const id = requestIdleCallback((deadline) => goOn(() => deadline.timeRemaining() > 1));
      cancel = () => cancelIdleCallback(id);
    }
  };
  const timer = setTimeout(wait, PAUSE);
  cancel = () => clearTimeout(timer);
  return () => cancel();
}
