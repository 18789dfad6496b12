import type { ListDrift } from '../lists/list-drift';
import type { PlayerList } from '../../lists';
import type { TooLong } from '../names/too-long';
import type { Obstacle } from '../steps/world';
import { choiceOf, type Drift } from '../there/drift';
import type { PlacedFile } from '../there/files';
import type { FindingCode } from './finding';
import type { Mend, Remark } from './remark';

type Named = Pick<PlayerList, 'id' | 'name'>;

/** Each list has findings of its own, because a remedy for one does not apply to another. */
const about = (
  { id, name }: Named,
  code: FindingCode,
  place: string,
  mend: Mend | null,
  words: Remark['words'] = {},
): Remark => ({
  finding: `${code} ${id}`,
  code,
  severity: code === 'listAway' ? 'note' : 'warns',
  item: null,
  order: -1,
  places: [place],
  words: { list: name, ...words },
  mend,
});

const decide = (drift: Drift): Mend => ({ type: 'decide', file: choiceOf(drift) });

/** It was changed on the player and awaits a decision. */
export const listChanged = (list: Named, drift: Drift, { open, sides }: ListDrift): Remark =>
  about(list, 'listChanged', drift.file?.path ?? '', decide(drift), {
    why: open ?? '',
    conflicts: String(sides.filter(({ isConflict }) => isConflict).length),
  });

/** It was removed on the player, and was changed here or awaits a decision. */
export const listRemoved = (list: Named, drift: Drift): Remark =>
  about(list, 'listRemoved', drift.placed?.path ?? '', decide(drift));

/** It was removed on the player by agreement. */
export const listAway = (list: Named, { path }: PlacedFile): Remark =>
  about(list, 'listAway', path, { type: 'decide', file: { path, was: null }, side: 'here' });

export const listTooLong = (list: Named, path: string, { code, length, limit, unit }: TooLong): Remark =>
  about(list, 'listTooLong', path, null, { what: code, length: String(length), limit: String(limit), unit });

/** A file that is not ours occupies the path of the list. */
export function listOccupied(list: Named, path: string, obstacle: Obstacle): Remark {
  if (obstacle.type !== 'other') return about(list, 'listOccupied', path, null);
  const { path: at, size, digest } = obstacle.file;
  return about(list, 'listOccupied', at, { type: 'replace', file: { path: at, was: { size, digest } } });
}
