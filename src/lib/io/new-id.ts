/** A name that no other thing of the library has: 96 random bits in letters and digits. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (byte) => byte.toString(36).padStart(2, '0')).join('');
}
