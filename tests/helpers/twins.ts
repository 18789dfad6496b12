import type { Item, Stream } from '../../src/lib/core/items';
import type { Rulebook } from '../../src/lib/core/rulebooks';
import {
  bytesMade,
  codecFacts,
  fileOf,
  isVideo,
  recipeForPlayer,
  recipeKey,
  type SoundRecipe,
  type Twin,
  type TwinId,
  type TwinRecipe,
} from '../../src/lib/core/twins';
import { RULEBOOKS } from '../../src/lib/rulebooks';

/** A twin of an item as one that was made by a recipe is noted; nothing of it is encoded. */
export function twinBy(item: Item, recipe: TwinRecipe): Twin {
  const kept = item.facts.streams.filter(({ type }) => type !== 'subtitle');
  const tracks = item.file.tracks?.filter(({ type }) => type !== 'subtitle');
  return {
    id: `${item.id} ${recipeKey(recipe)}` as TwinId,
    item: item.id,
    recipe,
    from: { size: item.size, modified: item.modified },
    format: fileOf(recipe).format,
    size: bytesMade(recipe, { ...item, ...item.facts }),
    facts: {
      durationSeconds: item.facts.durationSeconds ?? 0,
      streams: isVideo(recipe) ? kept : [soundStream(recipe)],
      tagFormats: [],
    },
    // A converter gives them numbers of its own, and nothing else.
    ...(isVideo(recipe) &&
      tracks && {
        tracks: tracks.map(({ type }, index) => ({ id: index + 1, type, language: null, name: '' })),
      }),
    madeAt: 1,
  };
}

const soundStream = ({ codec, channels, sampleRate }: SoundRecipe): Stream => ({
  type: 'sound',
  codec: codecFacts(codec).named,
  channels,
  sampleRate,
  width: null,
  height: null,
});

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
    if (typeof recipe !== 'string') made.set(recipeKey(recipe), twinBy(item, recipe));
  }
  return [...made.values()];
}
