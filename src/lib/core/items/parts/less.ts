/** What is said by name, without some of these names; undefined where nothing is left. */
export function without<T extends object>(said: T, names: readonly string[]): T | undefined {
  const left = Object.entries(said).filter(([name]) => !names.includes(name));
  return left.length === 0 ? undefined : (Object.fromEntries(left) as T);
}
