import {
  LIST_FILE_ENDINGS,
  asAddress,
  encodingOf,
  inEncoding,
  pathOut,
  pathsIn,
  readListText,
  writeListText,
  type PathsOut,
} from '../../list-files';
import type { OpenSaid, PlayerList } from '../../lists';
import { LIST_NAMES, requirePattern, safeName, safeValue, writePattern, type NameRules } from '../../naming';
import { folderOf } from '../../paths';
import type { ListRules, Rulebook } from '../../rulebooks';

/**
 * The path of a list's file below the player's root.
 * @param number distinguishes it from lists of the same name, from 2 on
 */
export function listPath(
  { name, group }: PlayerList,
  rules: ListRules,
  disk: Rulebook['disk'],
  number = 1,
): string {
  const pattern = requirePattern(rules.pattern, LIST_NAMES);
  const { parts } = writePattern(
    pattern,
    { list: name, group },
    { numberWidth: disk.numberWidth, safeValue: (text) => safeValue(text, disk) },
  );
  const names = parts.map((part, index) =>
    safeName(index === parts.length - 1 && number > 1 ? `${part} ${number}` : part, disk as NameRules),
  );
  return `${[rules.folder, ...names].filter(Boolean).join('/')}.${LIST_FILE_ENDINGS[rules.format]}`;
}

const waysOf = ({ paths, root }: ListRules, path: string): PathsOut =>
  paths === 'relative' ? { type: paths, at: folderOf(path) } : { type: paths, root };

/** A path on the player as a list at another path names it; null if the list's encoding cannot store it. */
export function namedIn(rules: ListRules, list: string, path: string): string | null {
  const out = pathOut(path, waysOf(rules, list));
  const written = rules.format === 'xspf' && rules.paths === 'relative' ? asAddress(out) : out;
  return inEncoding(written, encodingOf({ type: rules.format, encoding: rules.encoding })) === written
    ? written
    : null;
}

/** The paths below the player's root that a path in a list can mean, the most likely first. */
export const pathsThere = (rules: ListRules, list: string, written: string): readonly string[] =>
  pathsIn(written, waysOf(rules, list));

const LINE_ENDS = { lf: '\n', crlf: '\r\n' } as const;

/** The content of a list's file. */
export const listText = (name: string, entries: readonly OpenSaid[], rules: ListRules): string =>
  writeListText(
    { name, entries },
    { type: rules.format, lineEnd: LINE_ENDS[rules.lineEnd], encoding: rules.encoding },
  );

/** An entry of a list's file, with the paths below the player's root that it can mean. */
export interface EntryThere {
  readonly said: OpenSaid;
  readonly paths: readonly string[];
}

/** The entries of a list's file; null if it cannot be read as a list. An empty file has none. */
export function entriesThere(text: string, path: string, rules: ListRules): readonly EntryThere[] | null {
  try {
    return readListText(text, path).entries.map((said) => ({
      said,
      paths: pathsThere(rules, path, said.path),
    }));
  } catch {
    return isEmptyList(text) ? [] : null;
  }
}

/** An empty list contains at most its header. */
const isEmptyList = (text: string): boolean =>
  text.length < 10_000 && text.split(/\r?\n/).every((line) => line.trim() === '' || line.startsWith('#'));
