/** Closes a switch over a union: a case that was forgotten does not compile. */
export function assertNever(value: never): never {
  throw new TypeError(`unexpected case: ${JSON.stringify(value)}`);
}
