/** Length as a clock shows it: 4:18, 7:41:20. */
export function clock(seconds: number | null): string {
  if (seconds === null) return 'no length';
  const whole = Math.round(seconds);
  const two = (value: number) => String(value).padStart(2, '0');
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor((whole % 3600) / 60);
  return hours > 0 ? `${hours}:${two(minutes)}:${two(whole % 60)}` : `${minutes}:${two(whole % 60)}`;
}

/** Bytes in the decimal units that disks are sold in. */
export function bytes(count: number): string {
  if (count < 1000) return `${count} B`;
  const units = ['kB', 'MB', 'GB', 'TB'];
  const power = Math.min(units.length, Math.floor(Math.log10(count) / 3));
  const value = count / 1000 ** power;
  return `${value >= 100 ? Math.round(value) : value.toFixed(1).replace(/\.0$/, '')} ${units[power - 1]}`;
}

/** `1 song`, `2 songs`. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
}

/** Time left as people say it. */
export function timeLeft(seconds: number | null): string {
  if (seconds === null) return '';
  if (seconds < 60) return `${Math.max(1, Math.round(seconds))} s left`;
  return `${Math.round(seconds / 60)} min left`;
}
