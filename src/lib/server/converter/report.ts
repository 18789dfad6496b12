/** Seconds that the program's own report says are done; null where it says none. */
export function secondsIn(report: string): number | null {
  const told = [...report.matchAll(/^out_time_us=(\d+)/gm)].at(-1)?.[1];
  return told === undefined ? null : Number(told) / 1e6;
}
