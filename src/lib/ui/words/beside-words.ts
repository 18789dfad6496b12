import { requireField, type FieldName, type Overlay, type PictureRole, type PutBack } from '$lib/core/items';
import { counted } from './amounts';
import { ROLE_WORDS } from './picture-words';

/** The parts of what a file beside an item says, by name: all of them, or only some. */
export function besideParts(says: Overlay, only: PutBack | null = null): readonly string[] {
  const has = (part: 'chapters' | 'timed' | 'tracks') =>
    says[part] !== undefined && (only === null || only[part]);
  const fields = only ? (only.fields ?? []) : (Object.keys(says.fields ?? {}) as FieldName[]);
  const pictures = only ? (only.pictures ?? []) : (Object.keys(says.pictures ?? {}) as PictureRole[]);
  const languages = (says.tracks ?? []).flatMap(({ language }) => language ?? []);
  return [
    ...fields.map((name) => requireField(name).label),
    ...pictures.map((role) => `${ROLE_WORDS[role]} picture`),
    ...(has('chapters') ? [counted(says.chapters?.length ?? 0, 'chapter')] : []),
    ...(has('timed') ? [counted(says.timed?.length ?? 0, 'timed line')] : []),
    ...(has('tracks') ? [['subtitles', ...languages].join(' ')] : []),
  ];
}

/** How much of what a file says is in use, and what is not. @param used parts that are in use */
export function besideWords(says: Overlay, used: PutBack, isIgnored: boolean): string {
  const all = besideParts(says);
  if (isIgnored) return `ignored: ${all.join(', ')}`;
  const inUse = besideParts(says, used);
  const rest = all.filter((part) => !inUse.includes(part)).join(', ');
  if (rest === '') return all.join(', ');
  const unused = `the file has its own ${rest}`;
  return inUse.length === 0 ? `not used: ${unused}` : `${inUse.join(', ')}; ${unused}`;
}
