import attic from './attic.json';
import { readRulebook, type Rulebook } from './schema';

export { RULEBOOK_VERSION, countGaps, findSection, missingAsks, readRulebook } from './schema';
export type { Rulebook, Section, SidecarSource } from './schema';

/** The rulebook of Attic, the playback server that ships as a stand-in. */
export const atticRulebook: Rulebook = readRulebook(attic);
