import { afterPaint } from './after-paint';
import { soon } from './soon';

/** Milliseconds per slice. */
const AT_ONCE = 10;

/**
 * Runs steps at once if they are short, else in slices.
 * @param begins `later` for work that is known to be long: the page is drawn first
 * @returns stops it
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
      // Drawing the result is not part of the last slice.
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
