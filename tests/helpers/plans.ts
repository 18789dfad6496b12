import type { Item } from '../../src/lib/core/items';
import { NO_CHOICES, planRun, toPlanItem, type Plan } from '../../src/lib/core/plan';
import { outgoingOf } from '../../src/lib/formats';
import { RULEBOOKS } from '../../src/lib/rulebooks';

export type PlayerName = keyof typeof RULEBOOKS;

/** What an empty player of one of the rulebooks would get of these items. */
export const planFor = (player: PlayerName, items: readonly Item[]): Plan =>
  planRun({
    items: items.map((item) => toPlanItem(item, outgoingOf)),
    rulebook: RULEBOOKS[player],
    there: [],
    placed: [],
    choices: NO_CHOICES,
    policy: 'ask',
    token: 't',
  });
