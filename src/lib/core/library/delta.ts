/**
 * The difference between a JSON value and an earlier one: a text, number or boolean as it is; for an object, or a list
 * of equal length, the changes by name or position, null for a removed name; anything else as a whole, as the only
 * element of a list.
 */
export type Delta = string | number | boolean | readonly [unknown] | Changes;
interface Changes {
  readonly [name: string]: Delta | null;
}

/** @returns null if both are equal as JSON */
export function deltaOf(value: unknown, before: unknown): Delta | null {
  if (value === before) return null;
  if (!isObject(value) || !isObject(before) || Array.isArray(value) !== Array.isArray(before))
    return whole(value);
  if (Array.isArray(value) && value.length !== (before as unknown as readonly unknown[]).length)
    return whole(value);
  const changes = changesOf(value, before);
  return changes === 'all' ? whole(value) : changes;
}

/** Applies a difference. Unchanged parts are the same objects in both. */
export function withDelta(before: unknown, delta: Delta | null): unknown {
  if (delta === null) return before;
  if (typeof delta !== 'object') return delta;
  if (Array.isArray(delta)) return delta[0];
  const changes = delta as Changes;
  const value: Record<string, unknown> = Array.isArray(before)
    ? ([...before] as never)
    : { ...(before as object) };
  let isLess = false;
  for (const name in changes) {
    const change = changes[name] as Delta | null;
    if (change === null) isLess = true;
    else value[name] = withDelta(value[name], change);
  }
  // The object is made again, because one from which a name was deleted takes several times as much memory.
  return isLess
    ? Object.fromEntries(Object.entries(value).filter(([name]) => changes[name] !== null))
    : value;
}

/** Null if nothing changed; `all` if no part is unchanged or the parts cannot be identified by name. */
function changesOf(
  value: Record<string, unknown>,
  before: Record<string, unknown>,
): Record<string, Delta | null> | null | 'all' {
  let changes: Record<string, Delta | null> | null = null;
  let stays = 0;
  for (const name in value) {
    // Setting it would replace the prototype of the object.
    if (name === '__proto__') return 'all';
    const own = value[name];
    if (own === undefined && !Array.isArray(value)) continue;
    const delta = Object.hasOwn(before, name) ? deltaOf(own, before[name]) : whole(own);
    if (delta === null || (typeof delta === 'object' && !Array.isArray(delta))) stays++;
    if (delta !== null) (changes ??= {})[name] = delta;
  }
  for (const name in before) {
    if (name === '__proto__') return 'all';
    if (before[name] === undefined || (Object.hasOwn(value, name) && value[name] !== undefined)) continue;
    (changes ??= {})[name] = null;
  }
  return changes !== null && stays === 0 ? 'all' : changes;
}

const whole = (value: unknown): Delta =>
  typeof value === 'string' || typeof value === 'boolean' || Number.isFinite(value)
    ? (value as Delta)
    : [value];

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;
