/**
 * How a value of JSON differs from the one before it: a text, a number or a yes-no as it is; what changed within an
 * object, or a list as long as the one before, by name or place, null for a name that is gone; anything else whole, as
 * the only one in a list.
 */
export type Delta = string | number | boolean | readonly [unknown] | Changes;
interface Changes {
  readonly [name: string]: Delta | null;
}

/** @returns null where both are equal as JSON */
export function deltaOf(value: unknown, before: unknown): Delta | null {
  if (value === before) return null;
  if (!isObject(value) || !isObject(before) || Array.isArray(value) !== Array.isArray(before))
    return whole(value);
  if (Array.isArray(value) && value.length !== (before as unknown as readonly unknown[]).length)
    return whole(value);
  const changes = changesOf(value, before);
  return changes === 'all' ? whole(value) : changes;
}

/** The value that differs so from the one before it. What did not change is the same object in both. */
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
  // Made anew without it: an object that a name was deleted from takes several times the room in memory.
  return isLess
    ? Object.fromEntries(Object.entries(value).filter(([name]) => changes[name] !== null))
    : value;
}

/** Null where nothing changed, all where no part of it stayed or its parts cannot be told by their names. */
function changesOf(
  value: Record<string, unknown>,
  before: Record<string, unknown>,
): Record<string, Delta | null> | null | 'all' {
  let changes: Record<string, Delta | null> | null = null;
  let stays = 0;
  for (const name in value) {
    // To set it would be to set what the object inherits from.
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
