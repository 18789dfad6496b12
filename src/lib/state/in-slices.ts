/** Milliseconds that steps take of the page at once. */
const AT_ONCE = 10;

/**
 * Goes through steps at once where they are soon done, else in slices that the page does not feel. Answers with what
 * ends it before it is done.
 */
export function inSlices<T>(steps: Generator<void, T>, done: (result: T) => void): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  const goOn = () => {
    const until = performance.now() + AT_ONCE;
    do {
      const step = steps.next();
      if (step.done) return done(step.value);
    } while (performance.now() < until);
    timer = setTimeout(goOn);
  };
  goOn();
  return () => {
    if (timer) clearTimeout(timer);
  };
}
