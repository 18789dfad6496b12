import type { Saying } from '../saying';
import { cleanLine, sameTimed, type TimedLine } from '../timed-words';
import { wholePart } from './part';

const NO_LINES: readonly TimedLine[] = [];

/** Timed lyrics as they are shown and written. */
export function timedOf({ file, edits }: Saying): readonly TimedLine[] {
  return edits.timed ?? file.timed ?? NO_LINES;
}

export const TIMED_PART = wholePart('timed', {
  label: 'timed lyrics',
  of: timedOf,
  own: ({ timed }) => timed ?? NO_LINES,
  clean: (lines) => lines.map(cleanLine),
  same: sameTimed,
  key: (lines) => lines,
  unsaid: ({ timed = NO_LINES }, lines) => (sameTimed(lines, timed) ? undefined : lines),
  isSaid: (lines, { timed = NO_LINES }) => sameTimed(lines, timed),
  chosen: () => [],
});
