import type { Kind } from '../kinds';
import { findPlace, refusalOf, type Playable } from './rulebook';
import type { Rulebook } from './schema';

/** The names of the players that take an item as it is. */
export function playsOnBy(
  rulebooks: readonly (readonly [name: string, rulebook: Rulebook])[],
): (file: Playable & { readonly kind: Kind | null }) => readonly string[] {
  return (file) => {
    const { kind } = file;
    if (kind === null) return [];
    return rulebooks.flatMap(([name, rulebook]) =>
      findPlace(rulebook, kind) && refusalOf(rulebook, kind, file) === null ? name : [],
    );
  };
}
