import { codecName, requireField } from '$lib/core/items';
import { KIND_FACTS, type Kind } from '$lib/core/kinds';
import type { ListFileType } from '$lib/core/list-files';
import type { ListRules, Place, Rulebook, Take } from '$lib/core/rulebooks';
import { bytes, clock, counted } from './amounts';

const many = (kinds: readonly Kind[]) => kinds.map((kind) => KIND_FACTS[kind].many).join(', ');

const LIMITS: Readonly<Record<keyof Take['most'], (most: number) => string>> = {
  bytes: (most) => `up to ${bytes(most)}`,
  seconds: (most) => `up to ${clock(most)}`,
  sampleRate: (most) => `up to ${most / 1000} kHz`,
  bits: (most) => `up to ${most} bits a sample`,
  channels: (most) => `up to ${most} channels`,
  width: (most) => `up to ${most} pixels wide`,
  height: (most) => `up to ${most} pixels high`,
};

/** What a player plays, as a sentence. */
export function takeWords(
  { kinds, formats, codecs, most }: Take,
  names: Readonly<Record<Take['formats'][number], string>>,
): string {
  const limits = (Object.keys(LIMITS) as (keyof Take['most'])[]).flatMap((name) => {
    const limit = most[name];
    return limit === null ? [] : [LIMITS[name](limit)];
  });
  const words = [
    `${many(kinds)} as ${formats.map((format) => names[format]).join(', ')}`,
    ...(codecs ? [`with ${codecs.map(codecName).join(' or ')}`] : []),
    ...limits,
  ];
  return words.join(', ');
}

/** Where a player looks for what, and how it reads it. */
export function placeWords({ kinds, folder, pattern, reads, asks }: Place) {
  const from = { tags: 'tags', sidecar: 'sidecars', path: 'file names' }[reads.from];
  const needs = asks.map(({ field }) => requireField(field).label).join(', ');
  return {
    what: many(kinds),
    path: [folder, pattern].filter(Boolean).join('/'),
    how: `identified by ${from}${needs === '' ? '' : `; asks for ${needs}`}`,
  };
}

export const LIST_FILE_NAMES: Readonly<Record<ListFileType, string>> = {
  m3u8: 'M3U8 (UTF-8)',
  m3u: 'M3U',
  xspf: 'XSPF',
  pls: 'PLS',
  text: 'plain text, one path a line',
};

/** How a player reads playlists. */
export function listRuleWords({ folder, pattern, format, paths, root, most }: ListRules): string {
  const how = { relative: 'relative paths', absolute: 'paths', address: 'file addresses' }[paths];
  const limit = most === null ? '' : `, up to ${counted(most, 'entry', 'entries')} each`;
  const below = paths === 'relative' ? '' : ` below ${root}`;
  return `playlists as ${LIST_FILE_NAMES[format]} at ${[folder, pattern].filter(Boolean).join('/')}, with ${how}${below}${limit}`;
}

const ALPHABETS = {
  any: null,
  latin1: 'in Western European letters (ISO 8859-1)',
  ascii: 'in ASCII',
} as const;

/** What a disk takes of names and files, each as a part of a sentence. */
export function diskWords({ disk }: Pick<Rulebook, 'disk'>): readonly string[] {
  const unit = disk.unit === 'bytes' ? 'bytes' : 'characters';
  const limit = (value: number | null, words: (value: number) => string) =>
    value === null ? [] : [words(value)];
  return [
    `names up to ${disk.maxName} and paths up to ${disk.maxPath} ${unit}`,
    ...limit(disk.maxStem, (most) => `names without their endings up to ${most}`),
    ...limit(disk.maxEnding, (most) => `endings up to ${most}`),
    ...(ALPHABETS[disk.alphabet] === null ? [] : [`names only ${ALPHABETS[disk.alphabet]}`]),
    ...(disk.allowed === null ? [] : [`only these characters: ${disk.allowed}`]),
    ...(disk.unsafe === '' ? [] : [`none of ${disk.unsafe}`]),
    disk.caseSensitive ? 'letter case matters' : 'letter case is ignored',
    ...limit(disk.shownLetters, (count) => `shows the first ${counted(count, 'letter')} of a name`),
    ...limit(disk.maxLevels, (most) => `folders up to ${most} deep`),
    ...limit(disk.filesInFolder, (most) => `up to ${counted(most, 'file')} in a folder`),
    ...limit(disk.files, (most) => `up to ${counted(most, 'file')} in all`),
    ...(disk.order === 'written' ? ['played in the order in which files were written'] : []),
  ];
}

/** Tags and what is shown of them, each as a part of a sentence. */
export function tagWords({ tags, texts }: Pick<Rulebook, 'tags' | 'texts'>): readonly string[] {
  const { pixels, bytes: most } = tags.picture;
  const limits = [pixels && `${pixels} pixels`, most && bytes(most)].filter(Boolean).join(' and ');
  return [
    `ID3v2.${tags.id3.join(', 2.')}`,
    ...(tags.encoding === 'latin1' ? ['text in ISO 8859-1 only'] : []),
    ...(limits === '' ? [] : [`pictures up to ${limits}`]),
    ...texts.map(
      ({ field, letters }) => `shows the first ${counted(letters, 'letter')} of ${requireField(field).label}`,
    ),
  ];
}
