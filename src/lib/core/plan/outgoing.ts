import { extensionOf, folderOf, nameOf, stemOf, withoutExtension } from '../paths';
import {
  lengthIn,
  pathKey,
  patternValues,
  requirePattern,
  safeName,
  safeValue,
  shorten,
  writePattern,
  type Pattern,
} from '../naming';
import { findSection, missingAsks, type Rulebook, type Section } from '../rulebooks';
import type { Report } from './report';
import type { PlanItem } from './plan-item';
import type { PlayerChoices } from './step';

/** An item with the path that it gets on the player. */
export interface Outgoing {
  readonly item: PlanItem;
  readonly section: Section;
  readonly path: string;
  /** Unsafe letters were mended by rule, so the name differs from its fields. */
  readonly mended: boolean;
}

/** Names items for one rulebook. Patterns are parsed once, and folder names of albums are made safe once. */
export class Namer {
  private readonly patterns = new Map<Section, Pattern>();
  private readonly safe = new Map<string, string>();

  constructor(private readonly rulebook: Rulebook) {}

  /** The path below the player's root, extension included. */
  path(item: PlanItem, section: Section, short: boolean): { path: string; mended: boolean } {
    const { names } = this.rulebook;
    let mended = false;
    const { parts } = writePattern(
      this.pattern(section),
      patternValues(item.fields, item.kind, stemOf(item.path)),
      {
        numberWidth: names.numberWidth,
        safeValue: (text) => {
          const safe = this.value(text);
          if (safe !== text) mended = true;
          return safe;
        },
      },
    );
    const extension = `.${extensionOf(item.path) || item.format}`;
    const longest =
      section.sidecar && section.sidecar.extension.length + 1 > extension.length
        ? `.${section.sidecar.extension}`
        : extension;
    const named = parts.map((part, index) => {
      const name = safeName(part, names);
      if (name !== part) mended = true;
      const suffix = index === parts.length - 1 || section.alike ? longest : '';
      if (!short || lengthIn(name + suffix, names.unit) <= names.maxName) return name;
      return shorten(name, names.maxName - lengthIn(suffix, names.unit), names);
    });
    return { path: `${section.root}/${named.join('/')}${extension}`, mended };
  }

  private pattern(section: Section): Pattern {
    const known = this.patterns.get(section);
    if (known) return known;
    const parsed = requirePattern(section.pattern);
    this.patterns.set(section, parsed);
    return parsed;
  }

  private value(text: string): string {
    const known = this.safe.get(text);
    if (known !== undefined) return known;
    const safe = safeValue(text, this.rulebook.names);
    this.safe.set(text, safe);
    return safe;
  }
}

/**
 * Decides which items go out and where. Items that cannot are left out and reported; the rest of the
 * batch goes on. One pass, linear in items.
 * @param fixedFolders folders that stay on the player as they are spelled, by the key of their path
 */
export function nameOutgoing(
  items: readonly PlanItem[],
  rulebook: Rulebook,
  choices: PlayerChoices,
  report: Report,
  fixedFolders: ReadonlyMap<string, string>,
): readonly Outgoing[] {
  const namer = new Namer(rulebook);
  const short = new Set(choices.shorten);
  const leftOut = new Set(choices.leftOut);
  const takenBy = new Map<string, PlanItem>();
  const folders = new Map([...fixedFolders].map(([key, spelled]) => [`\u0000${key}`, spelled] as const));
  const outgoing: Outgoing[] = [];
  for (const item of items) {
    if (leftOut.has(item.id)) continue;
    const section = sectionFor(item, rulebook, report);
    if (!section || !hasWhatBlocks(item, section, report)) continue;
    const named = namer.path(item, section, short.has(item.id));
    const path = oneSpelling(named.path, folders, rulebook);
    if (!fits(item, path, rulebook, report)) continue;
    // The sidecar takes the same stem, so two items alike but for their extension collide too.
    const key = pathKey(section.alike ? withoutExtension(path) : path, rulebook.names);
    const other = takenBy.get(key);
    if (other) {
      report.collision(item, other, path);
      continue;
    }
    takenBy.set(key, item);
    outgoing.push({ item, section, path, mended: named.mended });
  }
  return outgoing;
}

function sectionFor(item: PlanItem, rulebook: Rulebook, report: Report): Section | null {
  if (item.kind === null) {
    report.kindOpen(item);
    return null;
  }
  const section = findSection(rulebook, item.kind);
  if (!section) {
    report.noSection(item, findSection(rulebook, item.nextKind)?.kind ?? null);
    return null;
  }
  if (!section.formats.includes(item.format)) {
    report.formatRefused(item);
    return null;
  }
  return section;
}

function hasWhatBlocks(item: PlanItem, section: Section, report: Report): boolean {
  let passes = true;
  for (const { field, severity } of missingAsks(section, item.fields)) {
    report.missingField(item, field, severity);
    if (severity === 'blocks') passes = false;
  }
  return passes;
}

function fits(item: PlanItem, path: string, { names }: Rulebook, report: Report): boolean {
  if (
    names.unit === 'utf16'
      ? path.length <= Math.min(names.maxName, names.maxPath)
      : path.length * 3 <= names.maxName
  )
    return true;
  const tooLong = path.split('/').find((part) => lengthIn(part, names.unit) > names.maxName);
  if (tooLong !== undefined) report.nameTooLong(item, path, lengthIn(tooLong, names.unit), names.maxName);
  else if (lengthIn(path, names.unit) > names.maxPath)
    report.pathTooLong(item, path, lengthIn(path, names.unit), names.maxPath);
  else return true;
  return false;
}

/** Folders that differ only in letter case are one folder on such a target: the first spelling stands. */
function oneSpelling(path: string, folders: Map<string, string>, { names }: Rulebook): string {
  if (names.caseSensitive) return path;
  const folder = folderOf(path);
  const known = folders.get(folder);
  if (known !== undefined) return known === folder ? path : `${known}/${nameOf(path)}`;
  let spelled = '';
  for (const part of folder.split('/')) {
    const wanted = spelled === '' ? part : `${spelled}/${part}`;
    const key = `\u0000${pathKey(wanted, names)}`;
    spelled = folders.get(key) ?? wanted;
    folders.set(key, spelled);
  }
  folders.set(folder, spelled);
  return `${spelled}/${nameOf(path)}`;
}
