/** A time as it is typed and shown to the millisecond: `4:18.250`, `1:02:03`. */
export function timeText(seconds: number, digits = 3): string {
  const all = Math.round(seconds * 10 ** digits);
  const part = (value: number, width: number) => String(Math.floor(value)).padStart(width, '0');
  const unit = 10 ** digits;
  const hours = Math.floor(all / (3600 * unit));
  const minutes = Math.floor(all / (60 * unit)) % 60;
  const rest = `${part((all / unit) % 60, 2)}${digits > 0 ? `.${part(all % unit, digits)}` : ''}`;
  return hours > 0 ? `${hours}:${part(minutes, 2)}:${rest}` : `${minutes}:${rest}`;
}

/** Seconds of a time as people and files write it: `75`, `1:15`, `1:02:03.250`, with a comma too; null where it is none. */
export function secondsOf(text: string): number | null {
  const parts = /^(?:(?:(\d{1,4}):)?(\d{1,4}):)?(\d{1,6}(?:[.,]\d{1,6})?)$/.exec(text.trim());
  if (!parts) return null;
  const [, hours = '0', minutes = '0', rest = '0'] = parts;
  const seconds = Number(rest.replace(',', '.'));
  if (parts[2] !== undefined && seconds >= 60) return null;
  return toMilliseconds(Number(hours) * 3600 + Number(minutes) * 60 + seconds);
}

/** Seconds to the millisecond, as files tell times. */
export const toMilliseconds = (seconds: number): number => Math.round(seconds * 1000) / 1000;
