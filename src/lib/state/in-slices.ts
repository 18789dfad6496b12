import { afterPaint } from './after-paint';
import { soon } from './soon';

/** Milliseconds that steps take of the page at once. */
const AT_ONCE = 10;

/**
 * Goes through steps at once where they are soon done, else in slices that the page does not feel.
 * @param begins later for what is known to be long: what the page shows already is drawn before
 * @returns ends it before it is done
 */
export function inSlices<T>(
  steps: Generator<void, T>,
  done: (result: T) => void,
  begins: 'now' | 'later' = 'now',
): () => void {
  let stop = () => {};
  const next = (call: () => void) => (stop = soon(call));
  const goOn = (isFirst: boolean) => {
    const until = performance.now() + AT_ONCE;
    do {
      const step = steps.next();
      if (!step.done) continue;
      // What is drawn at the end is no part of the last slice.
      if (isFirst) done(step.value);
      else next(() => done(step.value));
      return;
    } while (performance.now() < until);
    next(() => goOn(false));
  };
  if (begins === 'later') stop = afterPaint(() => goOn(false));
  else goOn(true);
  return () => stop();
}
