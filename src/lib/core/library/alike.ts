/**
 * Has a value that was just read share with the one before it whatever is equal in both. Songs of an album say the same
 * of nearly everything, so that a large library takes half the room in memory.
 * @param value made for nobody else: parts of it are replaced in place
 * @returns `before` itself where all is equal
 */
export function shareWith(value: unknown, before: unknown): unknown {
  if (!isObject(value) || !isObject(before)) return value === before ? before : value;
  if (Array.isArray(value)) return Array.isArray(before) ? shareList(value, before) : value;
  if (Array.isArray(before)) return value;
  let isSame = true;
  let count = 0;
  for (const key in value) {
    count++;
    const [own, other] = [value[key], before[key]];
    if (own === other) {
      // A text that is equal is another one in memory all the same. One name of all would not be set but inherited.
      if (typeof own === 'string' && key !== '__proto__') value[key] = other;
    } else if (isObject(own) && isObject(other) && shareWith(own, other) === other) {
      if (key !== '__proto__') value[key] = other;
    } else isSame = false;
  }
  if (!isSame) return value;
  for (const _ in before) count--;
  return count === 0 ? before : value;
}

function shareList(list: unknown[], before: readonly unknown[]): readonly unknown[] {
  let isSame = list.length === before.length;
  for (let at = 0; at < list.length; at++) {
    const one = shareWith(list[at], before[at]);
    if (one === before[at]) list[at] = one;
    else isSame = false;
  }
  return isSame ? before : list;
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;
