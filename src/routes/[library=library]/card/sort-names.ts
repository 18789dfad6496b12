import type { FieldName } from '$lib/core/items';
import { withoutArticle } from '$lib/core/browse';

/** The field that each sort name is of. */
export const SORTED: Readonly<Partial<Record<FieldName, FieldName>>> = {
  titleSort: 'title',
  artistSort: 'artist',
  albumSort: 'album',
  albumArtistSort: 'albumArtist',
};

/** Words that a band or a choir has in its name, and a person hardly ever: such a name is not turned round. */
const OF_MANY =
  /\b(and|&|of|the|band|choir|trio|quartet|quintet|ensemble|orchestra|company|collective|daughters|sons)\b/i;

/** A name as it is looked for in a list: its article behind it, a person's last name first. */
export function sortName(of: FieldName, name: string): string {
  const bare = withoutArticle(name);
  if (bare !== name) return `${bare}, ${name.slice(0, name.length - bare.length).trim()}`;
  const isMaker = of === 'artist' || of === 'albumArtist';
  const words = name.split(' ');
  if (!isMaker || words.length !== 2 || OF_MANY.test(name)) return name;
  return `${words[1]}, ${words[0]}`;
}
