import { folderOf, nameOf, stemOf, withoutExtension } from '../paths';
import type { Kind } from '../kinds';
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
import { findPlace, missingAsks, refusalOf, sidecarFor, type Place, type Rulebook } from '../rulebooks';
import type { Report } from './report';
import type { PlanItem } from './plan-item';
import type { PlayerChoices } from './step';

/** An item with the path that it gets on the player. */
export interface Outgoing {
  readonly item: PlanItem;
  readonly kind: Kind;
  readonly place: Place;
  readonly path: string;
  /** Unsafe letters were mended by rule, so the name differs from its fields. */
  readonly mended: boolean;
}

/** Names items for one rulebook. Patterns are parsed once, and folder names of albums are made safe once. */
export class Namer {
  private readonly patterns = new Map<Place, Pattern>();
  private readonly safe = new Map<string, string>();

  constructor(private readonly rulebook: Rulebook) {}

  /** The path below the player's root, extension included. */
  path(item: PlanItem, kind: Kind, place: Place, short: boolean): { path: string; mended: boolean } {
    const names = this.rulebook.disk;
    let mended = false;
    const { parts } = writePattern(
      this.pattern(place),
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
    const extension = `.${item.recipe.extension}`;
    const beside = sidecarFor(this.rulebook, kind)?.extension ?? '';
    const longest = beside.length + 1 > extension.length ? `.${beside}` : extension;
    const named = parts.map((part, index) => {
      const name = safeName(part, names);
      if (name !== part) mended = true;
      const suffix = index === parts.length - 1 || place.alike ? longest : '';
      if (!short || lengthIn(name + suffix, names.unit) <= names.maxName) return name;
      return shorten(name, names.maxName - lengthIn(suffix, names.unit), names);
    });
    return { path: [place.folder, ...named].filter(Boolean).join('/') + extension, mended };
  }

  private pattern(place: Place): Pattern {
    const known = this.patterns.get(place);
    if (known) return known;
    const parsed = requirePattern(place.pattern);
    this.patterns.set(place, parsed);
    return parsed;
  }

  private value(text: string): string {
    const known = this.safe.get(text);
    if (known !== undefined) return known;
    const safe = safeValue(text, this.rulebook.disk);
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
    const found = placeFor(item, rulebook, report);
    if (!found || !hasWhatBlocks(item, found.place, report)) continue;
    const { kind, place } = found;
    const named = namer.path(item, kind, place, short.has(item.id));
    const path = oneSpelling(named.path, folders, rulebook);
    if (!fits(item, path, rulebook, report)) continue;
    // The sidecar takes the same stem, so two items alike but for their extension collide too.
    const key = pathKey(place.alike ? withoutExtension(path) : path, rulebook.disk);
    const other = takenBy.get(key);
    if (other) {
      report.collision(item, other, path);
      continue;
    }
    takenBy.set(key, item);
    outgoing.push({ item, kind, place, path, mended: named.mended });
  }
  return outgoing;
}

function placeFor(
  item: PlanItem,
  rulebook: Rulebook,
  report: Report,
): { readonly kind: Kind; readonly place: Place } | null {
  const { kind } = item;
  if (kind === null) {
    report.kindOpen(item);
    return null;
  }
  const place = findPlace(rulebook, kind);
  if (!place) {
    report.noSection(item, findPlace(rulebook, item.nextKind) ? item.nextKind : null);
    return null;
  }
  const refusal = refusalOf(rulebook, kind, item);
  const tooLarge = rulebook.disk.largestFile !== null && item.size > rulebook.disk.largestFile;
  if (refusal !== null || tooLarge) {
    report.formatRefused(item, refusal ?? 'bytes');
    return null;
  }
  return { kind, place };
}

function hasWhatBlocks(item: PlanItem, place: Place, report: Report): boolean {
  let passes = true;
  for (const { field, severity } of missingAsks(place, item.fields)) {
    report.missingField(item, field, severity);
    if (severity === 'blocks') passes = false;
  }
  return passes;
}

function fits(item: PlanItem, path: string, { disk: names }: Rulebook, report: Report): boolean {
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
function oneSpelling(path: string, folders: Map<string, string>, { disk: names }: Rulebook): string {
  if (names.caseSensitive) return path;
  const folder = folderOf(path);
  if (folder === '') return path;
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
