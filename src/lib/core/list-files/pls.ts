import type { OpenSaid } from '../lists';
import { MOST_ENTRIES, inLine, joinTitle, linesOf, partTitle, tooMany, type ListOnFile } from './list-file';

/* Lists of numbered keys: `File1`, `Title1`, `Length1`. Numbers may have gaps and come in any order. */

export function readPls(text: string): ListOnFile {
  const found = new Map<number, { path?: string; title?: string; seconds?: number }>();
  for (const line of linesOf(text)) {
    const [, key = '', number = '', value = ''] =
      /^\s*(File|Title|Length)(\d{1,7})\s*=(.*)$/is.exec(line) ?? [];
    if (key === '') continue;
    const own = found.get(Number(number)) ?? {};
    found.set(Number(number), own);
    if (found.size > MOST_ENTRIES) throw tooMany();
    if (/^file$/i.test(key)) own.path = value;
    else if (/^title$/i.test(key)) own.title = value;
    else if (Number(value) > 0) own.seconds = Number(value);
  }
  const numbered = [...found].sort(([a], [b]) => a - b);
  const entries = numbered.flatMap(([, { path, title = '', seconds = null }]): OpenSaid[] =>
    path === undefined || path === '' ? [] : [{ path, ...partTitle(title), seconds }],
  );
  return { name: null, entries };
}

export function writePls({ entries }: ListOnFile): readonly string[] {
  return [
    '[playlist]',
    ...entries.flatMap((entry, index) => {
      const title = joinTitle(entry);
      const number = index + 1;
      return [
        `File${number}=${inLine(entry.path)}`,
        ...(title === '' ? [] : [`Title${number}=${title}`]),
        `Length${number}=${entry.seconds === null ? -1 : Math.round(entry.seconds)}`,
      ];
    }),
    `NumberOfEntries=${entries.length}`,
    'Version=2',
  ];
}
