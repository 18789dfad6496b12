import { extensionOf, stemOf, type Facts, type Fields, type NativeTag } from '../items';
import { KINDS, type Certainty, type Evidence, type Guess, type Kind } from './kind';
import { RULES, type KindContext } from './weights';

/** Lead over the runner-up, in points, that each certainty asks for. */
const LEADS: readonly (readonly [Certainty, number])[] = [
  ['sure', 60],
  ['likely', 28],
  ['guess', 8],
];

export interface KindInput {
  readonly path: string;
  readonly facts: Facts;
  readonly fields: Fields;
  readonly native: readonly NativeTag[];
}

/** Guesses the kind of a file from weighted evidence. Always answers; an even race is `open`. */
export function guessKind(input: KindInput, knownArtists: ReadonlySet<string>): Guess {
  const context = toContext(input, knownArtists);
  const held = RULES.flatMap((rule) => {
    const detail = rule.holds(context);
    return detail === null ? [] : [{ rule, detail }];
  });
  const totals = KINDS.map((kind) => ({
    kind,
    points: held.reduce((sum, { rule }) => sum + (rule.weights[kind] ?? 0), 0),
  })).sort((a, b) => b.points - a.points);
  const [best, next] = totals as [Total, Total];
  const lead = best.points - Math.max(0, next.points);
  const certainty = best.points < 20 ? 'open' : (LEADS.find(([, least]) => lead >= least)?.[0] ?? 'open');
  const evidence: Evidence[] = held
    .map(({ rule, detail }) => ({ code: rule.code, detail, points: rule.weights[best.kind] ?? 0 }))
    .filter(({ points }) => points !== 0)
    .sort((a, b) => Math.abs(b.points) - Math.abs(a.points));
  return {
    kind: certainty === 'open' ? null : best.kind,
    certainty,
    points: best.points,
    next: next.kind,
    nextPoints: Math.max(0, next.points),
    evidence,
  };
}

interface Total {
  readonly kind: Kind;
  readonly points: number;
}

function toContext(
  { path, facts, fields, native }: KindInput,
  knownArtists: ReadonlySet<string>,
): KindContext {
  const picture = facts.streams.find((stream) => stream.type === 'picture');
  return {
    path: path.toLowerCase(),
    stem: stemOf(path),
    extension: extensionOf(path),
    moving: picture !== undefined,
    width: picture?.width ?? null,
    height: picture?.height ?? null,
    durationSeconds: facts.durationSeconds,
    chapters: facts.chapters.length,
    title: fields.title,
    artist: fields.artist,
    album: fields.album,
    track: fields.track,
    genre: fields.genre,
    native: new Map(native.map((tag) => [tag.id.toLowerCase(), tag.value])),
    knownArtists,
  };
}
