/** A time as chapter and subtitle files write it: `01:02:03.250`. */
export function longTime(seconds: number): string {
  const all = Math.round(seconds * 1000);
  const part = (value: number, width: number) => String(Math.floor(value)).padStart(width, '0');
  return `${part(all / 3_600_000, 2)}:${part((all / 60_000) % 60, 2)}:${part((all / 1000) % 60, 2)}.${part(all % 1000, 3)}`;
}
