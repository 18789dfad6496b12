import { isOf, LIST_NAMES, parsePattern, PATTERN_FIELDS, type PatternNode } from '../naming';
import type { Rulebook } from './schema';

/** Why a rulebook contradicts itself, so that nothing could be named by it; null if it does not. */
export function contradictionIn({ places, beside, disk }: Rulebook): string | null {
  const { alphabet, allowed, maxLevels } = disk;
  if (alphabet !== 'any' && disk.unicode === 'NFD')
    return `disk.alphabet ${alphabet} has no marks of their own, which disk.unicode NFD asks for`;
  const isTaken = (text: string) =>
    isOf(text, alphabet) && (allowed === null || [...text].every((letter) => allowed.includes(letter)));
  const own = [disk.fallback, disk.leadingDot ?? '', ...Object.values(disk.replacements)];
  const wrong = own.find((text) => !isTaken(text));
  if (wrong !== undefined)
    return `disk.allowed and disk.alphabet do not take “${wrong}”, which stands for others`;
  const lists = beside.filter((one) => one.type === 'list');
  for (const { folder, pattern } of [...places, ...lists]) {
    const texts = [...folder.split('/'), ...textsOf(pattern)];
    const strange = texts.find((text) => !isTaken(text));
    if (strange !== undefined)
      return `disk.allowed and disk.alphabet do not take “${strange}”, which folders or names there have`;
    const levels = (folder === '' ? 0 : folder.split('/').length) + levelsOf(pattern);
    if (maxLevels !== null && levels > maxLevels)
      return `${folder}/${pattern} has ${levels} folders one in another, disk.maxLevels takes ${maxLevels}`;
  }
  const names = beside.flatMap((one) => (one.type === 'picture' ? one.name : []));
  const untaken = names.find((name) => !isTaken(name.replaceAll('.', '')));
  return untaken === undefined
    ? null
    : `disk.allowed and disk.alphabet do not take “${untaken}” of a picture`;
}

/** Nodes of a pattern, including those of optional parts; none if it is not a pattern. */
function nodesOf(text: string): readonly PatternNode[] {
  const parsed = parsePattern(text, [...PATTERN_FIELDS, ...LIST_NAMES]);
  if (parsed.type !== 'pattern') return [];
  return parsed.pattern.flatMap((node) => (node.type === 'optional' ? node.nodes : [node]));
}

const textsOf = (pattern: string): readonly string[] =>
  nodesOf(pattern).flatMap((node) => (node.type === 'text' ? node.text : []));

const levelsOf = (pattern: string): number => nodesOf(pattern).filter(({ type }) => type === 'folder').length;
