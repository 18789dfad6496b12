/**
 * Has a value that was just read share with the one before it whatever is equal in both. Songs of an album say the same
 * of nearly everything, so that a large library takes half the room in memory.
 * @param value made for nobody else: parts of it are replaced in place
 * @returns `before` itself where all is equal
 */
export function shareWith(value: unknown, before: unknown): unknown {
  if (value === before) return before;
  if (!isObject(value) || !isObject(before) || Array.isArray(value) !== Array.isArray(before)) return value;
  let isSame = true;
  let left = 0;
  for (const _ in before) left++;
  for (const key in value) {
    const [own, other] = [value[key], before[key]];
    const one = shareWith(own, other);
    // A text that is equal is another one in memory all the same. One name of all would not be set but inherited.
    if (key !== '__proto__') value[key] = one;
    if (one !== other) isSame = false;
    left--;
  }
  return isSame && left === 0 ? before : value;
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;
