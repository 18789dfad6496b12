const prefix = Array.from(crypto.getRandomValues(new Uint32Array(3)), (part) => part.toString(36)).join('');
let count = 0;

/** A name that no other thing of any library has: 96 random bits of this page, and a count. */
export function newId(): string {
  return `${prefix}-${(count++).toString(36)}`;
}
