import type { Content, Facts, NativeTag } from '../items';
import { extensionOf, stemOf } from '../paths';
import { KINDS, type Certainty, type Evidence, type Guess, type Kind, type Origin } from '../kinds';
import { RULES, type KindContext, type Rule, type Weights } from './weights';

/** Lead over the runner-up, in points, that each certainty asks for. */
const LEADS: readonly (readonly [Certainty, number])[] = [
  ['sure', 60],
  ['likely', 28],
  ['guess', 8],
];

export interface KindInput {
  readonly path: string;
  readonly facts: Facts;
  readonly file: Content;
  readonly native: readonly NativeTag[];
}

/** What is known about the surroundings of a file. */
export interface Surroundings {
  /** Artists of songs in the library, as `artistKey` writes them. */
  readonly knownArtists: ReadonlySet<string>;
  readonly neighbours: Kind | null;
  readonly correction: Kind | null;
  readonly folderRule: Kind | null;
  readonly origin: Origin;
  readonly speech: number | null;
}

export const NO_SURROUNDINGS: Surroundings = {
  knownArtists: new Set(),
  neighbours: null,
  correction: null,
  folderRule: null,
  origin: 'folder',
  speech: null,
};

/** Guesses the kind of a file from weighted evidence. Always answers; an even race is `open`. */
export function guessKind(input: KindInput, around: Surroundings = NO_SURROUNDINGS): Guess {
  const context = toContext(input, around);
  const held = RULES.flatMap((rule) => {
    const detail = rule.holds(context);
    return detail === null ? [] : [{ rule, detail, weights: weightsOf(rule, detail) }];
  });
  const totals = KINDS.map((kind) => ({
    kind,
    points: held.reduce((sum, { weights }) => sum + (weights[kind] ?? 0), 0),
  })).sort((a, b) => b.points - a.points);
  const [best, next] = totals as [Total, Total];
  const lead = best.points - Math.max(0, next.points);
  const certainty = best.points < 20 ? 'open' : (LEADS.find(([, least]) => lead >= least)?.[0] ?? 'open');
  const evidence: Evidence[] = held
    .map(({ rule, detail, weights }) => ({ code: rule.code, detail, points: weights[best.kind] ?? 0 }))
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

const weightsOf = ({ weights }: Rule, detail: string): Weights =>
  typeof weights === 'function' ? weights(detail) : weights;

interface Total {
  readonly kind: Kind;
  readonly points: number;
}

function toContext({ path, facts, file, native }: KindInput, around: Surroundings): KindContext {
  const { fields, chapters } = file;
  const picture = facts.streams.find((stream) => stream.type === 'picture');
  return {
    path: path.toLowerCase(),
    stem: stemOf(path),
    extension: extensionOf(path),
    moving: picture !== undefined,
    width: picture?.width ?? null,
    height: picture?.height ?? null,
    durationSeconds: facts.durationSeconds,
    chapters: chapters.length,
    title: fields.title,
    artists: fields.artist ?? [],
    album: fields.album,
    track: fields.track,
    genre: fields.genre?.join(' ') ?? null,
    native: new Map(native.map((tag) => [tag.id.toLowerCase(), tag.value])),
    ...around,
  };
}
