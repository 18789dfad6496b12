import type { ListDrift } from '../lists/list-drift';
import type { PlayerList } from '../../lists';
import type { TooLong } from '../names/too-long';
import type { Obstacle } from '../steps/world';
import { choiceOf, type Drift } from '../there/drift';
import type { PlacedFile } from '../there/files';
import type { FindingCode } from './finding';
import type { Mend, Remark } from './remark';

type Named = Pick<PlayerList, 'id' | 'name'>;

/** Each list has findings of its own: what mends one of them says nothing of another. */
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

/** It was changed on the player, and waits for somebody to say what counts. */
export const listChanged = (list: Named, drift: Drift, { open, sides }: ListDrift): Remark =>
  about(list, 'listChanged', drift.file?.path ?? '', decide(drift), {
    why: open ?? '',
    conflicts: String(sides.filter(({ isConflict }) => isConflict).length),
  });

/** It was removed on the player, and was changed here or waits for somebody to say so. */
export const listRemoved = (list: Named, drift: Drift): Remark =>
  about(list, 'listRemoved', drift.placed?.path ?? '', decide(drift));

/** It was removed there, and both sides agree on that. */
export const listAway = (list: Named, { path }: PlacedFile): Remark =>
  about(list, 'listAway', path, { type: 'decide', file: { path, was: null }, side: 'here' });

export const listTooLong = (list: Named, path: string, { code, length, limit, unit }: TooLong): Remark =>
  about(list, 'listTooLong', path, null, { what: code, length: String(length), limit: String(limit), unit });

/** Something that is not ours stands where its file would go. */
export function listOccupied(list: Named, path: string, obstacle: Obstacle): Remark {
  if (obstacle.type !== 'other') return about(list, 'listOccupied', path, null);
  const { path: at, size, digest } = obstacle.file;
  return about(list, 'listOccupied', at, { type: 'replace', file: { path: at, was: { size, digest } } });
}
