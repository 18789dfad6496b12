import type { Player } from '$lib/core/library';
import { readRulebook, type Rulebook } from '$lib/core/rulebooks';
import attic from './attic.json';
import galley from './galley.json';
import pocket from './pocket.json';

/** Rulebooks that ship with the application, by their ids: data, which nothing in the core knows. */
export const RULEBOOKS: Readonly<Record<'attic' | 'galley' | 'pocket', Rulebook>> = {
  attic: readRulebook(attic),
  galley: readRulebook(galley),
  pocket: readRulebook(pocket),
};

const shipped = (id: string): Rulebook | null =>
  Object.hasOwn(RULEBOOKS, id) ? RULEBOOKS[id as keyof typeof RULEBOOKS] : null;

/** What a player goes by: its own rulebook, else the one that it was made from. */
export const rulebookOf = ({ own, rulebook }: Pick<Player, 'own' | 'rulebook'>): Rulebook =>
  own ?? shipped(rulebook) ?? RULEBOOKS.attic;
