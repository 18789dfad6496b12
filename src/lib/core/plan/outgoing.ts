import type { Kind } from '../kinds';
import { lengthIn } from '../naming';
import { nameOf } from '../paths';
import { findPlace, type Rulebook } from '../rulebooks';
import type { ItemPlan, Outgoing } from './item-plan';
import type { PlanMemory } from './memory';
import type { PlanItem } from './plan-item';
import type { Report } from './report';
import type { PlayerChoices } from './step';

/**
 * Decides which items go out and where. Items that cannot are left out and reported; the rest of the
 * batch goes on. One pass, linear in items.
 * @param fixedFolders folders that stay on the player as they are spelled, by the key of their path
 */
export function nameOutgoing(
  items: readonly PlanItem[],
  memory: PlanMemory,
  choices: PlayerChoices,
  report: Report,
  fixedFolders: ReadonlyMap<string, string>,
): readonly Outgoing[] {
  const { rulebook } = memory;
  const short = new Set(choices.shorten);
  const leftOut = new Set(choices.leftOut);
  const takenBy = new Map<string, PlanItem>();
  const folders = new Map([...fixedFolders].map(([key, spelled]) => [`\u0000${key}`, spelled] as const));
  const outgoing: Outgoing[] = [];
  for (const item of items) {
    if (leftOut.has(item.id)) continue;
    const known = memory.of(item);
    const { place } = known;
    const kind = kindAt(known, rulebook, report);
    if (!kind || !place || !hasWhatBlocks(known, report)) continue;
    const named = known.named(kind, place, short.has(item.id));
    const path = oneSpelling(named, folders, memory);
    if (!fits(item, path, rulebook, report)) continue;
    const out = known.at(path, kind, place, named.mended);
    const other = takenBy.get(known.takes);
    if (other) {
      report.collision(item, other, path);
      continue;
    }
    takenBy.set(known.takes, item);
    outgoing.push(out);
  }
  return outgoing;
}

/** The kind as which an item has a place; null, and reported, where it has none. */
function kindAt({ item, place, refusal }: ItemPlan, rulebook: Rulebook, report: Report): Kind | null {
  const { kind } = item;
  if (kind === null) report.kindOpen(item);
  else if (!place) report.noSection(item, findPlace(rulebook, item.nextKind) ? item.nextKind : null);
  else if (refusal !== null) report.formatRefused(item, refusal);
  else return kind;
  return null;
}

function hasWhatBlocks({ item, missing }: ItemPlan, report: Report): boolean {
  let passes = true;
  for (const { field, severity } of missing) {
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
function oneSpelling(
  { path, folder }: { readonly path: string; readonly folder: string },
  folders: Map<string, string>,
  memory: PlanMemory,
): string {
  if (memory.rulebook.disk.caseSensitive || folder === '') return path;
  const known = folders.get(folder);
  if (known !== undefined) return known === folder ? path : `${known}/${nameOf(path)}`;
  let spelled = '';
  for (const part of folder.split('/')) {
    const wanted = spelled === '' ? part : `${spelled}/${part}`;
    const key = `\u0000${memory.key(wanted)}`;
    spelled = folders.get(key) ?? wanted;
    folders.set(key, spelled);
  }
  folders.set(folder, spelled);
  return spelled === folder ? path : `${spelled}/${nameOf(path)}`;
}
