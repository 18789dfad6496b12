/** An object without some of its names; undefined if none are left. */
export function without<T extends object>(said: T, names: readonly string[]): T | undefined {
  const left = Object.entries(said).filter(([name]) => !names.includes(name));
  return left.length === 0 ? undefined : (Object.fromEntries(left) as T);
}
