import type { OpenSaid } from '../lists';
import { inLine, joinTitle, linesOf, partTitle, type ListOnFile } from './list-file';

/*
 * Lists of one path in a line. Extended ones say of the next path what `#EXTINF:seconds,Artist - Title` says, and their own
 * name by `#PLAYLIST:`. Other lines that begin with `#` are comments.
 */

export function readM3u(text: string): ListOnFile {
  let name: string | null = null;
  let said: Pick<OpenSaid, 'title' | 'artist' | 'seconds'> | null = null;
  const entries: OpenSaid[] = [];
  for (const line of linesOf(text)) {
    if (line.trim() === '') continue;
    if (!line.startsWith('#')) {
      entries.push({ path: line, ...(said ?? { title: null, artist: null, seconds: null }) });
      said = null;
      continue;
    }
    const [, own] = /^#PLAYLIST:\s*(.*)$/is.exec(line) ?? [];
    if (own) name ??= own;
    // Between length and comma some write attributes, such as `logo="…"`, whose texts may hold commas.
    const [, length = '', title = ''] =
      /^#EXTINF:[ \t]?(-?\d*(?:\.\d+)?)(?:\s[^,"]*(?:"[^"]*"[^,"]*)*)?,(.*)$/is.exec(line) ?? [];
    if (/^#EXTINF:/i.test(line))
      said = { ...partTitle(title), seconds: Number(length) > 0 ? Number(length) : null };
  }
  return { name, entries };
}

/** @param isExtended writes lengths, artists and titles, and the list's name */
export function writeM3u({ name, entries }: ListOnFile, isExtended = true): readonly string[] {
  const head = isExtended ? ['#EXTM3U', ...(name ? [`#PLAYLIST:${inLine(name)}`] : [])] : [];
  return [
    ...head,
    ...entries.flatMap((entry) => {
      // A path that begins as a comment does would be none.
      const path = entry.path.startsWith('#') ? `./${entry.path}` : entry.path;
      const title = joinTitle(entry);
      const isSaid = isExtended && (title !== '' || entry.seconds !== null);
      const seconds = entry.seconds === null ? -1 : Math.round(entry.seconds);
      return isSaid ? [`#EXTINF:${seconds},${title}`, inLine(path)] : [inLine(path)];
    }),
  ];
}
