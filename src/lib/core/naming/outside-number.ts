import { folderOf, nameOf, stemOf } from '../paths';

/** Words before a number that count parts of something instead of naming a database. */
const COUNTING = new Set([
  'cd',
  'disc',
  'disk',
  'dvd',
  'ep',
  'episode',
  'part',
  'pt',
  'season',
  'side',
  'track',
  'vol',
]);
const MARK = /[[{]\s*(\p{L}{2,16})[-=]([a-z]{0,2}\d{1,12})\s*[\]}]/giu;

/**
 * The number of a file in an outside database, as names carry it in brackets or braces: `{catalogue-1234}` or
 * `[catalogue-ab1234]`. Its own name counts before that of its folder. Null if there is none.
 */
export function outsideNumberIn(path: string): string | null {
  for (const name of [stemOf(path), nameOf(folderOf(path))])
    for (const [, database = '', number = ''] of name.matchAll(MARK))
      if (!COUNTING.has(database.toLowerCase())) return `${database.toLowerCase()}-${number}`;
  return null;
}
