/**
 * Sorts a list in place, stably, in steps that each look at about `atOnce` entries: runs of that length first, then
 * merges of them.
 */
export function* sortSteps<T>(list: T[], compare: (a: T, b: T) => number, atOnce: number): Generator<void> {
  for (let start = 0; start < list.length; start += atOnce) {
    const run = list.slice(start, start + atOnce).sort(compare);
    for (let at = 0; at < run.length; at++) list[start + at] = run[at] as T;
    yield;
  }
  let from = list;
  let to: T[] = list.slice();
  for (let width = atOnce; width < list.length; width *= 2) {
    let done = 0;
    for (let start = 0; start < list.length; start += 2 * width) {
      const middle = Math.min(start + width, list.length);
      const end = Math.min(start + 2 * width, list.length);
      let [left, right] = [start, middle];
      for (let at = start; at < end; at++) {
        const takesLeft = left < middle && (right >= end || compare(from[left] as T, from[right] as T) <= 0);
        to[at] = from[takesLeft ? left++ : right++] as T;
        if (++done % atOnce === 0) yield;
      }
    }
    [from, to] = [to, from];
  }
  if (from !== list) for (let at = 0; at < list.length; at++) list[at] = from[at] as T;
}
