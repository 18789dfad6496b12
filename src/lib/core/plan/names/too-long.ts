import { lengthIn, type NameRules } from '../../naming';
import type { Rulebook } from '../../rulebooks';

/** A path, or one name of it, that a player's disk does not take. Lengths are in the disk's own unit. */
export interface TooLong {
  readonly code: 'nameTooLong' | 'pathTooLong';
  readonly length: number;
  readonly unit: NameRules['unit'];
  readonly limit: number;
}

/** Null where the disk takes it. */
export function tooLong(path: string, { disk }: Rulebook): TooLong | null {
  const { unit, maxName, maxPath } = disk;
  // Most names are far from any limit: no need to measure them letter by letter.
  if (unit === 'utf16' ? path.length <= Math.min(maxName, maxPath) : path.length * 3 <= maxName) return null;
  for (const part of path.split('/')) {
    const length = lengthIn(part, unit);
    if (length > maxName) return { code: 'nameTooLong', length, limit: maxName, unit };
  }
  const length = lengthIn(path, unit);
  return length > maxPath ? { code: 'pathTooLong', length, limit: maxPath, unit } : null;
}
