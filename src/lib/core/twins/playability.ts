import { kindOf, type Item } from '../items';
import { findPlace, refusalOf, type Playable, type Refusal, type Rulebook } from '../rulebooks';
import { recipeForPlayer } from './for-player';
import { bytesMade, recipeKey, type TwinRecipe } from './recipe';
import type { Unmakeable } from './unmakeable';
import { isFresh, type Twin } from './twin';

/**
 * Whether an item plays on a player: as it is, by an existing twin, by a twin that has to be made (or made again
 * because the file changed), or not at all. An item of a kind without a place on the player is `absent`.
 */
export type Playability =
  | { readonly type: 'absent' | 'plays' }
  | {
      readonly type: 'ready' | 'missing' | 'stale';
      readonly refusal: Refusal;
      readonly recipe: TwinRecipe;
    }
  | { readonly type: 'cannot'; readonly refusal: Refusal; readonly why: Unmakeable };

const ABSENT: Playability = { type: 'absent' };
const PLAYS: Playability = { type: 'plays' };

/** How an item plays on a player with a rulebook. @param twins all of its twins */
export function playabilityOf(item: Item, twins: readonly Twin[], rulebook: Rulebook): Playability {
  const kind = kindOf(item);
  if (kind === null || !findPlace(rulebook, kind)) return ABSENT;
  const file = playableOf(item);
  const refusal = refusalOf(rulebook, kind, file);
  if (refusal === null) return PLAYS;
  const recipe = recipeForPlayer(rulebook, kind, file);
  if (typeof recipe === 'string') return { type: 'cannot', refusal, why: recipe };
  const key = recipeKey(recipe);
  const own = twins.filter((twin) => recipeKey(twin.recipe) === key);
  const type = own.some((twin) => isFresh(twin, item)) ? 'ready' : own.length > 0 ? 'stale' : 'missing';
  return { type, refusal, recipe };
}

/** The properties of an item's file that matter to a player. */
export function playableOf({
  format,
  size,
  facts,
}: Item): Playable & { readonly soundBytes: number | undefined } {
  const { durationSeconds, streams, soundBytes } = facts;
  return { format, size, durationSeconds, streams, soundBytes };
}

/** One twin to be made. */
export interface WantedTwin {
  readonly item: Item;
  readonly recipe: TwinRecipe;
}

/** What has to be made of some items, with totals. */
export interface ToMake {
  readonly wanted: readonly WantedTwin[];
  /** Seconds to convert. */
  readonly seconds: number;
  /** Bytes of what is made, about. */
  readonly bytes: number;
}

/** What is wanted, each once: two players that ask for the same share it. */
export function toMakeOf(wanted: Iterable<WantedTwin>): ToMake {
  const once = new Map<string, WantedTwin>();
  for (const one of wanted) once.set(`${one.item.id} ${recipeKey(one.recipe)}`, one);
  let seconds = 0;
  let bytes = 0;
  for (const { item, recipe } of once.values()) {
    seconds += item.facts.durationSeconds ?? 0;
    bytes += bytesMade(recipe, playableOf(item));
  }
  return { wanted: [...once.values()], seconds, bytes };
}

/** Items by how they play on one player. */
export interface PlayabilityCounts {
  readonly plays: number;
  readonly ready: number;
  readonly missing: number;
  readonly stale: number;
  readonly cannot: number;
  /** Why items cannot be made playable, and how many. */
  readonly why: ReadonlyMap<Unmakeable, number>;
  /** What has to be made, or made again. */
  readonly wanted: readonly WantedTwin[];
}

/** How items play together. @param all how each of them plays, in their order */
export function countPlayability(items: readonly Item[], all: readonly Playability[]): PlayabilityCounts {
  const counts = { absent: 0, plays: 0, ready: 0, missing: 0, stale: 0, cannot: 0 };
  const why = new Map<Unmakeable, number>();
  const wanted: WantedTwin[] = [];
  items.forEach((item, index) => {
    const own = all[index]!;
    counts[own.type]++;
    if (own.type === 'cannot') why.set(own.why, (why.get(own.why) ?? 0) + 1);
    if (own.type === 'missing' || own.type === 'stale') wanted.push({ item, recipe: own.recipe });
  });
  return { ...counts, why, wanted };
}
