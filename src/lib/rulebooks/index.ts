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
