import { lengthIn, type NameRules } from '../../naming';
import { nameOf, withoutExtension } from '../../paths';
import type { Rulebook } from '../../rulebooks';

/** A path or name that exceeds a limit of the player's disk. Lengths are in the disk's own unit. */
export interface TooLong {
  readonly code: 'nameTooLong' | 'pathTooLong' | 'endingTooLong';
  readonly length: number;
  readonly unit: NameRules['unit'];
  readonly limit: number;
}

/** Null if it fits. */
export function tooLong(path: string, { disk }: Rulebook): TooLong | null {
  const { unit, maxName, maxPath } = disk;
  const maxStem = disk.maxStem ?? maxName;
  const maxEnding = disk.maxEnding ?? maxName;
  // Most names are far from any limit and need not be measured letter by letter.
  const most = Math.min(maxName, maxPath, maxStem, maxEnding);
  if (unit === 'utf16' ? path.length <= most : path.length * 3 <= most) return null;
  const passes = (code: TooLong['code'], text: string, limit: number): TooLong | null => {
    const length = lengthIn(text, unit);
    return length > limit ? { code, length, limit, unit } : null;
  };
  const name = nameOf(path);
  const stem = withoutExtension(name);
  const folders = path.split('/').slice(0, -1);
  for (const part of folders) {
    const found = passes('nameTooLong', part, Math.min(maxName, maxStem));
    if (found) return found;
  }
  return (
    passes('nameTooLong', name, maxName) ??
    passes('nameTooLong', stem, maxStem) ??
    passes('endingTooLong', name.slice(stem.length + 1), maxEnding) ??
    passes('pathTooLong', path, maxPath)
  );
}
