/** Milliseconds that steps take of the page at once. */
const AT_ONCE = 10;

/**
 * Goes through steps at once where they are soon done, else in slices that the page does not feel. Answers with what
 * ends it before it is done.
 */
export function inSlices<T>(steps: Generator<void, T>, done: (result: T) => void): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  const goOn = (isFirst: boolean) => {
    const until = performance.now() + AT_ONCE;
    do {
      const step = steps.next();
      if (!step.done) continue;
      // What is drawn at the end is no part of the last slice.
      if (isFirst) done(step.value);
      else timer = setTimeout(() => done(step.value));
      return;
    } while (performance.now() < until);
    timer = setTimeout(goOn, 0, false);
  };
  goOn(true);
  return () => {
    if (timer) clearTimeout(timer);
  };
}
