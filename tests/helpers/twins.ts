import type { Item } from '../../src/lib/core/items';
import type { Rulebook } from '../../src/lib/core/rulebooks';
import {
  bytesMade,
  codecFacts,
  isVideo,
  recipeForPlayer,
  type SoundRecipe,
  type Twin,
  type TwinId,
} from '../../src/lib/core/twins';
import { RULEBOOKS } from '../../src/lib/rulebooks';

/** A twin of an item as one that was made by a recipe is noted; nothing of it is encoded. */
export function twinBy(item: Item, recipe: SoundRecipe): Twin {
  const { format, named } = codecFacts(recipe.codec);
  const { sampleRate, channels } = recipe;
  const seconds = item.facts.durationSeconds ?? 0;
  return {
    id: `${item.id} ${recipe.codec}` as TwinId,
    item: item.id,
    recipe,
    from: { size: item.size, modified: item.modified },
    format,
    size: bytesMade(recipe, { ...item, ...item.facts }),
    facts: {
      durationSeconds: seconds,
      streams: [{ type: 'sound', codec: named, channels, sampleRate, width: null, height: null }],
      tagFormats: [],
    },
    madeAt: 1,
  };
}

/** Twins of an item for all players that would need one. */
export function twinsFor(
  item: Item,
  rulebooks: readonly Rulebook[] = Object.values(RULEBOOKS),
): readonly Twin[] {
  const kind = item.settled;
  if (!kind) return [];
  const made = new Map<string, Twin>();
  for (const rulebook of rulebooks) {
    const { format, size, facts } = item;
    const recipe = recipeForPlayer(rulebook, kind, { ...facts, format, size });
    if (typeof recipe !== 'string' && !isVideo(recipe)) made.set(recipe.codec, twinBy(item, recipe));
  }
  return [...made.values()];
}
