import type { Kind } from '../kinds';
import { parsePattern, type Pattern, type PatternField } from './pattern';
import { dropNoise, readName, type NoiseRule } from './read-names';
import type { ReadValues } from './read-pattern';

/** Fields that names of a kind carry. */
const OF_RELEASES: readonly PatternField[] = ['title', 'artist', 'album', 'year', 'track', 'disc', 'genre'];
const SAID: Readonly<Record<Kind, ReadonlySet<PatternField>>> = {
  song: new Set(OF_RELEASES),
  audiobook: new Set(OF_RELEASES),
  musicVideo: new Set<PatternField>(['title', 'artist', 'album', 'year']),
  film: new Set<PatternField>(['title', 'year']),
  episode: new Set<PatternField>(['title', 'show', 'season', 'episode', 'year']),
  podcast: new Set<PatternField>(['title', 'show', 'episode', 'year']),
  ringtone: new Set<PatternField>(['title', 'artist']),
  homeVideo: new Set<PatternField>(['title', 'year']),
  ambience: new Set<PatternField>(['title', 'artist']),
};

/** Patterns that collections are often named by. */
const COMMON: readonly string[] = [
  ':title',
  ':track :title',
  ':track - :title',
  ':track. :title',
  ':disc-:track :title',
  ':artist - :title',
  ':track :artist - :title',
  ':track - :artist - :title',
  ':artist - :album - :track - :title',
  ':artist - :track - :title',
  ':album/:track',
  ':album/:track :title',
  ':album/:track - :title',
  ':artist/:album/:track :title',
  ':artist/:album/:track - :title',
  ':artist/:album{ (:year)}/:track :title',
  ':artist/:album{ (:year)}/{:disc-}:track :title',
  ':artist - :album{ (:year)}/:track :title',
  ':artist - :album{ (:year)}/:track - :title',
  ':artist/:year - :album/:track :title',
  ':album/:track :artist - :title',
  ':artist/:title',
  ':show/:episode :title',
  ':title (:year)',
  ':genre/:artist/:album/:track :title',
];

/** A pattern that Lectorum proposes, with how many of the names it fits. */
export interface ProposedPattern {
  readonly text: string;
  readonly fits: number;
  readonly of: number;
}

/** Names that are tried, enough to find the usual form. */
const MOST_TRIED = 300;
/** Names whose makes are taken apart, and by which many patterns are compared. */
const MOST_COMPARED = 60;
const MOST_PROPOSED = 6;
/** Makes of names, and of folders above them, that are put together. */
const MOST_MAKES = 5;

/**
 * The patterns that match most of the names, best first: common ones, and those derived from the names. A pattern that
 * reads more fields comes first; one whose titles still contain counters or separators comes later.
 * @param paths without extension
 * @param kind of the files; null for several
 */
export function proposePatterns(
  paths: readonly string[],
  rules: ReadonlySet<NoiseRule>,
  kind: Kind | null = null,
): readonly ProposedPattern[] {
  const tried = sampleOf(paths, MOST_TRIED);
  const few = sampleOf(tried, MOST_COMPARED);
  const texts = new Set([...COMMON, ...madeBy(few, rules, kind)]);
  const patterns = [...texts].flatMap((text) => {
    const parsed = parsePattern(text);
    const isOfKind = parsed.type === 'pattern' && saysOnly(parsed.pattern, kind);
    return isOfKind ? [{ text, pattern: parsed.pattern }] : [];
  });
  const best = ranked(patterns, few, rules).slice(0, 2 * MOST_PROPOSED);
  return ranked(best, tried, rules)
    .slice(0, MOST_PROPOSED)
    .map(({ text, fits }) => ({ text, fits, of: tried.length }));
}

interface Tried {
  readonly text: string;
  readonly pattern: Pattern;
}

function ranked(patterns: readonly Tried[], paths: readonly string[], rules: ReadonlySet<NoiseRule>) {
  return patterns
    .map(({ text, pattern }) => {
      let fits = 0;
      let quality = 0;
      for (const path of paths) {
        const reading = readName(pattern, path, rules);
        if (reading.type !== 'read') continue;
        fits++;
        quality += worth(reading.values);
      }
      return { text, pattern, fits, quality };
    })
    .filter(({ fits }) => fits * 3 >= paths.length && fits > 0)
    .sort((a, b) => b.quality - a.quality || a.text.length - b.text.length);
}

function sampleOf(paths: readonly string[], most: number): readonly string[] {
  const step = Math.max(1, Math.floor(paths.length / most));
  return paths.filter((_, index) => index % step === 0).slice(0, most);
}

function saysOnly(pattern: Pattern, kind: Kind | null): boolean {
  if (kind === null) return true;
  return pattern.every((node) => {
    if (node.type === 'field') return node.names.every((name) => SAID[kind].has(name));
    return node.type !== 'optional' || saysOnly(node.nodes, kind);
  });
}

/** Patterns that names are made by: their last level, alone and below the makes of the folders above it. */
function madeBy(
  paths: readonly string[],
  rules: ReadonlySet<NoiseRule>,
  kind: Kind | null,
): readonly string[] {
  const levels = paths.map((path) => path.split('/').map((part) => part.replace(/_+/g, ' ')));
  const clean = (part: string) => dropNoise(part, onlyMarks(rules), true);
  const names = usual(levels.flatMap((parts) => makesOfName(clean(parts.at(-1) ?? ''), kind)));
  const folders = usual(levels.flatMap((parts) => makesOfFolder(clean(parts.at(-2) ?? ''), kind)));
  const above = kind === 'episode' || kind === 'podcast' ? ':show' : ':artist';
  return names.flatMap((name) => [
    name,
    ...folders.flatMap((folder) => {
      const isWhole = folder.includes(above);
      return [`${folder}/${name}`, ...(isWhole ? [] : [`${above}/${folder}/${name}`])];
    }),
  ]);
}

/** Numbers and brackets are part of the form of names; only quality marks hide it. */
const onlyMarks = (rules: ReadonlySet<NoiseRule>): ReadonlySet<NoiseRule> =>
  new Set([...rules].filter((rule) => rule === 'sourceMarks'));

/** The makes that are met most often, each once. */
function usual(makes: readonly string[]): readonly string[] {
  const counts = new Map<string, number>();
  for (const make of makes) counts.set(make, (counts.get(make) ?? 0) + 1);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST_MAKES)
    .map(([make]) => make);
}

/** A number before all else, with what parts it from the rest. */
const LEADING = /^(?:(\d{1,2})-)?(\d{1,3})( - |\. ?| ?\) ?|-| )(?=\S)/;
/** Season and episode, as series are numbered: `S01E02` or `1x02`. */
const CODED = /(^| - |[ .])(?:([Ss])(\d{1,2}) ?([Ee])(\d{1,3})|(\d{1,2})([xX])(\d{2,3}))(?= - |[ .]|$)/;
const YEAR_BEHIND = /^(.+?) ?([([])(\d{4})[)\]]$/;

const OF_MAKERS = [[':title'], [':artist', ':title'], [':artist', ':album', ':title']] as const;
const OF_SHOWS = [[':title'], [':show', ':title']] as const;
const ALONE = [[':title']] as const;

/** What the parts of a name between separators say, by how many there are. */
function partsOf(kind: Kind | null): readonly (readonly string[])[] {
  if (kind === 'film' || kind === 'homeVideo') return ALONE;
  return kind === 'episode' || kind === 'podcast' ? OF_SHOWS : OF_MAKERS;
}

/** The form of a name as patterns: several if its parts can be read in more than one way. */
function makesOfName(name: string, kind: Kind | null): readonly string[] {
  const coded = kind === null || kind === 'episode' ? CODED.exec(name) : null;
  if (coded) return [codedMake(name, coded)];
  const numbered = LEADING.exec(name);
  const number = numbered ? numberMake(numbered, kind) : '';
  const whole = numbered ? name.slice(numbered[0].length) : name;
  const year = YEAR_BEHIND.exec(whole);
  const rest = year?.[1] ?? whole;
  const end = year ? (year[2] === '(' ? ' (:year)' : ' [:year]') : '';
  const parts = rest.split(' - ');
  const makes = [namedParts(parts, kind)];
  // A number can be between other parts.
  const at = parts.findIndex((part) => /^\d{1,3}$/.test(part.trim()));
  if (at >= 0 && !numbered) makes.push(namedParts(parts, kind, at));
  return makes.flatMap((make) => (make === null ? [] : `${number}${make}${end}`));
}

function numberMake([, disc, , separator = ' ']: RegExpExecArray, kind: Kind | null): string {
  const field = kind === 'episode' || kind === 'podcast' ? ':episode' : ':track';
  return `${disc === undefined ? '' : ':disc-'}${field}${separator}`;
}

function namedParts(parts: readonly string[], kind: Kind | null, numberAt = -1): string | null {
  const texts = numberAt < 0 ? parts : parts.filter((_, index) => index !== numberAt);
  const named = partsOf(kind)[texts.length - 1];
  if (!named) return null;
  const all = [...named];
  if (numberAt >= 0)
    all.splice(numberAt, 0, kind === 'episode' || kind === 'podcast' ? ':episode' : ':track');
  return all.join(' - ');
}

/** Text before a season code is the show, text after it the title. */
function codedMake(name: string, found: RegExpExecArray): string {
  const [whole, before = '', s, , e, , , x] = found;
  const code = s === undefined ? `:season\\${x}:episode` : `${s}:season\\${e}:episode`;
  const start = name.slice(0, found.index).trim() === '' ? '' : `:show${before || ' '}`;
  const after = name.slice(found.index + whole.length);
  const separator = /^(?: - |[ .])/.exec(after)?.[0] ?? '';
  return `${start}${code}${after.trim() === '' ? '' : `${separator}:title`}`;
}

/** How a folder is named, as patterns. */
function makesOfFolder(name: string, kind: Kind | null): readonly string[] {
  if (name === '' || kind === 'film') return [];
  const counted = /^(\D*?\S)\s+(\d{1,2})$/.exec(name);
  if (counted && (kind === 'episode' || kind === null)) return [`${counted[1]} :season`];
  if (counted && /^(disc|disk|cd)$/i.test(counted[1] ?? '')) return [`:album{ (:year)}/${counted[1]} :disc`];
  const first = kind === 'episode' || kind === 'podcast' ? ':show' : ':album';
  const behind = YEAR_BEHIND.exec(name);
  const end = behind ? (behind[2] === '(' ? '{ (:year)}' : '{ [:year]}') : '';
  const before = /^\d{4} - /.test(name) ? ':year - ' : '';
  if (before === '' && first === ':album' && name.includes(' - ')) return [`:artist - :album${end}`];
  return [`${before}${first}${end}`];
}

/** The value of a reading: its fields, less those that were probably not split enough or are not names. */
function worth(values: ReadValues): number {
  let points = 2;
  for (const value of Object.values(values)) {
    points += 1;
    if (typeof value === 'number') continue;
    if (/ - |^- |^\d{1,3}[ .-]/.test(value)) points -= 2;
    // One disc of an album, or one season of a show, is no name of anybody.
    if (/^(disc|disk|cd|season|series) ?\d+$/i.test(value)) points -= 3;
    // A series code or a year that was not split off.
    if (/\bS\d{1,2}E\d|\b\d{1,2}x\d{2}\b|[([]\d{4}[)\]]$/i.test(value)) points -= 2;
    // A number in place of a name was read from the wrong part.
    if (/^\d+$/.test(value)) points -= 2;
    // Folders for all sorts of things are not names.
    if (
      /^(drop|downloads?|music|audio|books|audiobooks|podcasts|films|series|videos|new|misc|unsorted|inbox)$/i.test(
        value,
      )
    )
      points -= 3;
  }
  return points;
}
